package io.bathra.examples.harbour;

import io.bathra.link.Link;
import java.time.LocalDateTime;
import org.jspecify.annotations.Nullable;

/** A vessel under way within the harbour, with or without a pilot. */
public final class Movement {
    private @Nullable Long id;
    private MovementKind kind = MovementKind.SHIFT;
    private LocalDateTime at = LocalDateTime.MIN;
    private final Link<PortCall> call = Link.empty();
    private final Link<Pilot> pilot = Link.empty();

    Movement() {}

    public Movement(MovementKind kind, LocalDateTime at) {
        this.kind = kind;
        this.at = at;
    }

    public @Nullable Long id() {
        return id;
    }

    public MovementKind kind() {
        return kind;
    }

    public LocalDateTime at() {
        return at;
    }

    public Link<PortCall> call() {
        return call;
    }

    public Link<Pilot> pilot() {
        return pilot;
    }
}
