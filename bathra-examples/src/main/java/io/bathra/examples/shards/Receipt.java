package io.bathra.examples.shards;

import java.time.Instant;
import java.util.UUID;

/** Says that a dispatch was landed. It has the key of the dispatch, so there can be no second one. */
public final class Receipt {
    private UUID dispatch;
    private Instant landed = Instant.EPOCH;

    Receipt() {}

    public Receipt(UUID dispatch, Instant landed) {
        this.dispatch = dispatch;
        this.landed = landed;
    }

    public UUID dispatch() {
        return dispatch;
    }

    public Instant landed() {
        return landed;
    }
}
