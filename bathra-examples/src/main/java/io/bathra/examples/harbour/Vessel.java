package io.bathra.examples.harbour;

import io.bathra.link.Link;
import io.bathra.link.Links;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A ship. */
public final class Vessel {
    private @Nullable Long id;
    private String imo = "";
    private String name = "";
    private @Nullable String callSign;
    private @Nullable Dimensions dimensions;
    private @Nullable Integer built;
    private final List<Certificate> certificates = new ArrayList<>();
    private final Link<Operator> operator = Link.empty();
    private final Links<PortCall> calls = Links.empty();

    Vessel() {}

    public Vessel(String imo, String name) {
        this.imo = imo;
        this.name = name;
    }

    public @Nullable Long id() {
        return id;
    }

    public String imo() {
        return imo;
    }

    public String name() {
        return name;
    }

    public void rename(String newName) {
        name = newName;
    }

    public @Nullable String callSign() {
        return callSign;
    }

    public @Nullable Dimensions dimensions() {
        return dimensions;
    }

    public @Nullable Integer built() {
        return built;
    }

    /** What the register says of the ship. */
    public void register(@Nullable String newCallSign, @Nullable Dimensions newDimensions, @Nullable Integer year) {
        callSign = newCallSign;
        dimensions = newDimensions;
        built = year;
    }

    public List<Certificate> certificates() {
        return certificates;
    }

    public Link<Operator> operator() {
        return operator;
    }

    public Links<PortCall> calls() {
        return calls;
    }

    @Override
    public String toString() {
        return name + " (" + imo + ")";
    }
}
