package io.bathra.examples.shards;

import java.util.UUID;

/** A box that has left its port and has not been landed at the other one: the row of an outbox. */
public final class Dispatch {
    private UUID id;
    private String number = "";
    private int kilograms;
    private String destination = "";

    Dispatch() {}

    Dispatch(Box box, String destination) {
        this.number = box.number();
        this.kilograms = box.kilograms();
        this.destination = destination;
    }

    public UUID id() {
        return id;
    }

    public String number() {
        return number;
    }

    public int kilograms() {
        return kilograms;
    }

    public String destination() {
        return destination;
    }
}
