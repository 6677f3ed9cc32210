package io.bathra.examples.harbour;

import io.bathra.link.Link;
import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/** That a pilot may bring vessels to a berth. A pair that says more than that it exists is an entity with two links. */
public final class Licence {
    private @Nullable Long id;
    private LocalDate until = LocalDate.MIN;
    private final Link<Pilot> pilot = Link.empty();
    private final Link<Berth> berth = Link.empty();

    Licence() {}

    public Licence(Pilot pilot, Berth berth, LocalDate until) {
        this.pilot.set(pilot);
        this.berth.set(berth);
        this.until = until;
    }

    public @Nullable Long id() {
        return id;
    }

    /** The last day on which it is valid. */
    public LocalDate until() {
        return until;
    }

    public Link<Pilot> pilot() {
        return pilot;
    }

    public Link<Berth> berth() {
        return berth;
    }
}
