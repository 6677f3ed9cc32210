package io.bathra.examples.harbour;

import io.bathra.link.Link;
import io.bathra.link.Links;
import java.math.BigDecimal;
import org.jspecify.annotations.Nullable;

/** A place for a vessel. A berth may lie within another one, as a stretch of a quay does. */
public final class Berth {
    private @Nullable Long id;
    private String code = "";
    private String name = "";
    private @Nullable BigDecimal maxDraughtMetres;
    private final Link<Berth> within = Link.empty();
    private final Links<Berth> stretches = Links.empty();

    Berth() {}

    public Berth(String code, String name, @Nullable BigDecimal maxDraughtMetres) {
        this.code = code;
        this.name = name;
        this.maxDraughtMetres = maxDraughtMetres;
    }

    public @Nullable Long id() {
        return id;
    }

    public String code() {
        return code;
    }

    public String name() {
        return name;
    }

    public @Nullable BigDecimal maxDraughtMetres() {
        return maxDraughtMetres;
    }

    public Link<Berth> within() {
        return within;
    }

    public Links<Berth> stretches() {
        return stretches;
    }

    @Override
    public String toString() {
        return name + " (" + code + ")";
    }
}
