package io.bathra.examples.harbour;

import io.bathra.link.Link;
import org.jspecify.annotations.Nullable;

/** A container that has come through the harbour. There are many of them, so they are stored in bulk. */
public final class Container {
    private @Nullable Long id;
    private String serial = "";
    private ContainerKind kind = ContainerKind.DRY;
    private int lengthFeet;
    private int grossKilos;
    private final Link<Operator> operator = Link.empty();

    Container() {}

    public Container(String serial, ContainerKind kind, int lengthFeet, int grossKilos) {
        this.serial = serial;
        this.kind = kind;
        this.lengthFeet = lengthFeet;
        this.grossKilos = grossKilos;
    }

    public @Nullable Long id() {
        return id;
    }

    /** Four letters and seven digits. */
    public String serial() {
        return serial;
    }

    public ContainerKind kind() {
        return kind;
    }

    public int lengthFeet() {
        return lengthFeet;
    }

    public int grossKilos() {
        return grossKilos;
    }

    public void weigh(int newGrossKilos) {
        grossKilos = newGrossKilos;
    }

    public Link<Operator> operator() {
        return operator;
    }

    @Override
    public String toString() {
        return serial;
    }
}
