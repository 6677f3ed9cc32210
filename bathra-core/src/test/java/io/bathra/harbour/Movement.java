package io.bathra.harbour;

import io.bathra.link.Link;

public final class Movement extends Entry<Long> {
    private String kind;
    private final Link<PortCall> call = Link.empty();

    Movement() {}

    public Movement(String kind) {
        this.kind = kind;
    }

    public String kind() {
        return kind;
    }

    public Link<PortCall> call() {
        return call;
    }
}
