package io.bathra.bench;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;

import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import org.jspecify.annotations.Nullable;

/** An entity of ten columns of common types. */
final class Cargo {
    enum Kind {
        DRY,
        LIQUID,
        REEFER
    }

    static final Model MODEL = Model.of(
            "cargo",
            Entity.of(Cargo.class, Cargo::new)
                    .column(Cargo::serial, length(20))
                    .column(Cargo::note, length(80))
                    .column(Cargo::price, digits(12, 2)));

    static final String SELECT = "select id, serial, note, kilos, volume, sealed, kind, price, packed, seen from cargo";

    @Nullable
    Long id;

    String serial = "";
    String note = "";
    int kilos;
    double volume;
    boolean sealed;
    Kind kind = Kind.DRY;
    BigDecimal price = BigDecimal.ZERO;
    LocalDate packed = LocalDate.EPOCH;
    LocalDateTime seen = LocalDateTime.MIN;

    Cargo() {}

    Cargo(int number) {
        serial = "SER" + number;
        note = "stowed in bay " + number % 97 + ", row " + number % 13;
        kilos = number;
        volume = number / 7.0;
        sealed = number % 2 == 0;
        kind = Kind.values()[number % 3];
        price = BigDecimal.valueOf(number, 2);
        packed = LocalDate.of(2026, 1, 1).plusDays(number % 300);
        seen = LocalDateTime.of(2026, 4, 1, 6, 0).plusSeconds(number);
    }

    @Nullable
    Long id() {
        return id;
    }

    String serial() {
        return serial;
    }

    String note() {
        return note;
    }

    int kilos() {
        return kilos;
    }

    double volume() {
        return volume;
    }

    boolean sealed() {
        return sealed;
    }

    Kind kind() {
        return kind;
    }

    BigDecimal price() {
        return price;
    }

    LocalDate packed() {
        return packed;
    }

    LocalDateTime seen() {
        return seen;
    }
}
