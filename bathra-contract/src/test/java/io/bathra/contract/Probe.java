package io.bathra.contract;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;

import io.bathra.attr.Attr;
import io.bathra.model.Declare;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Assignment;
import io.bathra.query.Condition;
import io.bathra.query.Ordering;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.UUID;
import java.util.function.BiConsumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** A row with a column of each type, and the values at the edges of these types. */
final class Probe {
    enum Kind {
        DRY,
        REEFER,
        I_WITH_NO_DOT
    }

    /** The same as a record. */
    record Row(
            String code,
            @Nullable Boolean flag,
            @Nullable Byte tiny,
            @Nullable Short small,
            @Nullable Integer whole,
            @Nullable Long large,
            @Nullable Float single,
            @Nullable Double precise,
            @Nullable Character letter,
            @Nullable String text,
            @Nullable String story,
            @Nullable BigDecimal amount,
            @Nullable BigDecimal share,
            @Nullable Kind kind,
            @Nullable LocalDate day,
            @Nullable LocalTime time,
            @Nullable LocalDateTime at,
            @Nullable Instant moment,
            @Nullable UUID token,
            byte @Nullable [] bytes) {}

    Long id;
    String code;
    Boolean flag;
    Byte tiny;
    Short small;
    Integer whole;
    Long large;
    Float single;
    Double precise;
    Character letter;
    String text;
    String story;
    BigDecimal amount;
    BigDecimal share;
    Kind kind;
    LocalDate day;
    LocalTime time;
    LocalDateTime at;
    Instant moment;
    UUID token;
    byte[] bytes;

    Long id() {
        return id;
    }

    String code() {
        return code;
    }

    Boolean flag() {
        return flag;
    }

    Byte tiny() {
        return tiny;
    }

    Short small() {
        return small;
    }

    Integer whole() {
        return whole;
    }

    Long large() {
        return large;
    }

    Float single() {
        return single;
    }

    Double precise() {
        return precise;
    }

    Character letter() {
        return letter;
    }

    String text() {
        return text;
    }

    String story() {
        return story;
    }

    BigDecimal amount() {
        return amount;
    }

    BigDecimal share() {
        return share;
    }

    Kind kind() {
        return kind;
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

    UUID token() {
        return token;
    }

    byte[] bytes() {
        return bytes;
    }

    /**
     * A column.
     *
     * @param attr its accessor
     * @param set gives it a value
     * @param is asks for the rows that have a value; null where values cannot be compared
     * @param order null where values cannot be compared
     */
    record Column<V>(
            String name,
            Attr<Probe, V> attr,
            BiConsumer<Probe, V> set,
            @Nullable Function<V, Condition<Probe>> is,
            @Nullable Function<V, Assignment<Probe>> to,
            @Nullable Ordering<Probe> order,
            List<V> edges) {
        @Nullable
        Object of(Probe probe) {
            return attr.get(probe);
        }

        V edge(int row) {
            return edges.get(row % edges.size());
        }

        void put(Probe probe, int row) {
            set.accept(probe, edge(row));
        }
    }

    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    private static <V extends Comparable<? super V>> Column<V> column(
            String name, Attr<Probe, V> attr, BiConsumer<Probe, V> set, V... edges) {
        return new Column<>(
                name,
                attr,
                set,
                value -> the(attr).is(value),
                value -> the(attr).to(value),
                the(attr).ascending(),
                Arrays.asList(edges));
    }

    static final List<Column<?>> COLUMNS = List.of(
            column("flag", Probe::flag, (p, v) -> p.flag = v, true, false, null),
            column("tiny", Probe::tiny, (p, v) -> p.tiny = v, Byte.MIN_VALUE, (byte) 0, Byte.MAX_VALUE, null),
            column("small", Probe::small, (p, v) -> p.small = v, Short.MIN_VALUE, (short) -1, Short.MAX_VALUE),
            column("whole", Probe::whole, (p, v) -> p.whole = v, Integer.MIN_VALUE, 0, Integer.MAX_VALUE, null, 7),
            column("large", Probe::large, (p, v) -> p.large = v, Long.MIN_VALUE, 0L, Long.MAX_VALUE, 1L << 53 | 1),
            column("single", Probe::single, (p, v) -> p.single = v, -0.0f, 0.1f, Float.MAX_VALUE, Float.MIN_VALUE),
            column(
                    "precise",
                    Probe::precise,
                    (p, v) -> p.precise = v,
                    -0.0,
                    0.1,
                    Double.MAX_VALUE,
                    Double.MIN_VALUE,
                    1e-300,
                    null,
                    -1.5),
            column(
                    "letter",
                    Probe::letter,
                    (p, v) -> p.letter = v,
                    'x',
                    '\0',
                    '\'',
                    ' ',
                    '\\',
                    '\u00d8',
                    'I',
                    '\u0131'),
            column(
                    "text",
                    Probe::text,
                    (p, v) -> p.text = v,
                    "",
                    " ",
                    "\\N",
                    "\\.",
                    "it's \"said\" `so`",
                    "trailing  ",
                    "TRAILING  ",
                    "Z\u030c \uD83D\uDEA2",
                    "I\u0130i\u0131 \u00df",
                    "a\tb\r\nc\\",
                    null,
                    "%_!*?[",
                    "(secret)"),
            column(
                    "story",
                    Probe::story,
                    (p, v) -> p.story = v,
                    "",
                    "\\\\.\n\\N\t",
                    null,
                    "\uD83D\uDEA2".repeat(3_000)),
            column(
                    "amount",
                    Probe::amount,
                    (p, v) -> p.amount = v,
                    new BigDecimal("0E+3"),
                    new BigDecimal("-9999999999.99"),
                    new BigDecimal("1E+2"),
                    new BigDecimal("12.50"),
                    null,
                    new BigDecimal("0.01")),
            column(
                    "share",
                    Probe::share,
                    (p, v) -> p.share = v,
                    new BigDecimal("0.0000"),
                    new BigDecimal("0.9999"),
                    new BigDecimal("-0.0001"),
                    BigDecimal.ZERO,
                    new BigDecimal("0.5")),
            column("kind", Probe::kind, (p, v) -> p.kind = v, Kind.values()),
            column(
                    "day",
                    Probe::day,
                    (p, v) -> p.day = v,
                    LocalDate.of(1, 1, 1),
                    LocalDate.of(9999, 12, 31),
                    LocalDate.of(1582, 10, 10),
                    LocalDate.of(2011, 12, 30),
                    null),
            column(
                    "time",
                    Probe::time,
                    (p, v) -> p.time = v,
                    LocalTime.MIDNIGHT,
                    LocalTime.MAX,
                    LocalTime.of(2, 30),
                    LocalTime.of(12, 0, 0, 1_999)),
            column(
                    "at",
                    Probe::at,
                    (p, v) -> p.at = v,
                    LocalDateTime.parse("2026-03-29T02:30"), // there is no such time in Berlin
                    LocalDateTime.parse("2026-03-08T00:30:00.123456789"), // nor in St. John's, in days gone by
                    LocalDateTime.parse("2011-12-30T12:00"), // nor in Apia, all day
                    LocalDateTime.parse("1893-04-01T00:03"),
                    LocalDateTime.parse("9999-12-31T23:59:59.999999999"),
                    LocalDateTime.parse("0001-01-01T00:00"),
                    null),
            column(
                    "moment",
                    Probe::moment,
                    (p, v) -> p.moment = v,
                    Instant.parse("2026-03-29T01:30:00.000000999Z"),
                    Instant.parse("2026-10-25T00:30:00Z"),
                    Instant.parse("9999-12-31T23:59:59.999999999Z"),
                    Instant.parse("0001-01-01T00:00:00Z"),
                    Instant.EPOCH,
                    null),
            column(
                    "token",
                    Probe::token,
                    (p, v) -> p.token = v,
                    new UUID(0, 0),
                    new UUID(-1, -1),
                    new UUID(Long.MIN_VALUE, Long.MAX_VALUE),
                    null),
            new Column<byte[]>(
                    "bytes",
                    Probe::bytes,
                    (p, v) -> p.bytes = v,
                    null,
                    null,
                    null,
                    Arrays.asList(new byte[0], new byte[] {0, -1, '\\', 'x', 10, 13}, null, new byte[5_000])));

    /** As many rows as the longest list of values has. */
    static final int EDGES =
            COLUMNS.stream().mapToInt(column -> column.edges().size()).max().orElseThrow();

    static final Model MODEL = Model.of(
            "probes",
            Entity.of(Probe.class, Probe::new)
                    .column(Probe::code, required(), length(12), unique())
                    .column(Probe::share, digits(4, 4))
                    .column(Probe::amount, digits(12, 2))
                    .column(Probe::text, length(40))
                    .column(Probe::story, Declare.text()));

    /** The row of a number; each value stands in one at least of as many as there are edges. */
    static Probe numbered(int number) {
        Probe probe = new Probe();
        probe.code = "c" + number;
        COLUMNS.forEach(column -> column.put(probe, number));
        return probe;
    }

    static List<Probe> numbered(int first, int rows) {
        List<Probe> probes = new ArrayList<>();
        for (int i = 0; i < rows; i++) {
            probes.add(numbered(first + i));
        }
        return probes;
    }

    Row row() {
        return new Row(
                code, flag, tiny, small, whole, large, single, precise, letter, text, story, amount, share, kind, day,
                time, at, moment, token, bytes);
    }

    /** What a column keeps of a value, worked out by hand. */
    static @Nullable Object kept(String column, @Nullable Object value) {
        if (value instanceof LocalDateTime time) {
            return time.withNano(time.getNano() / 1_000 * 1_000);
        } else if (value instanceof LocalTime time) {
            return time.withNano(time.getNano() / 1_000 * 1_000);
        } else if (value instanceof Instant time) {
            return Instant.ofEpochSecond(time.getEpochSecond(), time.getNano() / 1_000 * 1_000);
        } else if (value instanceof BigDecimal number) {
            return number.setScale(column.equals("share") ? 4 : 2);
        } else if (value instanceof byte[] bytes) {
            return Arrays.toString(bytes);
        } else if (Objects.equals(value, -0.0f) || Objects.equals(value, -0.0)) {
            return value instanceof Float ? (Object) 0.0f : (Object) 0.0;
        }
        return Objects.equals(value, '\0') ? null : value;
    }
}
