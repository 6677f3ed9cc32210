package io.bathra.harbour;

import io.bathra.link.Link;
import io.bathra.link.Links;

/** A berth may lie within another one. */
public final class Berth {
    private int id;
    private String code;
    private final Link<Berth> within = Link.empty();
    private final Links<Berth> parts = Links.empty();

    Berth() {}

    public Berth(String code) {
        this.code = code;
    }

    public int getId() {
        return id;
    }

    public String code() {
        return code;
    }

    public Link<Berth> within() {
        return within;
    }

    public Links<Berth> parts() {
        return parts;
    }
}
