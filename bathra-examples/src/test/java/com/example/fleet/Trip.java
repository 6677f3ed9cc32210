package com.example.fleet;

import io.bathra.link.Link;
import org.jspecify.annotations.Nullable;

public final class Trip {
    private @Nullable Long id;
    private int kilometres;
    private final Link<Truck> truck = Link.empty();

    Trip() {}

    public Trip(Truck truck, int kilometres) {
        this.truck.set(truck);
        this.kilometres = kilometres;
    }

    public int kilometres() {
        return kilometres;
    }

    public Link<Truck> truck() {
        return truck;
    }
}
