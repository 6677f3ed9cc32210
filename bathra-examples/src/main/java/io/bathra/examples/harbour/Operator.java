package io.bathra.examples.harbour;

import io.bathra.link.Links;
import org.jspecify.annotations.Nullable;

/** A company that runs vessels. */
public final class Operator {
    private @Nullable Long id;
    private String code = "";
    private String name = "";
    private @Nullable String country;
    private final Links<Vessel> vessels = Links.empty();

    Operator() {}

    public Operator(String code, String name) {
        this.code = code;
        this.name = name;
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

    public @Nullable String country() {
        return country;
    }

    public void moveTo(@Nullable String newCountry) {
        country = newCountry;
    }

    public Links<Vessel> vessels() {
        return vessels;
    }

    @Override
    public String toString() {
        return name + " (" + code + ")";
    }
}
