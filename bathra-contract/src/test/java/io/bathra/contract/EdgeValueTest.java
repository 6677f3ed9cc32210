package io.bathra.contract;

import static io.bathra.bulk.On.on;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.FlushReport.Rows;
import io.bathra.Row;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.answer.Pending;
import io.bathra.bulk.BulkResult;
import io.bathra.contract.Probe.Column;
import io.bathra.query.Query;
import io.bathra.testing.ElsewhereSource;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TimeZone;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Values at the edges of their types go in by every way, in few rows and in many, and come out the same by every way
 * out; a second JVM does it all again in another zone and language, with sessions in a third one.
 */
@OnEachDatabase
@Tag("exhaustive")
class EdgeValueTest {
    private static final boolean ALL = Boolean.getBoolean("bathra.long");

    /** On both sides of what makes a database take another form. */
    private static final int[] ROWS = ALL
            ? new int[] {1, 2, 3, 40, 110, 1_100, 8_200}
            : Boolean.getBoolean("bathra.elsewhere") ? new int[] {110} : new int[] {1, 12, 110};

    private final Store store;
    private final TimeZone zone = TimeZone.getDefault();

    EdgeValueTest(TestDatabase database) {
        store = Trips.open(Probe.MODEL, ElsewhereSource.of(database));
        store.schema().createMissing();
    }

    @AfterEach
    void goHome() {
        TimeZone.setDefault(zone);
        store.close();
    }

    /** A way of giving rows to the database. */
    enum WayIn {
        UNIT {
            @Override
            void store(Store store, List<Probe> probes) {
                store.run(work -> {
                    probes.forEach(work::add);
                    work.flush();
                    assertThat(work.changes())
                            .as("what was stored is not changed")
                            .isEmpty();
                });
            }
        },
        CHANGED_IN_A_UNIT {
            @Override
            void store(Store store, List<Probe> probes) {
                empty(store, probes);
                store.run(work -> {
                    Map<String, Probe> there = byCode(work.from(Probe.class).list().stream());
                    probes.forEach(probe -> copy(probe, Objects.requireNonNull(there.get(probe.code))));
                });
            }
        },
        HANDLES {
            @Override
            void store(Store store, List<Probe> probes) {
                empty(store, probes);
                Map<String, Long> keys = new LinkedHashMap<>();
                store.run(work -> work.from(Probe.class).list().forEach(probe -> keys.put(probe.code, probe.id)));
                store.run(work -> probes.forEach(probe -> {
                    Row<Probe> row = work.row(Probe.class, keys.get(probe.code));
                    Probe.COLUMNS.forEach(column -> set(row, column, probe));
                }));
            }
        },
        UPDATES_BY_QUERY {
            @Override
            void store(Store store, List<Probe> probes) {
                List<Probe> first = probes.subList(0, Math.min(probes.size(), Probe.EDGES));
                List<Probe> rest = probes.subList(first.size(), probes.size());
                empty(store, first);
                store.run(work -> first.forEach(probe -> {
                    Query<Probe> row =
                            work.from(Probe.class).where(the(Probe::code).is(probe.code));
                    Probe.COLUMNS.forEach(column -> update(row, column, probe));
                }));
                UNIT.store(store, rest);
            }
        },
        CARRIED {
            @Override
            void store(Store store, List<Probe> probes) {
                empty(store, probes);
                store.run(work -> {
                    Map<String, Probe> there = byCode(work.from(Probe.class).list().stream());
                    probes.forEach(
                            probe -> work.carry(probe.row(), Objects.requireNonNull(there.get(probe.code)), null));
                });
            }
        },
        FOUND_OR_ADDED {
            @Override
            void store(Store store, List<Probe> probes) {
                store.run(work -> assertThat(work.findOrAddAll(Probe.class, on(Probe::code), probes))
                        .isEqualTo(probes));
            }
        },
        BULK {
            @Override
            void store(Store store, List<Probe> probes) {
                store.bulk(Probe.class).insert(probes);
            }
        },
        BULK_STREAM {
            @Override
            void store(Store store, List<Probe> probes) {
                store.bulk(Probe.class).portion(7).insertMissing(probes.stream());
            }
        },
        BULK_UPSERT {
            @Override
            void store(Store store, List<Probe> probes) {
                store.bulk(Probe.class).upsert(probes.subList(0, probes.size() / 2), on(Probe::code));
                empty(store, probes.subList(probes.size() / 2, probes.size()));
                BulkResult result = store.bulk(Probe.class).upsert(probes, on(Probe::code));
                assertThat(result.inserted()).isZero();
                BulkResult again = store.bulk(Probe.class).upsert(probes, on(Probe::code));
                assertThat(again.unchanged()).isEqualTo(probes.size());
            }
        },
        RECORDS {
            @Override
            void store(Store store, List<Probe> probes) {
                store.bulk(Probe.class)
                        .records(Probe.Row.class)
                        .insert(probes.stream().map(Probe::row).toList());
            }
        },
        MAPS {
            @Override
            void store(Store store, List<Probe> probes) {
                List<Map<String, ?>> maps = new ArrayList<>();
                probes.forEach(probe -> maps.add(map(probe, value -> value)));
                store.bulk(Probe.class).maps().insertMissing(maps, on(Probe::code));
            }
        },
        TEXTS {
            @Override
            void store(Store store, List<Probe> probes) {
                List<Map<String, @Nullable String>> maps = new ArrayList<>();
                probes.forEach(probe -> maps.add(map(probe, this::text)));
                store.bulk(Probe.class).texts().upsert(maps, on(Probe::code));
            }

            /** An empty text stands for nothing in a file. */
            @Override
            @Nullable
            Object kept(@Nullable Object value) {
                return Objects.equals(value, "") || Objects.equals(value, "[]") ? null : value;
            }
        };

        abstract void store(Store store, List<Probe> probes);

        @Nullable
        Object kept(@Nullable Object value) {
            return value;
        }

        @Nullable
        String text(@Nullable Object value) {
            return value == null || value.equals('\0')
                    ? null
                    : value instanceof byte[] bytes ? HexFormat.of().formatHex(bytes) : value.toString();
        }

        static <T> Map<String, @Nullable T> map(Probe probe, Function<@Nullable Object, @Nullable T> form) {
            Map<String, @Nullable T> map = new LinkedHashMap<>();
            map.put("code", form.apply(probe.code));
            Probe.COLUMNS.forEach(column -> map.put(column.name(), form.apply(column.of(probe))));
            return map;
        }

        static void empty(Store store, List<Probe> probes) {
            store.run(work -> probes.forEach(probe -> {
                Probe empty = new Probe();
                empty.code = probe.code;
                work.add(empty);
            }));
        }

        @SuppressWarnings("unchecked") // both are of the column's type
        static <V> void copy(Probe from, Probe to) {
            Probe.COLUMNS.forEach(column -> ((Column<V>) column).set().accept(to, (V) column.of(from)));
        }

        @SuppressWarnings("unchecked") // the value is of the column's type
        static <V> void set(Row<Probe> row, Column<V> column, Probe probe) {
            row.set(column.attr(), (V) column.of(probe));
        }

        @SuppressWarnings("unchecked") // the value is of the column's type
        static <V> void update(Query<Probe> query, Column<V> column, Probe probe) {
            V value = (V) column.of(probe);
            if (value != null && !value.equals('\0') && column.to() != null) {
                query.update(column.to().apply(value));
            } else if (column.to() == null) {
                query.list().forEach(one -> column.set().accept(one, value));
            }
        }
    }

    @ParameterizedTest
    @EnumSource
    void whatGoesInComesOut(WayIn way) {
        int first = 0;
        for (int rows : ROWS) {
            List<Probe> probes = Probe.numbered(first, rows);
            first += rows;
            way.store(store, probes);
            comesOut(Probe.numbered(first - rows, rows), way);
            store.run(work -> work.from(Probe.class).delete());
        }
    }

    private void comesOut(List<Probe> expected, WayIn way) {
        store.run(work -> {
            List<Probe> read = work.from(Probe.class).list();
            same(read.stream(), expected, way);
            assertThat(work.changes()).as("reading changes nothing").isEmpty();
            same(work.from(Probe.class).untracked().list().stream(), expected, way);
            same(work.sql("select * from probe").as(Probe.class).list().stream(), expected, way);
            try (Stream<Probe> stream = work.from(Probe.class).stream()) {
                same(stream, expected, way);
            }
            List<Probe> some = read.subList(0, Math.min(read.size(), Probe.EDGES));
            some.forEach(probe -> work.refresh(probe));
            assertThat(work.flush().total()).as("a flush writes nothing").isEqualTo(new Rows(0, 0, 0));
        });
        store.run(work -> {
            Map<String, Probe.Row> rows = new LinkedHashMap<>();
            work.from(Probe.class).as(Probe.Row.class).list().forEach(row -> rows.put(row.code(), row));
            for (Probe probe : expected) {
                Probe.Row row = Objects.requireNonNull(rows.get(probe.code));
                assertThat(Probe.kept("single", row.single())).isEqualTo(Probe.kept("single", probe.single));
                assertThat(row.at()).isEqualTo(Probe.kept("at", probe.at));
                assertThat(row.moment()).isEqualTo(Probe.kept("moment", probe.moment));
                assertThat(row.text()).isEqualTo(way.kept(probe.text));
            }
        });
        if (way == WayIn.UNIT || way == WayIn.BULK || ALL && expected.size() <= 110 && way != WayIn.TEXTS) {
            isFound(expected.subList(0, Math.min(expected.size(), Probe.EDGES)));
        }
    }

    private static Map<String, Probe> byCode(Stream<Probe> read) {
        Map<String, Probe> byCode = new LinkedHashMap<>();
        read.forEach(probe -> byCode.put(probe.code, probe));
        return byCode;
    }

    private static void same(Stream<Probe> read, List<Probe> expected, WayIn way) {
        Map<String, Probe> byCode = byCode(read);
        assertThat(byCode).hasSize(expected.size());
        for (Probe probe : expected) {
            Probe found = Objects.requireNonNull(byCode.get(probe.code));
            for (Column<?> column : Probe.COLUMNS) {
                Object value = column.of(found);
                assertThat(value instanceof byte[] ? Probe.kept(column.name(), value) : value)
                        .as("%s of %s", column.name(), probe.code)
                        .isEqualTo(way.kept(Probe.kept(column.name(), column.of(probe))));
            }
        }
    }

    /** By a condition, and by the marks of pages that end at each value. */
    private void isFound(List<Probe> expected) {
        store.run(work -> {
            for (Probe probe : expected) {
                for (Column<?> column : Probe.COLUMNS) {
                    assertThat(countOf(work.from(Probe.class), column, probe))
                            .as("%s of %s", column.name(), probe.code)
                            .isOne();
                }
            }
            for (Column<?> column : Probe.COLUMNS) {
                if (column.order() != null) {
                    int rows = (int) work.from(Probe.class).count();
                    assertThat(paged(work.from(Probe.class).orderBy(column.order()), 5 + rows / 7))
                            .as("pages by " + column.name())
                            .hasSize(rows);
                }
            }
        });
    }

    @SuppressWarnings("unchecked") // the value is of the column's type
    private static <V> long countOf(Query<Probe> query, Column<V> column, Probe probe) {
        V value = (V) column.of(probe);
        Query<Probe> row = query.where(the(Probe::code).is(probe.code));
        boolean comparable = value != null && !value.equals('\0') && column.is() != null;
        return comparable ? row.where(column.is().apply(value)).count() : row.count();
    }

    private static Set<String> paged(Query<Probe> query, int size) {
        Set<String> codes = new HashSet<>();
        Mark mark = null;
        do {
            Page<Probe> page = query.page(size, mark == null ? null : Mark.parse(mark.toString()));
            page.items().forEach(probe -> assertThat(codes.add(probe.code)).isTrue());
            mark = page.mark();
        } while (mark != null);
        return codes;
    }

    @ParameterizedTest
    @EnumSource
    void pendingValuesAreComparedLikeStoredOnes(Pending treatment) {
        try (UnitOfWork work = store.begin()) {
            work.add(Probe.numbered(99));
            work.flush();
            List<Probe> probes = Probe.numbered(0, Probe.EDGES);
            probes.forEach(work::add);
            for (Probe probe : probes) {
                for (Column<?> column : Probe.COLUMNS) {
                    long wanted = treatment == Pending.IGNORE ? 0 : 1;
                    assertThat(countOf(work.from(Probe.class).pending(treatment), column, probe))
                            .as("%s of %s", column.name(), probe.code)
                            .isEqualTo(wanted);
                }
            }
            assertThat(work.from(Probe.class)
                            .pending(treatment)
                            .as(the(Probe::at))
                            .list())
                    .contains((LocalDateTime) Probe.kept("at", Probe.numbered(99).at));
            work.rollback();
        }
    }

    /** What has gone through the zone of the JVM comes out wrong where that has a gap. */
    @ParameterizedTest
    @ValueSource(strings = {"UTC", "Europe/Berlin", "America/St_Johns", "Pacific/Apia"})
    void theZoneOfTheJvmMeansNothing(String id) {
        TimeZone.setDefault(TimeZone.getTimeZone(id));
        for (WayIn way : List.of(WayIn.UNIT, WayIn.BULK, WayIn.BULK_UPSERT)) {
            way.store(store, Probe.numbered(0, Probe.EDGES));
            comesOut(Probe.numbered(0, Probe.EDGES), way);
            store.run(work -> work.from(Probe.class).delete());
        }
    }
}
