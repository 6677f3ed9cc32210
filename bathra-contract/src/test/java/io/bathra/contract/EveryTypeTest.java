package io.bathra.contract;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.name;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HexFormat;
import java.util.List;
import java.util.UUID;
import org.junit.jupiter.api.Test;

/** Every type of column, with ordinary and awkward values, through every write path. */
@OnEachDatabase
class EveryTypeTest {
    enum Flag {
        RED,
        GREEN
    }

    /** A field of each type; the names are reserved words, mixed case, or contain a quote. */
    static final class Everything {
        private UUID key;
        private boolean select;
        private Boolean maybe;
        private byte tiny;
        private Byte tinyOrNot;
        private short small;
        private Short smallOrNot;
        private int whole;
        private Integer wholeOrNot;
        private long large;
        private Long largeOrNot;
        private float single;
        private Float singleOrNot;
        private double precise;
        private Double preciseOrNot;
        private char letter = 'x';
        private Character letterOrNot;
        private String text;
        private String order;
        private BigDecimal amount;
        private BigDecimal standard;
        private Flag flag;
        private LocalDate day;
        private LocalTime time;
        private LocalDateTime moment;
        private Instant instant;
        private UUID uuid;
        private byte[] bytes;
        private transient String note = "not persistent";

        UUID key() {
            return key;
        }

        String order() {
            return order;
        }

        BigDecimal amount() {
            return amount;
        }

        String text() {
            return text;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Everything.class, Everything::new)
                .table("Every \"thing\"")
                .key(Everything::key, assigned())
                .column(Everything::amount, digits(12, 3))
                .column(Everything::text, length(40))
                .column(Everything::order, name("Mixed\"Case"))
    };

    static final Model MODEL = Model.of("every type", ENTITIES);

    private final Store store;

    EveryTypeTest(TestDatabase database) {
        store = Trips.open(MODEL, database.empty());
        store.schema().createMissing();
    }

    private static Everything empty() {
        Everything empty = new Everything();
        empty.key = UUID.randomUUID();
        return empty;
    }

    static Everything full(int i) {
        boolean odd = i % 2 == 1;
        Everything full = empty();
        full.select = odd;
        full.maybe = !odd;
        full.tiny = odd ? Byte.MIN_VALUE : Byte.MAX_VALUE;
        full.tinyOrNot = full.tiny;
        full.small = odd ? Short.MIN_VALUE : Short.MAX_VALUE;
        full.smallOrNot = full.small;
        full.whole = odd ? Integer.MIN_VALUE : Integer.MAX_VALUE;
        full.wholeOrNot = full.whole;
        full.large = odd ? Long.MIN_VALUE : Long.MAX_VALUE;
        full.largeOrNot = full.large;
        full.single = odd ? -1.5e-20f : Float.MAX_VALUE;
        full.singleOrNot = full.single;
        full.precise = odd ? Math.PI : -Double.MAX_VALUE;
        full.preciseOrNot = full.precise;
        full.letter = odd ? 'Ø' : '\'';
        full.letterOrNot = full.letter;
        full.text = odd ? "tab\t\\N{\"null\",NULL}\r\n'; drop table x; --" : "Łódź 🚢 trailing  ";
        full.order = odd ? "" : " ";
        full.amount = odd ? new BigDecimal("-123456789.125") : new BigDecimal("1E+2");
        full.standard = new BigDecimal("0.0001");
        full.flag = odd ? Flag.RED : Flag.GREEN;
        full.day = odd ? LocalDate.of(1, 1, 1) : LocalDate.of(9999, 12, 31);
        full.time = odd ? LocalTime.of(23, 59, 59, 999_999_999) : LocalTime.MIDNIGHT;
        full.moment = odd ? LocalDateTime.of(2026, 3, 29, 2, 30) : LocalDateTime.of(1066, 10, 14, 9, 0, 0, 1_999);
        full.instant = odd ? Instant.parse("2026-10-25T01:30:00.123456789Z") : Instant.EPOCH;
        full.uuid = new UUID(odd ? -1L : 0L, i);
        full.bytes = odd ? new byte[] {0, -1, '\\', '"', 127} : new byte[0];
        return full;
    }

    private void storeAndCompare(List<Everything> all) {
        try (UnitOfWork work = store.begin()) {
            all.forEach(work::add);
            work.commit();
            assertThat(work.plan().isEmpty())
                    .as("what was stored is not changed")
                    .isTrue();
        }
        try (UnitOfWork work = store.begin()) {
            List<Everything> read = work.from(Everything.class).list();
            assertThat(work.plan().isEmpty()).as("what was read is not changed").isTrue();
            same(read, all);
            Everything first = work.require(Everything.class, all.get(0).key);
            assertThat(first.key).isEqualTo(all.get(0).key);
        }
    }

    /** Each row against its own. */
    private static void same(List<Everything> read, List<Everything> stored) {
        Comparator<Everything> byKey = Comparator.comparing(one -> one.key.toString());
        List<List<Object>> expected =
                stored.stream().sorted(byKey).map(EveryTypeTest::values).toList();
        assertThat(read.stream().sorted(byKey).map(EveryTypeTest::values).toList())
                .isEqualTo(expected);
    }

    private static List<Object> values(Everything one) {
        List<Object> values = new ArrayList<>();
        for (var field : Everything.class.getDeclaredFields()) {
            try {
                Object value = field.get(one);
                values.add(value instanceof byte[] bytes ? HexFormat.of().formatHex(bytes) : value);
            } catch (IllegalAccessException e) {
                throw new AssertionError(e);
            }
        }
        return values;
    }

    @Test
    void oneRow() {
        storeAndCompare(List.of(full(1)));
    }

    @Test
    void manyRows() {
        List<Everything> all = new ArrayList<>();
        for (int i = 0; i < 20; i++) {
            all.add(i % 5 == 0 ? empty() : full(i));
        }
        storeAndCompare(all);
    }

    /** So many that the database's fastest way is taken. */
    @Test
    void veryManyRows() {
        List<Everything> all = new ArrayList<>();
        for (int i = 0; i < 1_200; i++) {
            all.add(i % 5 == 0 ? empty() : full(i));
        }
        storeAndCompare(all);
    }

    @Test
    void timesAndDecimalsAreInTheObjectAsTheColumnKeepsThem() {
        Everything odd = full(1);
        storeAndCompare(List.of(odd));
        assertThat(odd.time).isEqualTo(LocalTime.of(23, 59, 59, 999_999_000));
        assertThat(odd.instant).isEqualTo(Instant.parse("2026-10-25T01:30:00.123456Z"));
        assertThat(odd.standard).isEqualTo(new BigDecimal("0.0001"));
    }

    @Test
    void everyColumnIsUpdatedAndRemovedForOneAndForManyRows() {
        for (int rows : new int[] {1, 2, 7, 1_200}) {
            List<Everything> all = new ArrayList<>();
            for (int i = 0; i < rows; i++) {
                all.add(empty());
            }
            try (UnitOfWork work = store.begin()) {
                all.forEach(work::add);
                work.flush();
                for (Everything one : all) {
                    copy(full(1), one);
                }
                assertThat(work.plan().steps())
                        .singleElement()
                        .satisfies(step -> assertThat(step.rowCount()).isEqualTo(rows));
                work.flush();
                all.get(0).bytes[0] = 42;
                assertThat(work.changes()).as("an array changed in place").singleElement();
                work.commit();
            }
            try (UnitOfWork work = store.begin()) {
                same(work.from(Everything.class).list(), all);
                work.from(Everything.class).list().forEach(work::remove);
                assertThat(work.commit().total().deleted()).isEqualTo(rows);
            }
        }
    }

    private static void copy(Everything from, Everything to) {
        UUID key = to.key;
        for (var field : Everything.class.getDeclaredFields()) {
            try {
                field.set(to, field.get(from));
            } catch (IllegalAccessException e) {
                throw new AssertionError(e);
            }
        }
        to.key = key;
    }
}
