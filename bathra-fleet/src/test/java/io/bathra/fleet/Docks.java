package io.bathra.fleet;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.util.stream.IntStream;

/** Few berths, on which everybody enters ships. */
final class Docks {
    static final int BERTHS = 5;

    static final class Berth {
        private int number;
        private int revision;
        private int ships;

        Berth() {}

        Berth(int number) {
            this.number = number;
        }

        int number() {
            return number;
        }

        int revision() {
            return revision;
        }

        int ships() {
            return ships;
        }
    }

    /** A ship that was entered; nothing keeps it from being entered twice. */
    static final class Docking {
        private Long id;
        private String clerk;
        private int number;
        private final Link<Berth> berth = Link.empty();

        Docking() {}

        Docking(String clerk, int number, Berth berth) {
            this.clerk = clerk;
            this.number = number;
            this.berth.set(berth);
        }

        Long id() {
            return id;
        }

        String clerk() {
            return clerk;
        }

        int number() {
            return number;
        }

        Link<Berth> berth() {
            return berth;
        }
    }

    static final Model WITHOUT_TOKENS = Model.of(
            "docks",
            Entity.of(Berth.class, Berth::new).key(Berth::number, assigned()).version(Berth::revision),
            Entity.of(Docking.class, Docking::new)
                    .column(Docking::clerk, required(), length(30))
                    .link(Docking::berth, required()));

    static final Model MODEL = WITHOUT_TOKENS.commitTokens("unit_token");

    private Docks() {}

    /** Makes the tables, and five berths. */
    static void fill(Store store) {
        store.schema().createMissing();
        store.run(work -> IntStream.range(0, BERTHS).mapToObj(Berth::new).forEach(work::add));
    }

    /** Enters a ship: one row is changed that many want, and one is added. */
    static void enter(UnitOfWork work, String clerk, int number) {
        Berth berth = work.require(Berth.class, number % BERTHS);
        berth.ships++;
        work.add(new Docking(clerk, number, berth));
    }

    static void enter(Store store, Terms terms, String clerk, int number) {
        store.run(terms, work -> enter(work, clerk, number));
    }

    /** Whether there are as many ships as were acknowledged, none of them twice, and none lost from a berth. */
    static void holds(Store store, long acknowledged) {
        assertThat(count(store, "select count(*) from docking"))
                .as("rows for %s acknowledged units", acknowledged)
                .isEqualTo(acknowledged);
        assertThat(count(store, "select count(*) from (select distinct clerk, number from docking) t"))
                .as("ships that are not entered twice")
                .isEqualTo(acknowledged);
        assertThat(count(store, "select coalesce(sum(ships), 0) from berth"))
                .as("ships on berths")
                .isEqualTo(acknowledged);
    }

    static long count(Store store, String sql) {
        return store.call(
                Terms.reading().upToDate(), work -> work.sql(sql).as(Long.class).one());
    }
}
