package io.bathra.examples.harbour;

import io.bathra.link.Link;
import io.bathra.link.Links;
import java.math.BigDecimal;
import org.jspecify.annotations.Nullable;

/** A ship. */
public final class Vessel {
    private @Nullable Long id;
    private String imo = "";
    private String name = "";
    private @Nullable String callSign;
    private @Nullable BigDecimal lengthMetres;
    private @Nullable BigDecimal beamMetres;
    private @Nullable BigDecimal draughtMetres;
    private @Nullable Integer built;
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

    public @Nullable BigDecimal lengthMetres() {
        return lengthMetres;
    }

    public @Nullable BigDecimal beamMetres() {
        return beamMetres;
    }

    public @Nullable BigDecimal draughtMetres() {
        return draughtMetres;
    }

    public @Nullable Integer built() {
        return built;
    }

    /** What the register says of the ship. */
    public void register(
            @Nullable String newCallSign,
            @Nullable BigDecimal length,
            @Nullable BigDecimal beam,
            @Nullable BigDecimal draught,
            @Nullable Integer year) {
        callSign = newCallSign;
        lengthMetres = length;
        beamMetres = beam;
        draughtMetres = draught;
        built = year;
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
