package io.bathra.harbour;

import io.bathra.link.Links;

public final class Operator extends Entry<Long> {
    private String name;
    private final Links<Vessel> vessels = Links.empty();

    Operator() {}

    public Operator(String name) {
        this.name = name;
    }

    public String name() {
        return name;
    }

    public Links<Vessel> vessels() {
        return vessels;
    }
}
