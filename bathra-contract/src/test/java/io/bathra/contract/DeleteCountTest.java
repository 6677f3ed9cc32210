package io.bathra.contract;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.attr.DeleteRule.SET_NULL;
import static io.bathra.model.Declare.enforcedBy;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.query.Ask.allOf;
import static io.bathra.query.Ask.anyOf;
import static io.bathra.query.Ask.link;
import static io.bathra.query.Ask.not;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Savepoint;
import io.bathra.Store;
import io.bathra.attr.Enforcer;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import io.bathra.query.Text;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Deletions by query that tell what has gone along. */
@OnEachDatabase
class DeleteCountTest {
    static final class Depot {
        Long id;
        String name;
        List<String> gates = new ArrayList<>(List.of("east", "west"));

        static Depot of(String name) {
            Depot depot = new Depot();
            depot.name = name;
            return depot;
        }

        String name() {
            return name;
        }

        List<String> gates() {
            return gates;
        }
    }

    static final class Rack {
        Long id;
        final Link<Depot> depot = Link.empty();

        Link<Depot> depot() {
            return depot;
        }
    }

    /** Lies in a rack of one depot, and may belong to another one; is stacked on another box. */
    static final class Box {
        Long id;
        final Link<Rack> rack = Link.empty();
        final Link<Depot> owner = Link.empty();
        final Link<Box> on = Link.empty();

        static Box in(Rack rack, Depot owner) {
            Box box = new Box();
            box.rack.set(rack);
            box.owner.set(owner);
            return box;
        }

        Link<Rack> rack() {
            return rack;
        }

        Link<Depot> owner() {
            return owner;
        }

        Link<Box> on() {
            return on;
        }
    }

    private final TestDatabase database;

    DeleteCountTest(TestDatabase database) {
        this.database = database;
    }

    /** Two depots with two racks of three boxes each; a third of the boxes belong to the other depot. */
    private Store store(Enforcer enforcer, boolean stacked) {
        Entity<Box> box = Entity.of(Box.class, Box::new)
                .link(Box::rack, onDelete(CASCADE), enforcedBy(enforcer))
                .link(Box::owner, onDelete(CASCADE), enforcedBy(enforcer));
        Store store = Trips.open(
                Model.of(
                        "depots",
                        Entity.of(Depot.class, Depot::new).parts(Depot::gates),
                        Entity.of(Rack.class, Rack::new).link(Rack::depot, onDelete(CASCADE), enforcedBy(enforcer)),
                        stacked ? box.link(Box::on, onDelete(CASCADE)) : box.link(Box::on, onDelete(SET_NULL))),
                database.empty());
        store.schema().createMissing();
        store.run(work -> {
            List<Depot> depots = List.of(Depot.of("north"), Depot.of("south"));
            Box below = null;
            for (Depot depot : depots) {
                work.add(depot);
                for (int i = 0; i < 2; i++) {
                    Rack rack = new Rack();
                    rack.depot.set(depot);
                    work.add(rack);
                    for (int j = 0; j < 3; j++) {
                        Box one = Box.in(rack, depots.get(j == 0 ? 1 - depots.indexOf(depot) : depots.indexOf(depot)));
                        if (below != null && i + j > 0) {
                            one.on.set(below);
                        }
                        work.add(one);
                        below = one;
                    }
                }
            }
        });
        return store;
    }

    @ParameterizedTest
    @EnumSource(Enforcer.class)
    void eachRowIsCountedOnceWhoeverRemovesIt(Enforcer enforcer) {
        try (Store store = store(enforcer, false)) {
            store.run(work -> {
                Map<String, Long> gone = work.from(Depot.class)
                        .where(the(Depot::name).is("north"))
                        .deleteCounting();
                assertThat(gone)
                        .containsExactly(
                                Map.entry("Depot", 1L),
                                Map.entry("Rack", 2L),
                                Map.entry("Box", 8L),
                                Map.entry("Depot.gates", 2L));
                assertThat(work.from(Box.class).count()).isEqualTo(4);
                assertThat(work.from(Depot.class)
                                .where(the(Depot::name).is("north"))
                                .deleteCounting())
                        .containsExactly(Map.entry("Depot", 0L));
            });
        }
    }

    @Test
    void whatLeadsToItselfIsCountedHoweverDeepItIs() {
        try (Store store = store(Enforcer.DATABASE, true)) {
            store.run(work -> {
                Map<String, Long> gone =
                        work.from(Box.class).where(link(Box::on).isNull()).deleteCounting();
                assertThat(gone).containsExactly(Map.entry("Box", 12L));
                assertThat(work.from(Box.class).count()).isZero();
                work.add(Box.in(
                        work.from(Rack.class).first().orElseThrow(),
                        work.from(Depot.class).first().orElseThrow()));
                assertThat(work.from(Depot.class).deleteCounting())
                        .containsExactlyInAnyOrderEntriesOf(
                                Map.of("Depot", 2L, "Depot.gates", 4L, "Rack", 4L, "Box", 1L));
            });
        }
    }

    /** What is asked of a link's target alone becomes a list, unless it may hold of a link that leads nowhere. */
    @Test
    void aDeletionFindsTheRowsThatAQueryFinds() {
        Text<Box> below = text(Box::on, Box::owner, Depot::name);
        List<Condition<Box>> conditions = List.of(
                below.is("north"),
                not(below.is("north")),
                below.in("north", "south"),
                not(below.in(List.of())),
                below.isNull(),
                below.isNotNull(),
                not(anyOf(below.isNull(), below.is("north"))),
                anyOf(below.is("north"), allOf()),
                below.orElse("north").is("north"),
                allOf(below.startsWith("n"), link(Box::on, Box::rack).isNotNull()),
                not(allOf(below.is("south"), below.isNull())));
        try (Store store = store(Enforcer.DATABASE, false)) {
            store.run(work -> {
                for (Condition<Box> condition : conditions) {
                    long found = work.from(Box.class).where(condition).count();
                    Savepoint place = work.savepoint();
                    assertThat(work.from(Box.class).where(condition).delete())
                            .as(condition.toString())
                            .isEqualTo(found);
                    place.rollback();
                }
            });
        }
    }
}
