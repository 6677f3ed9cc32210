package io.bathra.examples;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.ordered;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.table;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.lang.invoke.MethodHandles;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Many-to-many: pairs without data, pairs in an order, and pairs that say more than that they exist. */
public final class Pivots {
    /** A way through the harbour, past its buoys. */
    static final class Fairway {
        private @Nullable Long id;
        private String name = "";
        private final Links<Buoy> buoys = Links.empty();
        private final Links<Tug> tugs = Links.empty();

        Fairway() {}

        Fairway(String name) {
            this.name = name;
        }

        String name() {
            return name;
        }

        Links<Buoy> buoys() {
            return buoys;
        }

        Links<Tug> tugs() {
            return tugs;
        }
    }

    static final class Buoy {
        private @Nullable Long id;
        private String mark = "";

        Buoy() {}

        Buoy(String mark) {
            this.mark = mark;
        }

        String mark() {
            return mark;
        }

        @Override
        public String toString() {
            return mark;
        }
    }

    static final class Tug {
        private @Nullable Long id;
        private String name = "";
        private final Links<Fairway> fairways = Links.empty();
        private final Links<Standby> standbys = Links.empty();

        Tug() {}

        Tug(String name) {
            this.name = name;
        }

        String name() {
            return name;
        }

        Links<Fairway> fairways() {
            return fairways;
        }

        Links<Standby> standbys() {
            return standbys;
        }
    }

    /**
     * That a tug stands by for a fairway, and how soon it can be there: more than a pair, so an entity with two links.
     */
    static final class Standby {
        private @Nullable Long id;
        private int minutes;
        private final Link<Tug> tug = Link.empty();
        private final Link<Fairway> fairway = Link.empty();

        Standby() {}

        Standby(Tug tug, Fairway fairway, int minutes) {
            this.tug.set(tug);
            this.fairway.set(fairway);
            this.minutes = minutes;
        }

        int minutes() {
            return minutes;
        }

        Link<Tug> tug() {
            return tug;
        }

        Link<Fairway> fairway() {
            return fairway;
        }
    }

    static final Entity<Fairway> FAIRWAY = Entity.of(Fairway.class, Fairway::new)
            .column(Fairway::name, required(), length(40), unique())
            .pivot(Fairway::buoys, ordered()) // the order of the list is kept
            .pivot(Fairway::tugs, Tug::fairways, table("tug_of_fairway")); // both sides know each other

    static final Entity<Standby> STANDBY = Entity.of(Standby.class, Standby::new)
            .link(Standby::tug, required())
            .link(Standby::fairway, required())
            .unique(Standby::tug, Standby::fairway);

    static final Model MODEL = Model.of(
            "fairways",
            MethodHandles.lookup(),
            FAIRWAY,
            Entity.of(Buoy.class, Buoy::new).column(Buoy::mark, required(), length(8), unique()),
            Entity.of(Tug.class, Tug::new)
                    .column(Tug::name, required(), length(40), unique())
                    .links(Tug::standbys, Standby::tug),
            STANDBY);

    private Pivots() {}

    public static void main(String[] args) {
        try (Store store = Store.open(MODEL, "jdbc:h2:mem:pivots")) {
            store.schema().createMissing();
            store.run(work -> {
                Fairway north = new Fairway("North");
                work.add(north);
                north.buoys().addAll(List.of(new Buoy("N1"), new Buoy("N3"), new Buoy("N5")));
                Tug bruno = new Tug("Bruno");
                north.tugs().add(bruno);
                System.out.println(
                        "the other side shows it: " + bruno.fairways().contains(north));
                work.add(new Standby(bruno, north, 25));
            });

            store.run(work -> {
                Fairway north = work.from(Fairway.class).one();
                north.buoys().insert(1, new Buoy("N2"));
                north.buoys().move(north.buoys().asList().get(3), 0);
                System.out.println(north.buoys().asList());
                System.out.println(work.commit()); // one row each for the new buoy and the pairs that have moved
            });

            store.run(work -> {
                Tug bruno = work.from(Tug.class).one();
                bruno.fairways().add(new Fairway("South")); // unread: nothing is read for that
                bruno.fairways()
                        .add(work.from(Fairway.class)
                                .where(the(Fairway::name).is("North"))
                                .one()); // is there already, which does no harm
                work.commit();
                System.out.println(bruno.fairways().size() + " fairways, standing by in "
                        + bruno.standbys().iterator().next().minutes() + " minutes");
                bruno.fairways().replaceAll(List.of()); // takes pairs apart; fairways stay
                work.commit();
                System.out.println(work.from(Fairway.class).count() + " fairways are there still");
            });
        }
    }
}
