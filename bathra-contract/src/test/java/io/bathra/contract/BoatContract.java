package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.PendingChange;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.junit.Faults;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.TestDatabase;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;

/** Boats with their owners, crews and friends, in a database that can be made to fail. */
abstract class BoatContract {
    static final class Owner {
        Long id;
        String name;
        final Links<Boat> boats = Links.empty();

        Owner() {}

        Owner(String name) {
            this.name = name;
        }

        String name() {
            return name;
        }

        Long id() {
            return id;
        }

        Links<Boat> boats() {
            return boats;
        }
    }

    static final class Boat {
        Long id;
        String code;
        String name;
        Integer seats;
        int revision;
        List<String> crew = new ArrayList<>();
        final Link<Owner> owner = Link.empty();
        final Links<Owner> friends = Links.empty();

        Boat() {}

        Boat(String code) {
            this.code = code;
            this.name = "boat " + code;
        }

        String code() {
            return code;
        }

        String name() {
            return name;
        }

        Integer seats() {
            return seats;
        }

        int revision() {
            return revision;
        }

        List<String> crew() {
            return crew;
        }

        Link<Owner> owner() {
            return owner;
        }

        Links<Owner> friends() {
            return friends;
        }

        @Override
        public String toString() {
            return code;
        }
    }

    private static final Model MODEL = Model.of(
            "boats",
            Entity.of(Owner.class, Owner::new).links(Owner::boats, Boat::owner),
            Entity.of(Boat.class, Boat::new)
                    .column(Boat::code, required(), length(5), unique())
                    .parts(Boat::crew)
                    .pivot(Boat::friends)
                    .version(Boat::revision));

    final TestDatabase database;
    final DataSource plain;
    final Faults faults;
    final Store store;
    Keys keys;

    BoatContract(TestDatabase database) {
        this.database = database;
        plain = database.empty();
        faults = Faults.in(plain);
        store = Trips.open(MODEL, faults.source()).withKeysAhead(0);
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        store.run(work -> {
            Owner owner = new Owner("Aline");
            for (String code : List.of("A", "B", "C")) {
                Boat boat = new Boat(code);
                boat.crew.addAll(List.of("Piet", "Klaas"));
                boat.friends.add(owner);
                owner.boats.add(boat);
            }
            work.add(owner);
        });
        keys = Keys.in(store, "boat", "owner");
    }

    @AfterEach
    void everyConnectionIsGivenBack() {
        assertThat(faults.open()).isZero();
    }

    /** The key of boat A, B or C, by its number from 1 on. */
    long key(long number) {
        return keys.of("boat", number);
    }

    Boat boat(UnitOfWork work, long number) {
        return work.require(Boat.class, key(number));
    }

    static List<String> words(List<PendingChange> changes) {
        return changes.stream().map(PendingChange::toString).toList();
    }

    /** Leaves the database to others, on which SQLite insists. */
    Boat read(UnitOfWork work, long number) {
        Boat found = boat(work, number);
        work.rollback();
        return found;
    }

    /** What goes to the log, which is on standard error here. */
    static String logged(Runnable work) {
        PrintStream before = System.err;
        ByteArrayOutputStream log = new ByteArrayOutputStream();
        System.setErr(new PrintStream(log, true, StandardCharsets.UTF_8));
        try {
            work.run();
        } finally {
            System.setErr(before);
        }
        return log.toString(StandardCharsets.UTF_8);
    }
}
