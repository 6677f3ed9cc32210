package com.example.fleet;

import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

public final class Truck {
    private @Nullable Long id;
    private String plate = "";
    private @Nullable LocalDate bought;
    private int revision;

    Truck() {}

    public Truck(String plate) {
        this.plate = plate;
    }

    public String plate() {
        return plate;
    }

    public int revision() {
        return revision;
    }
}
