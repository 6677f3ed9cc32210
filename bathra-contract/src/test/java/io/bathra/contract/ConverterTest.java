package io.bathra.contract;

import static io.bathra.model.Declare.json;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.text;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.attr.Converter;
import io.bathra.error.BathraException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.ModelException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.Map;
import java.util.TreeMap;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;

/** Types of one's own, enums by code, JSON and long texts. */
@OnEachDatabase
class ConverterTest {
    /** A type that no convention knows. */
    record Imo(String digits) implements Comparable<Imo> {
        static Imo of(String digits) {
            if (!digits.matches("\\d{7}")) {
                throw new IllegalArgumentException("an IMO number has seven digits");
            }
            return new Imo(digits);
        }

        @Override
        public int compareTo(Imo other) {
            return digits.compareTo(other.digits);
        }
    }

    enum Flag {
        ESTONIA(233),
        FINLAND(246);

        private final int code;

        Flag(int code) {
            this.code = code;
        }

        int code() {
            return code;
        }
    }

    static final class Ship {
        private Long id;
        private Imo imo;
        private Flag flag;
        private StringBuilder log;
        private Map<String, Integer> crew;
        private String report;

        Imo imo() {
            return imo;
        }

        Flag flag() {
            return flag;
        }

        StringBuilder log() {
            return log;
        }

        Map<String, Integer> crew() {
            return crew;
        }

        String report() {
            return report;
        }
    }

    private static final Converter<Imo, String> IMO = Converter.to(String.class, Imo::digits, Imo::of);
    private static final Converter<Flag, Integer> FLAG = Converter.byCode(Flag.class, Integer.class, Flag::code);
    private static final Converter<StringBuilder, String> LOG =
            Converter.to(String.class, StringBuilder::toString, StringBuilder::new);

    static final Entity<?>[] ENTITIES = {
        Entity.of(Ship.class, Ship::new)
                .column(Ship::imo, IMO, required(), length(7), unique())
                .column(Ship::flag, FLAG)
                .column(Ship::log, LOG)
                .column(Ship::crew, json())
                .column(Ship::report, text())
                .check(the(Ship::flag).in(Flag.ESTONIA, Flag.FINLAND))
    };

    static final Model MODEL = Model.of("ships", ENTITIES);

    private final DataSource source;
    private final Store store;

    ConverterTest(TestDatabase database) {
        source = database.empty();
        store = Trips.open(MODEL, source);
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
    }

    static Ship ship(String imo) {
        Ship ship = new Ship();
        ship.imo = new Imo(imo);
        ship.flag = Flag.FINLAND;
        ship.log = new StringBuilder("left");
        ship.crew = new TreeMap<>(Map.of("deck", 9, "bridge", 3));
        ship.report = "é\n".repeat(150_000);
        return ship;
    }

    @Test
    void valuesGoInAndComeBack() {
        Ship ship = ship("9074729");
        store.run(work -> {
            work.add(ship);
            work.add(ship("9074730"));
            work.flush();
            assertThat(work.standing(ship)).isEqualTo(Standing.CLEAN);
        });
        store.run(work -> {
            Ship read = work.from(Ship.class).where(the(Ship::imo).is(ship.imo)).one();
            assertThat(read.flag).isEqualTo(Flag.FINLAND);
            assertThat(read.log).hasToString("left");
            assertThat(read.crew).isEqualTo(ship.crew);
            assertThat(read.report).isEqualTo(ship.report);
            assertThat(work.standing(read)).isEqualTo(Standing.CLEAN);

            read.log.append(", arrived");
            read.crew.put("deck", 8);
            assertThat(work.changes())
                    .as("changed in place")
                    .extracting(Object::toString)
                    .containsExactly(
                            "Ship 1.log: left -> left, arrived",
                            "Ship 1.crew: {\"bridge\":3,\"deck\":9} -> {\"bridge\":3,\"deck\":8}");
        });
        store.run(work -> {
            assertThat(work.from(Ship.class)
                            .where(the(Ship::flag).in(Flag.ESTONIA))
                            .count())
                    .isZero();
            Ship read = work.from(Ship.class)
                    .orderBy(the(Ship::imo).ascending())
                    .first()
                    .orElseThrow();
            assertThat(read.log).hasToString("left, arrived");
            read.flag = null;
            read.crew = null;
            read.log = null;
        });
        store.run(work -> assertThat(
                        work.from(Ship.class).where(the(Ship::flag).isNull()).one().crew)
                .isNull());
    }

    @Test
    void whatCannotBeConvertedIsNamed() {
        try (UnitOfWork work = store.begin()) {
            work.add(ship("90747291"));
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("Ship (new #1).imo = 90747291: is 8 long");
        }
        TestDatabase.execute(source, "insert into ship (id, imo, flag) values (77, '1234567', 233)");
        store.run(work -> assertThat(work.require(Ship.class, 77L).flag).isEqualTo(Flag.ESTONIA));
        TestDatabase.execute(source, "update ship set imo = '12'");
        store.run(work -> assertThatThrownBy(() -> work.find(Ship.class, 77L))
                .isInstanceOf(BathraException.class)
                .hasMessage("Ship.imo: the column's value 12 cannot be converted: an IMO number has seven digits"));
    }

    enum Twin {
        A,
        B;

        int code() {
            return 1;
        }
    }

    @Test
    void contradictionsAreFaults() {
        assertThatThrownBy(() -> Converter.byCode(Twin.class, Integer.class, Twin::code))
                .hasMessage("Twin.B has the code 1, which A has too; give each constant a code of its own");
        assertThatThrownBy(() -> Model.of(
                        "faulty",
                        Entity.of(Ship.class, Ship::new)
                                .column(Ship::imo, IMO, text(), unique())
                                .column(Ship::log, LOG)
                                .column(Ship::crew, json())
                                .column(Ship::flag, text())))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Ship.imo: is a long text, which cannot be unique or a key")
                .hasMessageContaining("Ship.flag: is a Flag, so text() has no meaning");
    }
}
