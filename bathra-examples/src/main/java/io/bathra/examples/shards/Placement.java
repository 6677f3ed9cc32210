package io.bathra.examples.shards;

/** Says on which shard a port is. */
public final class Placement {
    private String port = "";
    private int shard;

    Placement() {}

    Placement(String port, int shard) {
        this.port = port;
        this.shard = shard;
    }

    public String port() {
        return port;
    }

    public int shard() {
        return shard;
    }
}
