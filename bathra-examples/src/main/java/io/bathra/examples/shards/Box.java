package io.bathra.examples.shards;

import java.time.Instant;
import java.util.UUID;

/** A box in the yard of a port. Its key is drawn by the program that adds it, so no two shards have the same. */
public final class Box {
    private UUID id; // drawn when the box is added
    private String number = "";
    private String port = "";
    private int kilograms;
    private Instant landed = Instant.EPOCH;

    Box() {}

    public Box(String number, String port, int kilograms, Instant landed) {
        this.number = number;
        this.port = port;
        this.kilograms = kilograms;
        this.landed = landed;
    }

    Box(Dispatch dispatch) {
        this(dispatch.number(), dispatch.destination(), dispatch.kilograms(), Instant.now());
    }

    public UUID id() {
        return id;
    }

    public String number() {
        return number;
    }

    public String port() {
        return port;
    }

    public int kilograms() {
        return kilograms;
    }

    public Instant landed() {
        return landed;
    }

    void moveTo(String other) {
        this.port = other;
    }

    @Override
    public String toString() {
        return number + " in " + port + ", " + kilograms + " kg";
    }
}
