package io.bathra.contract;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.bulk.On;
import io.bathra.error.BathraException;
import io.bathra.error.InvalidChangesException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TimeZone;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Values at the edges of their types, through every way in, at few and many rows, and out again. */
@OnEachDatabase
class EdgeValueTest {
    static final class Probe {
        Long id;
        String code;
        Double precise;
        double bare;
        Float single;
        BigDecimal share;
        BigDecimal amount;
        LocalDate day;
        LocalTime time;
        LocalDateTime at;
        Instant moment;
        Character letter;
        String text;

        Long id() {
            return id;
        }

        String code() {
            return code;
        }

        Double precise() {
            return precise;
        }

        double bare() {
            return bare;
        }

        Float single() {
            return single;
        }

        BigDecimal share() {
            return share;
        }

        BigDecimal amount() {
            return amount;
        }

        LocalDate day() {
            return day;
        }

        LocalTime time() {
            return time;
        }

        LocalDateTime at() {
            return at;
        }

        Instant moment() {
            return moment;
        }

        Character letter() {
            return letter;
        }

        String text() {
            return text;
        }

        List<Object> values() {
            List<Object> values = new ArrayList<>();
            for (Object one :
                    new Object[] {precise, bare, single, share, amount, day, time, at, moment, letter, text}) {
                values.add(one);
            }
            return values;
        }
    }

    private static final Model MODEL = Model.of(
            "probes",
            Entity.of(Probe.class, Probe::new)
                    .column(Probe::code, required(), length(12), unique())
                    .column(Probe::share, digits(4, 4))
                    .column(Probe::amount, digits(12, 2))
                    .column(Probe::text, length(40)));

    /** So many rows are written in one way and in another. */
    private static final int[] ROWS = {1, 3, 40, 110};

    private final TestDatabase database;
    private final Store store;
    private final TimeZone zone = TimeZone.getDefault();

    EdgeValueTest(TestDatabase database) {
        this.database = database;
        store = Store.open(MODEL, database.empty());
        store.schema().createMissing();
    }

    @AfterEach
    void goHome() {
        TimeZone.setDefault(zone);
    }

    private static List<Probe> edges() {
        List<Probe> edges = new ArrayList<>();
        edges.add(edge(-0.0, "0.0000", "0E+3", "2026-03-29T02:30", '\0', "Z\u030c \uD83D\uDEA2 trailing  "));
        edges.add(edge(Double.MIN_VALUE, "0.9999", "-9999999999.99", "2026-03-08T00:30:00.123456789", 'x', ""));
        edges.add(edge(Double.MAX_VALUE, "-0.0001", "1E+2", "2011-12-30T12:00", '\'', "\\N \\. \"'"));
        edges.add(edge(-1.5, "0", "12.50", "1893-04-01T00:03", '\u00d8', "I\u0130i\u0131 \u00df"));
        edges.add(edge(0.0, "0.5", "0.00", "9999-12-31T23:59:59.999999999", ' ', " "));
        edges.add(edge(1e-300, "0.10", "7", "0001-01-01T00:00", '~', "a\tb\r\nc"));
        return edges;
    }

    private static Probe edge(double number, String share, String amount, String at, char letter, String text) {
        Probe probe = new Probe();
        probe.precise = number;
        probe.bare = number;
        probe.single = (float) number;
        if (probe.single.isInfinite()) {
            probe.single = Float.MAX_VALUE;
        }
        probe.share = new BigDecimal(share);
        probe.amount = new BigDecimal(amount);
        probe.at = LocalDateTime.parse(at);
        probe.day = probe.at.toLocalDate();
        probe.time = probe.at.toLocalTime();
        probe.moment = Instant.parse(at + (at.length() == 16 ? ":00Z" : "Z"));
        probe.letter = letter;
        probe.text = text;
        return probe;
    }

    /** What the columns keep, worked out by hand. */
    private static List<Object> kept(Probe probe) {
        List<Object> kept = probe.values();
        kept.replaceAll(value -> value instanceof Double number && number == 0
                ? 0.0
                : value instanceof Float number && number == 0
                        ? 0.0f
                        : value instanceof LocalDateTime time
                                ? time.withNano(time.getNano() / 1_000 * 1_000)
                                : value instanceof LocalTime time
                                        ? time.withNano(time.getNano() / 1_000 * 1_000)
                                        : value instanceof Instant time
                                                ? Instant.ofEpochSecond(
                                                        time.getEpochSecond(), time.getNano() / 1_000 * 1_000)
                                                : value instanceof Character letter && letter == 0 ? null : value);
        kept.set(3, probe.share.setScale(4));
        kept.set(4, probe.amount.setScale(2));
        return kept;
    }

    private static List<Probe> copies(int rows) {
        List<Probe> copies = new ArrayList<>();
        List<Probe> edges = edges();
        for (int i = 0; i < rows; i++) {
            Probe copy = edges().get(i % edges.size());
            copy.code = "c" + rows + "-" + i;
            copies.add(copy);
        }
        return copies;
    }

    private void readBack(int rows) {
        List<Probe> expected = copies(rows);
        store.run(work -> {
            Map<String, Probe> read = new LinkedHashMap<>();
            work.from(Probe.class).list().forEach(probe -> read.put(probe.code, probe));
            for (Probe probe : expected) {
                assertThat(read.get(probe.code).values()).as(probe.code).isEqualTo(kept(probe));
            }
            for (Probe probe : expected.subList(0, Math.min(expected.size(), edges().size()))) {
                for (Condition<Probe> condition : conditions(probe)) {
                    assertThat(work.from(Probe.class)
                                    .where(the(Probe::code).is(probe.code), condition)
                                    .count())
                            .as(() -> condition + " of " + probe.code)
                            .isOne();
                }
            }
            assertThat(work.changes()).as("reading changes nothing").isEmpty();
        });
    }

    private static List<Condition<Probe>> conditions(Probe probe) {
        return List.of(
                the(Probe::precise).is(probe.precise),
                the(Probe::bare).is(probe.bare),
                the(Probe::share).is(probe.share),
                the(Probe::amount).is(probe.amount),
                the(Probe::day).is(probe.day),
                the(Probe::time).is(probe.time),
                the(Probe::at).is(probe.at),
                the(Probe::moment).is(probe.moment),
                the(Probe::text).is(probe.text),
                the(Probe::at).in(List.of(probe.at)));
    }

    @ParameterizedTest
    @ValueSource(strings = {"UTC", "Europe/Berlin", "America/St_Johns", "Pacific/Apia"})
    void aUnitStoresAndReadsThem(String id) {
        TimeZone.setDefault(TimeZone.getTimeZone(id));
        for (int rows : ROWS) {
            try (UnitOfWork work = store.begin()) {
                List<Probe> all = copies(rows);
                all.forEach(work::add);
                work.commit();
                assertThat(work.changes()).as("what was stored is not changed").isEmpty();
            }
            readBack(rows);
        }
        everyWayOfBulk();
    }

    private void everyWayOfBulk() {
        for (int rows : ROWS) {
            assertThat(store.bulk(Probe.class)
                            .upsert(copies(rows), On.on(Probe::code))
                            .unchanged())
                    .as("of %s rows", rows)
                    .isEqualTo(rows);
        }
        store.run(work -> work.from(Probe.class).delete());
        for (int rows : ROWS) {
            store.bulk(Probe.class).insert(copies(rows));
            readBack(rows);
        }
        store.run(work -> work.from(Probe.class).delete());
        for (int rows : ROWS) {
            List<Map<String, Object>> maps = new ArrayList<>();
            copies(rows).forEach(probe -> maps.add(map(probe)));
            store.bulk(Probe.class).maps().insertMissing(maps);
            readBack(rows);
        }
    }

    private static Map<String, Object> map(Probe probe) {
        Map<String, Object> map = new LinkedHashMap<>();
        List<String> names = List.of(
                "precise", "bare", "single", "share", "amount", "day", "time", "at", "moment", "letter", "text");
        List<Object> values = probe.values();
        for (int i = 0; i < names.size(); i++) {
            map.put(names.get(i), values.get(i));
        }
        map.put("code", probe.code);
        return map;
    }

    @Test
    void handlesAndUpdatesByQueriesStoreThem() {
        List<Probe> edges = copies(edges().size());
        List<Long> keys = new ArrayList<>();
        for (Probe probe : edges) {
            Probe empty = new Probe();
            empty.code = probe.code;
            store.run(work -> work.add(empty));
            keys.add(empty.id);
        }
        store.run(work -> {
            for (int i = 0; i < edges.size(); i++) {
                Probe probe = edges.get(i);
                work.row(Probe.class, keys.get(i).intValue()) // a narrower number than the key's
                        .set(Probe::precise, probe.precise)
                        .set(Probe::bare, probe.bare)
                        .set(Probe::single, probe.single)
                        .set(Probe::share, probe.share)
                        .set(Probe::amount, probe.amount)
                        .set(Probe::letter, probe.letter);
                work.from(Probe.class)
                        .where(the(Probe::code).is(probe.code))
                        .update(
                                the(Probe::day).to(probe.day),
                                the(Probe::time).to(probe.time),
                                the(Probe::at).to(probe.at),
                                the(Probe::moment).to(probe.moment),
                                the(Probe::text).to(probe.text));
            }
        });
        readBack(edges.size());
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
        assertThatThrownBy(() -> store.bulk(Probe.class)
                        .maps()
                        .insert(List.of(Map.of("code", "h", "bare", 0, "amount", hostile))))
                .hasMessageContaining("does not fit into digits(12, 2)");
        assertThatThrownBy(() -> store.bulk(Probe.class)
                        .texts()
                        .insert(List.of(Map.of("code", "h", "bare", "0", "amount", text))))
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
                    assertThat(read.values()).isEqualTo(probe.values());
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
        if (database != TestDatabase.POSTGRESQL && database != TestDatabase.SQLITE) {
            return;
        }
        String never = database == TestDatabase.SQLITE ? "'soon'" : "'infinity'";
        for (String column : List.of("day", "at", "moment")) {
            Probe probe = new Probe();
            probe.code = column;
            store.run(work -> work.add(probe));
            store.run(work -> work.sql("update probe set " + column + " = " + never + " where id = :id")
                    .with("id", probe.id)
                    .execute());
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
        try (Store other = Store.open(grades, database.empty())) {
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
        try (Store before = Store.open(
                        Model.of(
                                "before", Entity.of(Painted.class, Painted::new).table("hull")),
                        source);
                Store after = Store.open(
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
        try (Store other = Store.open(labels, database.empty())) {
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
}
