package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.InvalidChangesException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Values beyond what a column or a database keeps: refused before any SQL, in words that say what to do. */
@OnEachDatabase
@Tag("exhaustive")
class RangeTest {
    private static final int[] ROWS = {1, 3, 40, 110};

    private final TestDatabase database;
    private final DataSource source;
    private final Store store;

    RangeTest(TestDatabase database) {
        this.database = database;
        source = database.empty();
        store = Trips.open(Probe.MODEL, source);
        store.schema().createMissing();
    }

    @AfterEach
    void close() {
        store.close();
    }

    /** A moment with nanoseconds is found again, so that it is not added at each call. */
    @Test
    void whatIsLookedForIsWhatWasStored() {
        LocalDateTime at = LocalDateTime.parse("2026-04-01T08:30:00.123456789");
        for (int i = 0; i < 2; i++) {
            store.run(work -> work.findOrAdd(Probe.class, the(Probe::at).is(at), () -> {
                Probe probe = new Probe();
                probe.code = "found";
                probe.at = at;
                return probe;
            }));
        }
        store.run(work -> {
            assertThat(work.from(Probe.class).count()).isOne();
            assertThat(work.from(Probe.class).page(Integer.MAX_VALUE, null).items())
                    .hasSize(1);
            Probe found = work.from(Probe.class).one();
            assertThat(work.find(Probe.class, found.id.intValue())).contains(found);
            assertThat(work.findAll(Probe.class, List.of(found.id.intValue(), BigInteger.TWO.longValue())))
                    .contains(found);
            assertThatThrownBy(() -> work.find(Probe.class, "1")).hasMessageContaining("is a Long");
        });
    }

    /** None of these may be written out: that would take minutes. */
    @ParameterizedTest
    @ValueSource(strings = {"1e1000000", "1e50000000", "1e2147483647", "-1e50000000", "1e-50000000"})
    void aShortTextIsNoLongWork(String text) {
        BigDecimal hostile = new BigDecimal(text);
        Probe probe = new Probe();
        probe.code = "hostile";
        probe.amount = hostile;
        try (UnitOfWork work = store.begin()) {
            work.add(probe);
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("does not fit into digits(12, 2)");
            work.discard();
            assertThatThrownBy(() -> work.from(Probe.class)
                            .where(the(Probe::amount).atLeast(hostile))
                            .list())
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("has more than 10000 digits");
            assertThatThrownBy(() ->
                            work.from(Probe.class).update(the(Probe::amount).to(hostile)))
                    .isInstanceOf(BathraException.class);
            assertThatThrownBy(() -> work.sql("select code from probe where amount > :x")
                            .with("x", hostile)
                            .list())
                    .hasMessageContaining("the value for ':x' has more than 10000 digits");
        }
        assertThatThrownBy(() -> store.bulk(Probe.class).maps().insert(List.of(Map.of("code", "h", "amount", hostile))))
                .hasMessageContaining("does not fit into digits(12, 2)");
        assertThatThrownBy(() -> store.bulk(Probe.class).texts().insert(List.of(Map.of("code", "h", "amount", text))))
                .hasMessageContaining("does not fit into digits(12, 2)");
    }

    private int firstYear() {
        return switch (database) {
            case H2 -> -900_000_000;
            case POSTGRESQL -> -4712;
            case SQLITE -> 0;
            case MARIADB -> 1;
        };
    }

    private int lastYear() {
        return switch (database) {
            case H2 -> 900_000_000;
            case POSTGRESQL -> 294_275;
            case SQLITE, MARIADB -> 9999;
        };
    }

    private static Probe ofDay(String code, LocalDate day) {
        Probe probe = new Probe();
        probe.code = code;
        probe.day = day;
        probe.at = day.atTime(23, 59, 59, 999_999_000);
        probe.moment = probe.at.toInstant(ZoneOffset.UTC);
        return probe;
    }

    @Test
    void theFirstAndTheLastYearsAreKept() {
        for (int rows : ROWS) {
            List<Probe> all = new ArrayList<>();
            for (int i = 0; i < rows; i++) {
                all.add(ofDay(
                        rows + "-" + i,
                        i % 2 == 0 ? LocalDate.of(firstYear(), 1, 1) : LocalDate.of(lastYear(), 12, 31)));
            }
            store.run(work -> all.forEach(work::add));
            store.run(work -> {
                for (Probe probe : all) {
                    Probe read = work.from(Probe.class)
                            .where(the(Probe::code).is(probe.code))
                            .one();
                    assertThat(List.of(read.day, read.at, read.moment))
                            .containsExactly(probe.day, probe.at, probe.moment);
                    assertThat(work.from(Probe.class)
                                    .where(
                                            the(Probe::code).is(probe.code),
                                            the(Probe::moment).is(probe.moment))
                                    .count())
                            .isOne();
                }
            });
        }
    }

    /** Be it one row or several, in a unit or in bulk. */
    @Test
    void yearsBeyondAreRefusedBeforeAnySql() {
        for (int year : new int[] {firstYear() - 1, lastYear() + 1}) {
            for (int rows : new int[] {1, 5}) {
                List<Probe> all = new ArrayList<>();
                for (int i = 0; i < rows; i++) {
                    all.add(ofDay("c" + i, LocalDate.of(year, 6, 1)));
                }
                assertThatThrownBy(() -> store.run(work -> all.forEach(work::add)))
                        .isInstanceOf(InvalidChangesException.class)
                        .hasMessageContaining(".day = ")
                        .hasMessageContaining("is of the year " + year + ", but this database keeps those from");
                assertThatThrownBy(() -> store.bulk(Probe.class).insert(all))
                        .hasMessageContaining("is of the year " + year);
            }
            assertThatThrownBy(() -> store.run(work ->
                            work.from(Probe.class).update(the(Probe::day).to(LocalDate.of(year, 6, 1)))))
                    .hasMessageContaining("is of the year " + year);
        }
        for (Instant moment : List.of(Instant.MIN, Instant.MAX)) {
            Probe probe = new Probe();
            probe.code = "end";
            probe.moment = moment;
            assertThatThrownBy(() -> store.run(work -> work.add(probe)))
                    .hasMessageContaining("this database keeps those");
        }
    }

    /** What somebody else has written there is no other value, and the row is named. */
    @Test
    void whatIsNoDateOfJavasIsNotReadAsAnother() {
        String never = switch (database) {
            case H2 -> ""; // all of its own are Java's
            case SQLITE -> "'soon'";
            case POSTGRESQL -> "'infinity'";
            case MARIADB -> "'0000-00-00'";
        };
        for (String column : never.isEmpty() ? List.<String>of() : List.of("day", "at", "moment")) {
            Probe probe = new Probe();
            probe.code = column;
            store.run(work -> work.add(probe));
            String update = "update probe set " + column + " = " + never + " where id = " + probe.id;
            TestDatabase.execute(
                    source, database == TestDatabase.MARIADB ? "set statement sql_mode = '' for " + update : update);
            assertThatThrownBy(() -> store.run(work -> work.require(Probe.class, probe.id)))
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("Probe " + probe.id + " cannot be read: ");
        }
    }

    @Test
    void halfACharacterIsRefusedBeforeAnySql() {
        for (String half : List.of("\uD83D", "a\uDEA2", "\uDEA2\uD83D", "\uD83D\uD83D\uDEA2")) {
            Probe probe = new Probe();
            probe.code = "half";
            probe.text = half;
            try (UnitOfWork work = store.begin()) {
                work.add(probe);
                assertThatThrownBy(work::flush).hasMessageContaining("half of a character");
                work.discard();
                probe.text = null;
                probe.letter = half.charAt(0);
                work.add(probe);
                if (Character.isSurrogate(half.charAt(0))) {
                    assertThatThrownBy(work::flush).hasMessageContaining("half of a character");
                }
                work.discard();
            }
        }
        store.run(work -> assertThat(work.from(Probe.class).count()).isZero());
    }

    static final class Grade {
        Long id;
        char mark;

        Long id() {
            return id;
        }

        char mark() {
            return mark;
        }
    }

    /** Where a statement writes or compares it, there is no field that could be empty. */
    @Test
    void theCharacterNulIsNoValueInAStatement() {
        store.run(work -> {
            assertThatThrownBy(() ->
                            work.from(Probe.class).update(the(Probe::letter).to('\0')))
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("is the character NUL");
            assertThatThrownBy(() -> work.from(Probe.class)
                            .where(the(Probe::letter).is('\0'))
                            .list())
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("is the character NUL");
            assertThatThrownBy(() -> work.sql("select code from probe where letter = :x")
                            .with("x", '\0')
                            .list())
                    .hasMessageContaining("the value for ':x' is the character NUL");
        });
    }

    @Test
    void aCharacterThatWasNeverSetIsMissing() {
        Model grades = Model.of("grades", Entity.of(Grade.class, Grade::new));
        try (Store other = Trips.open(grades, database.empty())) {
            other.schema().createMissing();
            assertThatThrownBy(() -> other.run(work -> work.add(new Grade())))
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("Grade (new #1).mark = null: is the character NUL, with which Java begins");
        }
    }

    enum Coat {
        RED
    }

    enum LaterCoat {
        RED,
        ULTRAMARINE
    }

    static final class Painted {
        Long id;
        Coat coat;

        Long id() {
            return id;
        }

        Coat coat() {
            return coat;
        }
    }

    static final class Repainted {
        Long id;
        LaterCoat coat;

        Long id() {
            return id;
        }

        LaterCoat coat() {
            return coat;
        }
    }

    /** A constant that came later may be longer than the column takes. SQLite's columns take any. */
    @Test
    void aConstantThatIsTooLongForItsColumnIsADifference() {
        DataSource source = database.empty();
        try (Store before = Trips.open(
                        Model.of(
                                "before", Entity.of(Painted.class, Painted::new).table("hull")),
                        source);
                Store after = Trips.open(
                        Model.of(
                                "after",
                                Entity.of(Repainted.class, Repainted::new).table("hull")),
                        source)) {
            before.schema().createMissing();
            assertThat(before.schema().verify()).isEmpty();
            if (database != TestDatabase.SQLITE) {
                assertThat(after.schema().verify().toString()).contains("coat").contains("(3), but should be");
            }
        }
    }

    /** What is missing in a unique column is like nothing else, and not like an empty text either. */
    @Test
    void aMissingUniqueValueIsNotThere() {
        Model labels = Model.of("labels", Entity.of(Label.class, Label::new).column(Label::mark, length(10), unique()));
        try (Store other = Trips.open(labels, database.empty())) {
            other.schema().createMissing();
            other.bulk(Label.class).insert(List.of(new Label("")));
            assertThat(other.bulk(Label.class)
                            .insertMissing(List.of(new Label(null), new Label(null), new Label("")))
                            .inserted())
                    .isEqualTo(2);
        }
    }

    static final class Label {
        Long id;
        String mark;

        Label() {}

        Label(String mark) {
            this.mark = mark;
        }

        Long id() {
            return id;
        }

        String mark() {
            return mark;
        }

        @Override
        public String toString() {
            return Objects.toString(mark);
        }
    }

    /** An endless range is asked for by leaving its end out. */
    @Test
    void whatTheDatabaseCannotKeepIsNotComparedEither() {
        store.run(work -> {
            assertThatThrownBy(() -> work.from(Probe.class)
                            .where(the(Probe::day).below(LocalDate.MAX))
                            .list())
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("Probe.day is compared with is of the year 999999999")
                    .hasMessageContaining("leave the condition out");
            for (String wrong : List.of("a\0b", "half \uD83D")) {
                assertThatThrownBy(() -> work.from(Probe.class)
                                .where(the(Probe::text).is(wrong))
                                .list())
                        .hasMessageContaining("Probe.text is compared with contains");
                assertThatThrownBy(() -> work.from(Probe.class)
                                .where(text(Probe::text).contains(wrong))
                                .list())
                        .hasMessageContaining("Probe.text is compared with contains");
                assertThatThrownBy(() -> work.sql("select code from probe where text = :text")
                                .with("text", wrong)
                                .list())
                        .hasMessageContaining("the value for ':text' contains");
            }
        });
    }

    @Test
    void aLongTextToLookForIsFoundOrRefusedInOurWords() {
        String longText = "quay ".repeat(12_000);
        Probe probe = new Probe();
        probe.code = "long";
        probe.story = longText + "end";
        store.run(work -> work.add(probe));
        store.run(work -> {
            for (String part : List.of(longText.substring(0, 49_000), longText)) {
                boolean tooLong = database == TestDatabase.SQLITE && part.length() > 50_000;
                if (tooLong) {
                    assertThatThrownBy(() -> work.from(Probe.class)
                                    .where(text(Probe::story).startsWith(part))
                                    .count())
                            .isInstanceOf(BathraException.class)
                            .hasMessageContaining("60001 bytes, but SQLite takes 50000; look for a shorter part");
                } else {
                    assertThat(work.from(Probe.class)
                                    .where(text(Probe::story).startsWith(part))
                                    .count())
                            .isOne();
                }
            }
        });
    }

    /** The column of somebody else's table takes less than the model says. */
    @Test
    void aTextThatIsLongerThanItsColumnSaysWhereToLook() {
        if (database == TestDatabase.SQLITE) {
            return; // its columns take any text
        }
        TestDatabase.execute(
                source,
                database == TestDatabase.MARIADB
                        ? "alter table probe modify kind varchar(3)"
                        : "alter table probe alter column kind " + (database == TestDatabase.H2 ? "" : "type ")
                                + "varchar(3)");
        Probe probe = new Probe();
        probe.code = "a";
        probe.kind = Probe.Kind.REEFER;
        assertThatThrownBy(() -> store.run(work -> work.add(probe)))
                .hasMessageContaining("a text is longer than a column of the database keeps")
                .hasMessageContaining("verify()");
        assertThat(store.schema().verify().toString()).contains("probe.kind");
    }
}
