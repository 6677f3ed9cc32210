package io.bathra.json;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.secret;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.number;

import io.bathra.attr.Converter;
import io.bathra.link.Later;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;

/** Ships, their calls, and where they are moored; all of it made up. */
final class Quays {
    enum State {
        EXPECTED,
        MOORED
    }

    record Imo(String digits) {}

    record Hull(BigDecimal lengthM, Engine engine) {}

    record Engine(Integer powerKw, String maker) {}

    record Certificate(String kind, LocalDate until) {}

    record Place(String quay, int bollard) {}

    static final class Ship {
        Long id;
        Imo imo;
        String name;
        Hull hull;
        boolean towed;
        final List<Certificate> certificates = new ArrayList<>();
        final Set<String> flags = new LinkedHashSet<>();
        final Map<String, Integer> crew = new LinkedHashMap<>();
        String doorCode;
        final Later<String> history = Later.empty();
        final Links<Call> calls = Links.empty();
        int revision;

        Long id() {
            return id;
        }

        Imo imo() {
            return imo;
        }

        String name() {
            return name;
        }

        Hull hull() {
            return hull;
        }

        List<Certificate> certificates() {
            return certificates;
        }

        Set<String> flags() {
            return flags;
        }

        Map<String, Integer> crew() {
            return crew;
        }

        String doorCode() {
            return doorCode;
        }

        Later<String> history() {
            return history;
        }

        Links<Call> calls() {
            return calls;
        }

        int revision() {
            return revision;
        }
    }

    static final class Call {
        Long id;
        String number;
        final Link<Ship> ship = Link.empty();
        final Link<Bollard> bollard = Link.empty();
        State state = State.EXPECTED;
        LocalDateTime eta;
        BigDecimal charge;
        long parcels;
        Double draught;
        UUID token;
        byte[] stamp;

        Long id() {
            return id;
        }

        String number() {
            return number;
        }

        Link<Ship> ship() {
            return ship;
        }

        Link<Bollard> bollard() {
            return bollard;
        }

        State state() {
            return state;
        }

        LocalDateTime eta() {
            return eta;
        }

        BigDecimal charge() {
            return charge;
        }

        long parcels() {
            return parcels;
        }
    }

    static final class Bollard {
        Place place;
        String colour;

        Place place() {
            return place;
        }

        String colour() {
            return colour;
        }
    }

    static final Model MODEL = Model.of(
            "quays",
            Entity.of(Ship.class, Ship::new)
                    .column(Ship::imo, Converter.to(String.class, Imo::digits, Imo::new), length(7), unique())
                    .column(Ship::name, required(), length(20))
                    .parts(Ship::certificates)
                    .parts(Ship::flags)
                    .parts(Ship::crew)
                    .column(Ship::doorCode, length(8), secret())
                    .links(Ship::calls, Call::ship)
                    .version(Ship::revision),
            Entity.of(Call.class, Call::new)
                    .column(Call::number, required(), length(9), unique())
                    .link(Call::ship, required())
                    .column(Call::charge, digits(7, 2))
                    .check("few parcels", number(Call::parcels).atMost(99L)),
            Entity.of(Bollard.class, Bollard::new).key(Bollard::place));

    static Ship ship() {
        Ship ship = new Ship();
        ship.imo = new Imo("9161728");
        ship.name = "Anna & \"Marie\" \u2713";
        ship.hull = new Hull(new BigDecimal("120.5"), new Engine(4000, null));
        ship.certificates.add(new Certificate("safety", LocalDate.of(2027, 1, 31)));
        ship.certificates.add(new Certificate("load line", null));
        ship.flags.add("PT");
        ship.crew.put("mates", 2);
        ship.doorCode = "8812";
        ship.history.set("built long ago");
        return ship;
    }

    static Call call(String number, Ship ship, Bollard bollard) {
        Call call = new Call();
        call.number = number;
        call.ship.set(ship);
        if (bollard != null) {
            call.bollard.set(bollard);
        }
        call.eta = LocalDateTime.of(2026, 4, 1, 6, 30);
        call.charge = new BigDecimal("1250.5");
        call.parcels = 12;
        call.draught = 7.25;
        call.token = UUID.fromString("018f3c1e-7b2a-7c3d-8e4f-5a6b7c8d9e0f");
        call.stamp = new byte[] {0, (byte) 255};
        return call;
    }

    static Bollard bollard() {
        Bollard bollard = new Bollard();
        bollard.place = new Place("N", 7);
        bollard.colour = "red";
        return bollard;
    }

    private Quays() {}
}
