package com.example.fleet;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.number;

import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.model.ModelSource;
import java.lang.invoke.MethodHandles;

public final class Fleet implements ModelSource {
    static final Entity<Truck> TRUCK = Entity.of(Truck.class, Truck::new)
            .column(Truck::plate, required(), length(10), unique())
            .version(Truck::revision);

    static final Entity<Trip> TRIP = Entity.of(Trip.class, Trip::new)
            .link(Trip::truck, required(), onDelete(CASCADE))
            .check(number(Trip::kilometres).above(0));

    public static final Model MODEL = Model.of("fleet", MethodHandles.lookup(), TRUCK, TRIP);

    @Override
    public Model model() {
        return MODEL;
    }
}
