package io.bathra.spring;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;

import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;

/** Boats and their calls. */
final class Boats {
    static final class Boat {
        private Long id;
        private String name = "";
        private int calls;
        private int revision;

        Boat() {}

        Boat(String name) {
            this.name = name;
        }

        Long id() {
            return id;
        }

        String name() {
            return name;
        }

        int calls() {
            return calls;
        }

        int revision() {
            return revision;
        }

        void rename(String other) {
            this.name = other;
        }

        void count() {
            calls++;
        }
    }

    static final class Visit {
        private Long id;
        private String remark = "";
        private final Link<Boat> boat = Link.empty();

        Visit() {}

        Visit(Boat boat, String remark) {
            this.boat.set(boat);
            this.remark = remark;
        }

        String remark() {
            return remark;
        }

        Link<Boat> boat() {
            return boat;
        }
    }

    static final Model MODEL = Model.of(
            "boats",
            Entity.of(Boat.class, Boat::new)
                    .column(Boat::name, required(), length(20), unique())
                    .version(Boat::revision),
            Entity.of(Visit.class, Visit::new).column(Visit::remark, length(10)).link(Visit::boat, required()));

    private Boats() {}
}
