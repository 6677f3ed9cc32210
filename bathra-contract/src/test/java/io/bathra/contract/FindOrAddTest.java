package io.bathra.contract;

import static io.bathra.bulk.On.on;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.error.UniqueViolation;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Entities are found by what is unique in them, and added where they are missing. */
@OnEachDatabase
class FindOrAddTest {
    static final class Yard {
        private Long id;
        private String code;

        Yard() {}

        Yard(String code) {
            this.code = code;
        }

        String code() {
            return code;
        }
    }

    static final class Slot {
        private Long id;
        private int row;
        private String label;
        private int used;
        private int revision;
        private final Link<Yard> yard = Link.empty();

        Slot() {}

        Slot(Yard yard, int row, String label) {
            this.yard.set(yard);
            this.row = row;
            this.label = label;
        }

        int row() {
            return row;
        }

        String label() {
            return label;
        }

        int used() {
            return used;
        }

        int revision() {
            return revision;
        }

        Link<Yard> yard() {
            return yard;
        }
    }

    private final TestDatabase database;
    private final Store store;

    /** What somebody else does just before this unit inserts. */
    private Runnable meanwhile = () -> {};

    FindOrAddTest(TestDatabase database) {
        this.database = database;
        Model model = Model.of(
                "yards",
                Entity.of(Yard.class, Yard::new)
                        .column(Yard::code, required(), length(10), unique())
                        .beforeInsert(yard -> {
                            Runnable now = meanwhile;
                            meanwhile = () -> {};
                            now.run();
                        }),
                Entity.of(Slot.class, Slot::new)
                        .link(Slot::yard, required())
                        .column(Slot::label, length(20), unique())
                        .unique(Slot::yard, Slot::row)
                        .version(Slot::revision));
        store = Trips.open(model, database.empty());
        store.schema().createMissing();
    }

    private static List<Yard> yards(String... codes) {
        return List.of(codes).stream().map(Yard::new).toList();
    }

    private void store(String... codes) {
        store.run(work -> yards(codes).forEach(work::add));
    }

    @Test
    void whatIsMissingIsAddedByTwoStatementsAndAllOfItIsTracked() {
        store("A", "B");
        store.run(work -> {
            List<Yard> candidates = yards("C", "A", "D", "C", "B");
            List<Yard> yards = work.findOrAddAll(Yard.class, on(Yard::code), candidates);
            assertThat(work.trace().statements()).hasSize(2);
            assertThat(yards).extracting(Yard::code).containsExactly("C", "A", "D", "C", "B");
            assertThat(yards.get(0)).isSameAs(candidates.get(0)).isSameAs(yards.get(3));
            assertThat(yards.get(1)).isNotSameAs(candidates.get(1));
            assertThat(yards).extracting(work::standing).containsOnly(Standing.CLEAN);
            assertThat(work.require(Yard.class, yards.get(2).id)).isSameAs(yards.get(2));
            assertThat(work.standing(candidates.get(4))).isEqualTo(Standing.UNTRACKED);
            int before = work.trace().statements().size();
            assertThat(work.findOrAddAll(Yard.class, on(Yard::code), yards("D", "A")))
                    .containsExactly(yards.get(2), yards.get(1));
            assertThat(work.trace().statements()).hasSize(before + 1);
        });
        store.run(work -> assertThat(work.from(Yard.class).list())
                .extracting(Yard::code)
                .containsExactlyInAnyOrder("A", "B", "C", "D"));
    }

    @Test
    void manyAreAddedWithTheirOwnKeys() {
        store.run(work -> {
            List<Yard> yards = work.findOrAddAll(
                    Yard.class,
                    on(Yard::code),
                    IntStream.range(0, 700).mapToObj(i -> new Yard("Y" + i)).toList());
            yards.forEach(yard -> assertThat(yard.id).isNotNull());
        });
        store.run(work -> assertThat(work.findOrAddAll(Yard.class, on(Yard::code), yards("Y431", "Y7")))
                .allMatch(yard -> yard.id != null)
                .extracting(Yard::code)
                .containsExactly("Y431", "Y7"));
        store("later"); // the database draws on behind the keys of these rows
    }

    @Test
    void severalAttributesTellTogetherAndNewNeighboursComeAlong() {
        store.run(work -> {
            Yard north = work.findOrAdd(Yard.class, the(Yard::code).is("N"), () -> new Yard("N"));
            Slot first = new Slot(north, 1, "N-1");
            assertThat(work.findOrAddAll(Slot.class, on(Slot::yard, Slot::row), List.of(first)))
                    .containsExactly(first);
            assertThat(work.findOrAddAll(Slot.class, on(Slot::label), List.of(new Slot(new Yard("S"), 7, "S-7"))))
                    .allMatch(slot -> slot.yard.get().id != null);
        });
        store.run(work -> {
            Yard north = work.from(Yard.class).where(the(Yard::code).is("N")).one();
            List<Slot> slots = work.findOrAddAll(
                    Slot.class, on(Slot::yard, Slot::row), List.of(new Slot(north, 2, null), new Slot(north, 1, null)));
            assertThat(slots).extracting(Slot::label).containsExactly(null, "N-1");
            assertThat(work.from(Slot.class).count()).isEqualTo(3);
        });
    }

    @Test
    void whoWasFasterIsFound() {
        assumeThat(database).as("has one writer at a time").isNotEqualTo(TestDatabase.SQLITE);
        store("A");
        store.run(work -> {
            work.from(Yard.class).list(); // a snapshot, on MariaDB
            meanwhile = () -> store("B", "C");
            List<Yard> yards = work.findOrAddAll(Yard.class, on(Yard::code), yards("A", "B", "C", "D"));
            assertThat(yards).extracting(Yard::code).containsExactly("A", "B", "C", "D");
        });
        store.run(work -> {
            work.from(Yard.class).list();
            meanwhile = () -> store("E");
            assertThat(work.findOrAdd(Yard.class, the(Yard::code).is("E"), () -> new Yard("E")).id)
                    .isNotNull();
        });
        store.run(work -> assertThat(work.from(Yard.class).count()).isEqualTo(5));
    }

    @Test
    void oneIsChangedOrAdded() {
        store.run(work -> {
            Yard yard = new Yard("N");
            for (int i = 1; i <= 2; i++) {
                Slot slot = work.changeOrAdd(
                        Slot.class,
                        number(Slot::row).is(4),
                        () -> new Slot(yard, 4, "N-4"),
                        found -> found.used = found.used + 10);
                assertThat(slot.used).isEqualTo(10 * i);
                assertThat(slot.revision).isEqualTo(i - 1);
                assertThat(work.standing(slot)).isEqualTo(Standing.CLEAN);
            }
        });
        store.run(work -> assertThat(work.from(Slot.class).one().used).isEqualTo(20));
    }

    @Test
    void whatCannotBeToldIsRefusedAndWhatClashesElsewhereIsAnError() {
        store.run(work -> {
            assertThatThrownBy(() -> work.findOrAddAll(Yard.class, on(Yard::code), List.of(new Yard("A"), new Yard())))
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("candidate 2, ")
                    .hasMessageContaining("has no value in Yard.code");
            assertThatThrownBy(() -> work.findOrAddAll(Slot.class, on(Slot::row), List.of()))
                    .hasMessageContaining("no unique constraint of Slot is on exactly row");
            assertThat(work.changes()).isEmpty();
        });
        store.run(work -> work.add(new Slot(new Yard("N"), 1, "same")));
        store.run(work -> {
            Yard north = work.from(Yard.class).one();
            assertThatThrownBy(() -> work.findOrAddAll(
                            Slot.class, on(Slot::yard, Slot::row), List.of(new Slot(north, 2, "same"))))
                    .isInstanceOf(UniqueViolation.class)
                    .hasMessageContaining("Slot.label");
            assertThat(work.changes()).isEmpty();
        });
    }
}
