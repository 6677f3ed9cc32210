package io.bathra.bench;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.required;

import io.bathra.Store;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.math.BigDecimal;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A parent of several boxes; the database draws the keys of both. */
final class Shipment {
    static final Model MODEL = Model.of(
            "shipments",
            Entity.of(Shipment.class, Shipment::new)
                    .column(Shipment::code, required(), length(20))
                    .links(Shipment::boxes, Box::shipment),
            Entity.of(Box.class, Box::new)
                    .column(Box::label, required(), length(30))
                    .column(Box::price, digits(10, 2))
                    .link(Box::shipment, required(), onDelete(CASCADE)));

    @Nullable
    Long id;

    String code = "";
    LocalDateTime eta = LocalDateTime.MIN;
    final Links<Box> boxes = Links.empty();

    static final class Box {
        @Nullable
        Long id;

        String label = "";
        int kilos;
        BigDecimal price = BigDecimal.ZERO;
        final Link<Shipment> shipment = Link.empty();

        /** Whose it is, for those who write by hand. */
        transient @Nullable Shipment whole;

        Box() {}

        Box(Shipment whole, int number) {
            this.whole = whole;
            label = "box of kind " + number % 100;
            kilos = number % 1000;
            price = BigDecimal.valueOf(number, 2);
        }

        String label() {
            return label;
        }

        BigDecimal price() {
            return price;
        }

        Link<Shipment> shipment() {
            return shipment;
        }
    }

    Shipment() {}

    String code() {
        return code;
    }

    Links<Box> boxes() {
        return boxes;
    }

    /**
     * Removes all rows. A plan that PostgreSQL has made for an empty table would look through all of it for each
     * foreign key.
     */
    static void empty(Store store) {
        if (store.databaseName().equals("PostgreSQL")) {
            store.sql("truncate table shipment, box").execute();
        } else {
            store.run(work -> {
                work.from(Box.class).delete();
                work.from(Shipment.class).delete();
            });
        }
    }

    /** So many shipments, each with nine boxes. */
    static List<Shipment> some(int shipments) {
        List<Shipment> all = new ArrayList<>(shipments);
        for (int i = 0; i < shipments; i++) {
            Shipment shipment = new Shipment();
            shipment.code = "SH" + i;
            shipment.eta = LocalDateTime.of(2026, 4, 1, 6, 0).plusMinutes(i);
            for (int b = 0; b < 9; b++) {
                shipment.boxes.add(new Box(shipment, i * 9 + b));
            }
            all.add(shipment);
        }
        return all;
    }
}
