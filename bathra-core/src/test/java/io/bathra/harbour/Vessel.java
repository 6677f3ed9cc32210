package io.bathra.harbour;

import io.bathra.link.Link;
import io.bathra.link.Links;
import java.math.BigDecimal;

public final class Vessel extends Entry<Long> {
    private String imo;
    private String name;
    private BigDecimal lengthMetres;
    private final Link<Operator> operator = Link.empty();
    private final Links<PortCall> calls = Links.empty();

    Vessel() {}

    public Vessel(String imo, String name) {
        this.imo = imo;
        this.name = name;
    }

    public String imo() {
        return imo;
    }

    public void renumber(String newImo) {
        imo = newImo;
    }

    public String name() {
        return name;
    }

    /** An overloaded accessor: a reference to it has to be told from the setter by its type. */
    public Vessel name(String newName) {
        name = newName;
        return this;
    }

    public BigDecimal getLengthMetres() {
        return lengthMetres;
    }

    public void setLengthMetres(BigDecimal metres) {
        lengthMetres = metres;
    }

    public Link<Operator> operator() {
        return operator;
    }

    public Links<PortCall> calls() {
        return calls;
    }
}
