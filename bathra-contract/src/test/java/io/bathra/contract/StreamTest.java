package io.bathra.contract;

import static io.bathra.query.Ask.number;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.OtherProcess;
import io.bathra.testing.TestDatabase;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** A million rows go through a small memory, as entities and in plain SQL. */
@Tag("exhaustive")
@OnEachDatabase
class StreamTest {
    static final class Reading {
        Long id;
        String sensor;
        int level;

        Long id() {
            return id;
        }

        int level() {
            return level;
        }
    }

    record Level(String sensor, int level) {}

    private static final Model MODEL = Model.of("readings", Entity.of(Reading.class, Reading::new));
    private static final boolean LONG = Boolean.getBoolean("bathra.long");
    private static final long ROWS = LONG ? 1_000_000 : 250_000;
    private static final int MEGABYTES = LONG ? 64 : 32;

    private final TestDatabase database;

    StreamTest(TestDatabase database) {
        this.database = database;
    }

    private String numbers() {
        return switch (database) {
            case H2 -> "select x from system_range(1, :rows)";
            case POSTGRESQL -> "select x from generate_series(1, :rows) x";
            case MARIADB -> "select seq as x from seq_1_to_1000000 where seq <= :rows";
            case SQLITE ->
                "with recursive n(x) as (select 1 union all select x + 1 from n where x < :rows) select x from n";
        };
    }

    @Test
    void veryManyRowsInASmallHeap() throws Exception {
        String url = database.sharedUrl();
        try (Store store = Trips.open(MODEL, url)) {
            store.schema().createMissing();
            String name = "'a sensor that has so long a name that many of them would not fit in: '";
            String sensor = database == TestDatabase.MARIADB ? "concat(" + name + ", x)" : name + " || x";
            store.sql("insert into reading (id, sensor, level) select x, " + sensor + ", 1 from (" + numbers()
                            + ") numbers")
                    .with("rows", ROWS)
                    .execute();
        }
        assertThat(OtherProcess.within(MEGABYTES, Reader.class, url).output()).contains(ROWS + " " + ROWS);
    }

    /** Reads everything twice, in a virtual machine of its own. */
    static final class Reader {
        public static void main(String[] arguments) {
            try (Store store = Trips.open(MODEL, arguments[0]);
                    UnitOfWork work = store.begin()) {
                long entities = sum(() -> work
                        .from(Reading.class)
                        .where(number(Reading::level).above(0))
                        .stream()
                        .map(Reading::level));
                long records = sum(() -> work.sql("select sensor, level from reading").as(Level.class).stream()
                        .map(Level::level));
                System.out.println(entities + " " + records);
            }
        }

        private static long sum(Supplier<Stream<Integer>> levels) {
            try (Stream<Integer> stream = levels.get()) {
                return stream.mapToLong(level -> level).sum();
            }
        }
    }
}
