package io.bathra.examples.web;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;

import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.time.LocalDateTime;
import org.jspecify.annotations.Nullable;

/** A vessel wants a berth at some time. */
public final class Booking {
    private @Nullable Long id;
    private String number = "";
    private String vessel = "";
    private @Nullable String berth;
    private @Nullable LocalDateTime eta;
    private @Nullable Integer draughtCentimetres;
    private @Nullable String remark;
    private int revision;

    static final Model MODEL = Model.of(
            "bookings",
            Entity.of(Booking.class, Booking::new)
                    .column(Booking::number, required(), length(9), unique())
                    .column(Booking::vessel, required(), length(40))
                    .column(Booking::berth, required(), length(4))
                    .column(Booking::eta, required())
                    .column(Booking::remark, length(100))
                    .version(Booking::revision));

    Booking() {}

    Booking(String number, String vessel, String berth) {
        this.number = number;
        this.vessel = vessel;
        this.berth = berth;
        this.eta = LocalDateTime.now();
    }

    public @Nullable Long id() {
        return id;
    }

    public String number() {
        return number;
    }

    public String vessel() {
        return vessel;
    }

    public @Nullable String berth() {
        return berth;
    }

    public @Nullable LocalDateTime eta() {
        return eta;
    }

    public @Nullable Integer draughtCentimetres() {
        return draughtCentimetres;
    }

    public @Nullable String remark() {
        return remark;
    }

    public int revision() {
        return revision;
    }
}
