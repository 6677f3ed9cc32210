package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.UnorderableChangesException;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Unique values that change hands within one flush. */
@OnEachDatabase
class UniqueValueTest {
    enum Side {
        PORT,
        STARBOARD
    }

    static final class Mast {
        private Long id;
        private String code;
        private Integer flag;
        private int place;
        private Side side;
        private int revision;
        private final Link<Mast> stay = Link.empty();

        Mast() {}

        Mast(int number) {
            code = "M" + number;
            flag = number;
            place = number;
        }

        String code() {
            return code;
        }

        Integer flag() {
            return flag;
        }

        int place() {
            return place;
        }

        Side side() {
            return side;
        }

        int revision() {
            return revision;
        }

        Link<Mast> stay() {
            return stay;
        }
    }

    private static final Entity<Mast> MAST = Entity.of(Mast.class, Mast::new)
            .column(Mast::code, required(), length(3), unique())
            .column(Mast::flag, unique())
            .column(Mast::place, unique())
            .link(Mast::stay, unique())
            .check(the(Mast::place).atLeast(0))
            .version(Mast::revision);

    private final Store store;

    UniqueValueTest(TestDatabase database) {
        store = Trips.open(Model.of("masts", MAST), database.empty());
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        store.run(work -> IntStream.rangeClosed(1, 4).mapToObj(Mast::new).forEach(work::add));
    }

    private static List<Mast> masts(UnitOfWork work) {
        return work.from(Mast.class).orderBy(the(Mast::place).ascending()).list();
    }

    @Test
    void valuesAreSwappedAndRotatedInOneFlushEach() {
        try (UnitOfWork work = store.begin()) {
            List<Mast> masts = masts(work);
            masts.get(0).code = "M2";
            masts.get(1).code = "M1";
            assertThat(InlineTest.steps(work)).containsExactly("update mast (2 rows)", "update mast (2 rows)");
            assertThat(work.plan().steps().get(0).why()).isEqualTo("makes room for the moment");
            assertThat(work.commit().total().updated())
                    .as("rows, not statements")
                    .isEqualTo(2);
            assertThat(masts.get(0).code).isEqualTo("M2");
            assertThat(masts.get(0).revision).isOne();

            for (int i = 0; i < 3; i++) {
                masts.get(i).flag = (i + 1) % 3 + 1;
                masts.get(i).place = (i + 1) % 3 + 1;
                masts.get(i).stay.set(masts.get((i + 1) % 3));
            }
            work.commit();
            for (int i = 0; i < 3; i++) {
                masts.get(i).stay.set(masts.get((i + 2) % 3));
            }
            work.commit();
        }
        store.run(work -> {
            assertThat(masts(work)).extracting(mast -> mast.code).containsExactly("M3", "M2", "M1", "M4");
            assertThat(masts(work)).extracting(mast -> mast.flag).containsExactly(1, 2, 3, 4);
            assertThat(masts(work).subList(0, 3))
                    .extracting(mast -> mast.stay.get().place)
                    .containsExactly(3, 1, 2);
        });
    }

    @Test
    void aChainTakesTwoStatementsHoweverLongItIs() {
        store.run(work -> IntStream.rangeClosed(5, 60).mapToObj(Mast::new).forEach(work::add));
        store.run(work -> {
            masts(work).forEach(mast -> mast.place++);
            assertThat(InlineTest.steps(work)).containsExactly("update mast (59 rows)", "update mast (60 rows)");
        });
        store.run(work -> assertThat(masts(work))
                .extracting(Mast::place)
                .startsWith(2, 3, 4)
                .endsWith(60, 61));
    }

    @Test
    void whatADeleteFreesAnInsertTakes() {
        store.run(work -> {
            List<Mast> masts = masts(work);
            work.remove(masts.get(0));
            Mast next = new Mast(1);
            masts.get(1).stay.set(next);
            work.add(next);
            assertThat(InlineTest.steps(work))
                    .containsExactly("delete mast (1 row)", "insert mast (1 row)", "update mast (1 row)");
            masts.get(0).stay.clear();
        });
        store.run(work -> assertThat(masts(work)).hasSize(4));
    }

    @Test
    void aRowThatIsToGoMakesRoomWhereItCannotGoYet() {
        store.run(work -> masts(work).get(1).stay.set(masts(work).get(0)));
        store.run(work -> {
            List<Mast> masts = masts(work);
            Mast next = new Mast(1);
            work.add(next);
            masts.get(1).stay.set(next); // waits for the new row, which waits for the values of the old one
            work.remove(masts.get(0));
            assertThat(InlineTest.steps(work))
                    .containsExactly(
                            "update mast (1 row)", "insert mast (1 row)", "update mast (1 row)", "delete mast (1 row)");
        });
        store.run(work -> assertThat(masts(work)).extracting(Mast::code).containsExactly("M1", "M2", "M3", "M4"));
    }

    static final class Lamp {
        private Long id;
        private Side side;

        Lamp() {}

        Lamp(Side side) {
            this.side = side;
        }

        Side side() {
            return side;
        }
    }

    @Test
    void whereNothingElseMayStandTheRowIsNamed() {
        Store lamps = Trips.open(
                Model.of("lamps", Entity.of(Lamp.class, Lamp::new).column(Lamp::side, required(), unique())),
                "jdbc:h2:mem:lamps");
        lamps.schema().recreate("lamps");
        lamps.run(work -> List.of(Side.values()).forEach(side -> work.add(new Lamp(side))));
        lamps.run(work -> {
            List<Lamp> both = work.from(Lamp.class).list();
            both.get(0).side = Side.STARBOARD;
            both.get(1).side = Side.PORT;
            assertThatThrownBy(work::plan)
                    .isInstanceOf(UnorderableChangesException.class)
                    .hasMessageContaining("has to let go of side for another row before it takes its own new value");
            both.get(0).side = Side.PORT;
            both.get(1).side = Side.STARBOARD;
        });
        lamps.close();
    }
}
