package io.bathra.examples.shards;

import java.time.Instant;
import java.util.UUID;

/** A vessel has passed the light. There are too many of them for one server, and old ones are seldom wanted. */
public final class Passage {
    private UUID id;
    private Instant at = Instant.EPOCH;
    private String vessel = "";

    Passage() {}

    public Passage(UUID id, Instant at, String vessel) {
        this.id = id;
        this.at = at;
        this.vessel = vessel;
    }

    public UUID id() {
        return id;
    }

    public Instant at() {
        return at;
    }

    public String vessel() {
        return vessel;
    }

    public void rename(String other) {
        this.vessel = other;
    }
}
