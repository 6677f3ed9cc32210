package io.bathra.contract;

import static io.bathra.model.Declare.computed;
import static io.bathra.model.Declare.databaseDefault;
import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.attr.Converter;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.TraceLine;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.math.BigDecimal;
import java.sql.Connection;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;

/** Each number of rows has its own way into the database; what comes back is the same for all. */
@OnEachDatabase
class WritePathTest {
    /** So many rows that each way is taken once. */
    private static final int[] ROWS = {1, 3, 40, 150};

    private static final String[] TEXTS = {
        "plain",
        "",
        " ",
        "tab\tline\nreturn\rback\\slash",
        "\\N",
        "\\.",
        "{\"a\",NULL}",
        "'; --",
        "Łódź 🚢",
        "\"quoted\""
    };

    /** A type of one's own. */
    record Mark(String letters) {}

    static final class Crate {
        private Long id;
        private String label;
        private Mark mark;
        private BigDecimal weight;
        private Instant sealed;
        private String state;
        private int count = 2;
        private Integer pieces;
        private int revision;

        Crate() {}

        Crate(int number) {
            change(number);
        }

        void change(int number) {
            label = number % 7 == 6 ? null : TEXTS[number % TEXTS.length];
            mark = number % 5 == 4 ? null : new Mark("M" + number);
            weight = BigDecimal.valueOf(number * 1001L, 3);
            sealed = Instant.parse("2026-04-01T06:00:00.000001Z").plusSeconds(number);
            count = number;
        }

        /** All but the key. */
        List<Object> values() {
            return Arrays.asList(label, mark, weight, sealed, state, count, pieces, revision);
        }

        String label() {
            return label;
        }

        Mark mark() {
            return mark;
        }

        BigDecimal weight() {
            return weight;
        }

        String state() {
            return state;
        }

        Integer pieces() {
            return pieces;
        }

        int revision() {
            return revision;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Crate.class, Crate::new)
                .column(Crate::label, length(40))
                .column(Crate::mark, Converter.to(String.class, Mark::letters, Mark::new), length(10))
                .column(Crate::weight, digits(10, 3))
                .column(Crate::state, required(), length(10), databaseDefault("'empty'"))
                .column(Crate::pieces, computed("count * 12"))
                .version(Crate::revision)
    };

    static final Model MODEL = Model.of("crates", ENTITIES);

    private final TestDatabase database;
    private final DataSource source;

    WritePathTest(TestDatabase database) {
        this.database = database;
        source = database.empty();
        Trips.open(MODEL, source).schema().createMissing();
    }

    @Test
    void whatEachPathWritesIsWhatIsReadBack() {
        List<List<String>> paths = paths(Trips.open(MODEL, source));
        assertThat(paths)
                .isEqualTo(
                        switch (database) {
                            case POSTGRESQL ->
                                List.of(
                                        List.of("multi-row", "batch", "batch"),
                                        List.of("multi-row", "batch", "batch"),
                                        List.of("arrays", "arrays", "arrays"),
                                        List.of("copy", "arrays", "arrays"));
                            case MARIADB ->
                                List.of(
                                        List.of("multi-row", "batch", "batch"),
                                        List.of("multi-row", "batch", "multi-row"),
                                        List.of("batch", "multi-row", "multi-row"),
                                        List.of("batch", "multi-row", "multi-row"));
                            case H2, SQLITE -> {
                                List<String> same = List.of("multi-row", "batch", "batch");
                                yield List.of(same, same, same, same);
                            }
                        });
    }

    @Test
    void aDriverThatHidesItselfHasOtherWays() {
        List<List<String>> paths = paths(Trips.open(MODEL, hidden(source)));
        assertThat(paths.get(3).get(0))
                .isEqualTo(
                        switch (database) {
                            case POSTGRESQL -> "arrays";
                            case MARIADB -> "batch";
                            case H2, SQLITE -> "multi-row";
                        });
    }

    /** Inserts, changes and removes some rows in every number, reading them back each time; tells the paths. */
    private static List<List<String>> paths(Store store) {
        List<List<String>> paths = new ArrayList<>();
        for (int rows : ROWS) {
            List<String> taken = new ArrayList<>();
            List<Crate> all = new ArrayList<>();
            for (int i = 0; i < rows; i++) {
                all.add(new Crate(i));
            }
            try (UnitOfWork work = store.begin()) {
                all.forEach(work::add);
                work.flush();
                taken.add(path(work, "insert", "copy"));
                work.commit();
            }
            assertThat(all).allSatisfy(crate -> {
                assertThat(crate.state).isEqualTo("empty");
                assertThat(crate.pieces).isEqualTo(crate.count * 12);
                assertThat(crate.revision).isZero();
            });
            same(store, all);
            try (UnitOfWork work = store.begin()) {
                List<Crate> read = work.from(Crate.class).list();
                for (Crate crate : read) {
                    crate.change(crate.count + 1);
                    crate.state = "full";
                }
                work.flush();
                taken.add(path(work, "update", "update"));
                work.commit();
                assertThat(read).allSatisfy(crate -> {
                    assertThat(crate.pieces).isEqualTo(crate.count * 12);
                    assertThat(crate.revision).isOne();
                });
                same(store, read);
            }
            try (UnitOfWork work = store.begin()) {
                work.from(Crate.class).list().forEach(work::remove);
                work.flush();
                taken.add(path(work, "delete", "delete"));
                work.commit();
                assertThat(work.from(Crate.class).count()).isZero();
            }
            paths.add(taken);
        }
        return paths;
    }

    private static void same(Store store, List<Crate> expected) {
        try (UnitOfWork work = store.begin()) {
            List<Crate> read = work.findAll(
                    Crate.class, expected.stream().map(crate -> crate.id).toList());
            assertThat(read.stream().map(Crate::values).toList())
                    .containsExactlyElementsOf(
                            expected.stream().map(Crate::values).toList());
            assertThat(work.plan().isEmpty()).isTrue();
        }
    }

    private static String path(UnitOfWork work, String verb, String otherVerb) {
        TraceLine line = work.trace().lines().stream()
                .filter(one -> one.sql().startsWith(verb) || one.sql().startsWith(otherVerb))
                .findFirst()
                .orElseThrow();
        return Objects.requireNonNull(line.path());
    }

    /** Connections that do not tell whose they are. */
    private static DataSource hidden(DataSource source) {
        return proxy(DataSource.class, source);
    }

    private static <T> T proxy(Class<T> type, T real) {
        return type.cast(Proxy.newProxyInstance(
                WritePathTest.class.getClassLoader(), new Class<?>[] {type}, (proxy, method, arguments) -> {
                    if (method.getName().equals("isWrapperFor")) {
                        return false;
                    }
                    try {
                        Object result = method.invoke(real, arguments);
                        return result instanceof Connection connection ? proxy(Connection.class, connection) : result;
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                }));
    }
}
