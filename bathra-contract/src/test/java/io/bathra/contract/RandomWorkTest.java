package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Outcome;
import io.bathra.Savepoint;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.answer.Pending;
import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.UniqueViolation;
import io.bathra.junit.Faults;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnChosenDatabases;
import io.bathra.testing.TenSeconds;
import io.bathra.testing.TestDatabase;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BiConsumer;
import javax.sql.DataSource;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.lifecycle.AddLifecycleHook;

/**
 * Random work of all kinds in a unit with a transaction of its own, or as a guest in somebody else's: objects, rows and
 * queries say what an oracle of plain maps says, after each flush, commit, rollback and way back to a place.
 */
@AddLifecycleHook(TenSeconds.class)
@AddLifecycleHook(OnChosenDatabases.class)
class RandomWorkTest {
    record Form(int weight) {}

    private static final Model MODEL = Model.of(
            "crates",
            Entity.of(Crate.class, Crate::new)
                    .column(Crate::code, required(), length(8), unique())
                    .parts(Crate::seals)
                    .links(Crate::above, Crate::on)
                    .pivot(Crate::beside)
                    .version(Crate::revision));

    /** A database, and the way to it that can be made to fail. */
    private record Faulty(DataSource plain, Faults faults) {
        Faulty(DataSource plain) {
            this(plain, Faults.in(plain));
        }
    }

    private static final Map<TestDatabase, Faulty> SOURCES = new ConcurrentHashMap<>();
    private static final Map<TestDatabase, Store> STORES = new ConcurrentHashMap<>();
    private static final String SEED = "2027";

    @Property(tries = 2000, seed = SEED)
    void onH2(@ForAll long seed, @ForAll boolean guest, @ForAll @IntRange(min = 3, max = 60) int steps) {
        new Work(TestDatabase.H2, seed, guest).run(steps);
    }

    @Property(tries = 2000, seed = SEED)
    void onSqlite(@ForAll long seed, @ForAll boolean guest, @ForAll @IntRange(min = 3, max = 60) int steps) {
        new Work(TestDatabase.SQLITE, seed, guest).run(steps);
    }

    @Property(tries = 2000, seed = SEED)
    void onPostgres(@ForAll long seed, @ForAll boolean guest, @ForAll @IntRange(min = 3, max = 60) int steps) {
        new Work(TestDatabase.POSTGRESQL, seed, guest).run(steps);
    }

    @Property(tries = 2000, seed = SEED)
    void onMariaDb(@ForAll long seed, @ForAll boolean guest, @ForAll @IntRange(min = 3, max = 60) int steps) {
        new Work(TestDatabase.MARIADB, seed, guest).run(steps);
    }

    private static Store store(TestDatabase database) {
        return STORES.computeIfAbsent(database, d -> {
            SOURCES.put(d, new Faulty(d.empty()));
            Store store = Trips.open(MODEL, SOURCES.get(d).faults.source()).withKeysAhead(0);
            store.schema().createMissing();
            return store;
        });
    }

    /** One unit and its oracle. */
    private static final class Work {
        private final TestDatabase database;
        private final Store store;
        private final Faulty source;
        private final Random random;
        private final boolean guest;
        private final Oracle oracle = new Oracle();

        /** The objects, also of those that are gone and may come back. */
        private final Map<String, Crate> crates = new TreeMap<>();

        private Connection host;
        private UnitOfWork work;
        private int numbers;

        /** Whether anything may have been written in the transaction. */
        private boolean begun;

        Work(TestDatabase database, long seed, boolean guest) {
            this.database = database;
            this.store = store(database);
            this.source = SOURCES.get(database);
            this.random = new Random(seed);
            this.guest = guest;
        }

        void run(int steps) {
            for (String sql : List.of(
                    "delete from crate_beside",
                    "delete from crate_seals",
                    "update crate set on_id = null",
                    "delete from crate")) {
                TestDatabase.execute(source.plain, sql);
            }
            try (Connection connection = guest ? source.faults.source().getConnection() : null) {
                host = connection;
                if (guest) {
                    host.setAutoCommit(false);
                }
                try (UnitOfWork unit = guest ? store.join(host) : store.begin()) {
                    work = unit;
                    for (int i = 0; i < steps; i++) {
                        step();
                    }
                    commit();
                }
                if (guest) {
                    host.rollback();
                    host.setAutoCommit(true);
                }
            } catch (SQLException e) {
                throw new IllegalStateException(e);
            }
            store.run(fresh -> assertThat(fresh.from(Crate.class).list().stream()
                            .map(Crate::describe)
                            .sorted())
                    .containsExactlyElementsOf(oracle.describe()));
        }

        private void step() {
            switch (random.nextInt(12)) {
                case 0 -> transaction();
                case 1 -> stranger();
                case 2 -> query();
                case 3 -> {
                    begun = true;
                    place();
                }
                case 4 -> {
                    begun = true;
                    statement();
                }
                default -> {
                    begun = true;
                    change();
                }
            }
        }

        // ---- objects

        private void change() {
            switch (random.nextInt(14)) {
                case 0, 1, 2 -> add();
                case 3 ->
                    one((code, crate) -> {
                        int weight = random.nextInt(9);
                        crate.weight = weight;
                        oracle.of(code).weight = weight;
                    });
                case 4 ->
                    one((code, crate) -> {
                        String note = random.nextInt(3) == 0 ? null : "note " + random.nextInt(9);
                        if (note == null) {
                            crate.note.clear();
                        } else {
                            crate.note.set(note);
                        }
                        oracle.of(code).note = note;
                    });
                case 5 ->
                    one((code, crate) -> {
                        crate.seals.remove("s" + random.nextInt(4));
                        crate.seals.add(random.nextInt(crate.seals.size() + 1), "s" + random.nextInt(4));
                        List<String> seals = List.copyOf(crate.seals);
                        oracle.of(code).seals = seals;
                    });
                case 6, 7 ->
                    two((code, crate, other, under) -> {
                        if (random.nextBoolean()) {
                            crate.on.set(under);
                        } else {
                            under.above.add(crate);
                        }
                        oracle.of(code).on = other;
                    });
                case 8 -> one((code, crate) -> clear(code));
                case 9, 10 ->
                    two((code, crate, other, neighbour) -> {
                        if (crate.beside.contains(neighbour)) {
                            crate.beside.remove(neighbour);
                            oracle.of(code).beside.remove(other);
                        } else {
                            crate.beside.add(neighbour);
                            oracle.of(code).beside.add(other);
                        }
                    });
                case 11 ->
                    one((code, crate) -> {
                        oracle.above(code).forEach(this::clear);
                        work.remove(crate);
                        oracle.remove(code);
                    });
                case 12 -> {
                    flush();
                    one((code, crate) -> work.refresh(crate));
                }
                default ->
                    one((code, crate) -> {
                        int weight = random.nextInt(9);
                        work.carry(new Form(weight), crate, null);
                        oracle.of(code).weight = weight;
                    });
            }
        }

        private void clear(String code) {
            crates.get(code).on.clear();
            oracle.of(code).on = null;
        }

        private Crate fresh() {
            Crate crate = new Crate();
            crate.code = "c" + numbers++;
            crate.weight = random.nextInt(9);
            return crate;
        }

        private void add() {
            Crate crate = fresh();
            List<String> seals = random.nextBoolean() ? List.of() : List.of("s1", "s2");
            crate.seals.addAll(seals);
            work.add(crate);
            crates.put(crate.code, crate);
            Oracle.Plain plain = oracle.add(crate.code);
            plain.weight = crate.weight;
            plain.seals = seals;
        }

        private void one(BiConsumer<String, Crate> use) {
            List<String> codes = List.copyOf(oracle.codes());
            if (!codes.isEmpty()) {
                String code = codes.get(random.nextInt(codes.size()));
                use.accept(code, crates.get(code));
            }
        }

        private interface Two {
            void use(String code, Crate crate, String other, Crate otherCrate);
        }

        /** The other one is none that may never have been: nobody could lead to it after a rollback. */
        private void two(Two use) {
            one((code, crate) -> one((other, otherCrate) -> {
                if (!oracle.isMade(other)) {
                    use.use(code, crate, other, otherCrate);
                }
            }));
        }

        // ---- objects that come from elsewhere, and go

        private void stranger() {
            flush();
            if (oracle.hasRemovals()) {
                return; // what was cleared for a removal must not be forgotten without it
            }
            if (guest && begun) {
                return; // what comes after the first write is not tracked any more when the host rolls back
            }
            begun = true;
            switch (random.nextInt(6)) {
                case 0 -> old((code, crate) -> again(code));
                case 1, 2 ->
                    old((code, crate) -> {
                        int weight = random.nextInt(9);
                        work.row(Crate.class, crate.id).set(Crate::weight, weight);
                        if (random.nextBoolean()) {
                            oracle.weighRow(code, weight);
                            flush();
                        } else {
                            oracle.of(code).weight = weight; // the object takes it over
                        }
                        again(code);
                    });
                case 3 ->
                    old((code, crate) -> {
                        int weight = random.nextInt(9);
                        crate.weight = weight;
                        work.adopt(crate);
                        crates.put(code, crate);
                        oracle.of(code).weight = weight;
                    });
                case 4 -> {
                    work.forgetAll();
                    oracle.codes().forEach(oracle::letGo);
                }
                default -> {
                    Crate twin = fresh();
                    one((code, crate) -> {
                        twin.code = code;
                        work.add(twin);
                        assertThatThrownBy(work::flush)
                                .isInstanceOfAny(InvalidChangesException.class, UniqueViolation.class);
                        work.remove(twin);
                    });
                }
            }
            agree();
        }

        private void again(String code) {
            crates.put(code, work.require(Crate.class, crates.get(code).id));
        }

        /** One that was there before, and is let go. */
        private void old(BiConsumer<String, Crate> use) {
            one((code, crate) -> {
                if (oracle.isOld(code)) {
                    work.forget(crate);
                    oracle.letGo(code);
                    use.accept(code, crate);
                }
            });
        }

        // ---- statements

        private void statement() {
            flush();
            int weight = random.nextInt(9);
            switch (random.nextInt(5)) {
                case 0 -> {
                    work.from(Crate.class)
                            .where(number(Crate::weight).atLeast(weight))
                            .update(the(Crate::weight).to(0));
                    oracle.changeRows(oracle.weighing(weight, true), plain -> plain.weight = 0);
                }
                case 1 -> {
                    work.sql("update crate set weight = weight + 1 where weight < :most")
                            .with("most", weight)
                            .execute();
                    oracle.changeRows(oracle.weighing(weight, false), plain -> plain.weight++);
                }
                case 2 ->
                    one((code, crate) -> {
                        if (oracle.above(code).isEmpty()
                                && oracle.of(code).beside.isEmpty()
                                && oracle.codes().stream()
                                        .noneMatch(
                                                other -> oracle.of(other).beside.contains(code))) {
                            if (random.nextBoolean()) {
                                work.from(Crate.class)
                                        .where(text(Crate::code).is(code))
                                        .delete();
                            } else {
                                work.sql("delete from crate_seals where crate_id = :id")
                                        .with("id", crate.id)
                                        .execute();
                                work.sql("delete from crate where id = :id")
                                        .with("id", crate.id)
                                        .execute();
                            }
                            oracle.deleteRow(code);
                        }
                    });
                default -> {
                    Crate crate = fresh();
                    work.bulk(Crate.class).insert(List.of(crate));
                    oracle.makeRow(crate.code, crate.weight);
                }
            }
            agree();
        }

        private void query() {
            int least = random.nextInt(9);
            List<String> expected = oracle.weighing(least, true);
            if (random.nextBoolean()) {
                assertThat(Crate.codes(work.from(Crate.class)
                                .pending(Pending.OVERLAY)
                                .where(number(Crate::weight).atLeast(least))
                                .list()))
                        .isEqualTo(expected);
                one((code, crate) -> assertThat(work.from(Crate.class)
                                .pending(Pending.OVERLAY)
                                .where(text(Crate::on, Crate::code).is(code))
                                .count())
                        .isEqualTo(oracle.above(code).size()));
                return;
            }
            flush();
            assertThat(Crate.codes(work.from(Crate.class)
                            .where(number(Crate::weight).atLeast(least))
                            .list()))
                    .isEqualTo(expected);
            assertThat(work.sql("select code from crate where weight >= :least")
                            .with("least", least)
                            .as(String.class)
                            .list())
                    .containsExactlyInAnyOrderElementsOf(expected);
        }

        // ---- the transaction

        private void transaction() {
            switch (random.nextInt(8)) {
                case 0 -> commit();
                case 1 -> {
                    commit();
                    somebodyElse();
                }
                case 2, 3, 4 -> {
                    goBack();
                    oracle.rollback();
                }
                case 5 -> refusedCommit();
                case 6 -> {
                    work.discard();
                    oracle.discard();
                }
                default -> flush();
            }
            agree();
        }

        private void goBack() {
            if (guest) {
                hosts(Connection::rollback);
                work.ended(Outcome.ROLLED_BACK);
            } else {
                work.rollback();
            }
        }

        private interface ByTheHost {
            void act(Connection connection) throws SQLException;
        }

        private void hosts(ByTheHost act) {
            try {
                act.act(host);
            } catch (SQLException e) {
                throw new IllegalStateException(e);
            }
        }

        private void flush() {
            work.flush();
            oracle.flush();
        }

        private void commit() {
            work.commit();
            if (guest) {
                hosts(Connection::commit);
                work.ended(Outcome.COMMITTED);
            }
            oracle.commit();
            begun = false;
            assertThat(work.changes()).isEmpty();
            agree();
        }

        /** SQLite is told by a statement. */
        private void refusedCommit() {
            if (guest || database == TestDatabase.SQLITE) {
                return;
            }
            source.faults.onCommit().failsWith(() -> new SQLException("refused", "40002"));
            try {
                work.commit();
            } catch (BathraException e) {
                oracle.rollback();
            } finally {
                source.faults.clear();
            }
        }

        /** Another unit commits something in between, while this one has no transaction. */
        private void somebodyElse() {
            goBack(); // what was read has begun another transaction
            one((code, crate) -> {
                int weight = 10 + numbers++;
                store.run(other -> other.require(Crate.class, crate.id).weight = weight);
                if (random.nextBoolean()) {
                    elsewhere(code, weight);
                    work.refresh(crate);
                } else if (random.nextBoolean()) {
                    elsewhere(code, weight);
                    work.forget(crate);
                    again(code);
                } else {
                    elsewhere(code, weight);
                    String note = "meanwhile " + numbers++;
                    crate.note.set(note);
                    oracle.of(code).note = note;
                    assertThatThrownBy(work::flush).isInstanceOf(ConcurrentChangeException.class);
                    work.rebase();
                    if (guest) {
                        commit(); // nobody reads for a guest what he had seen of it
                    }
                }
            });
        }

        private void elsewhere(String code, int weight) {
            oracle.of(code).weight = weight;
            oracle.commit();
        }

        /** What is done after a place, or in work that fails, leaves no trace. */
        private void place() {
            flush();
            Oracle.Moment before = oracle.moment();
            if (random.nextBoolean()) {
                Savepoint place = work.savepoint();
                someSteps();
                place.rollback();
            } else {
                assertThatThrownBy(() -> work.run(within -> {
                            someSteps();
                            throw new IllegalStateException("taken back");
                        }))
                        .hasMessage("taken back");
            }
            oracle.backTo(before);
            assertThat(work.changes()).as("nothing is asked for").isEmpty();
            agree();
        }

        private void someSteps() {
            for (int i = random.nextInt(4); i >= 0; i--) {
                switch (random.nextInt(7)) {
                    case 0 -> statement();
                    case 1 -> stranger();
                    case 2 -> query();
                    default -> change();
                }
            }
        }

        /** Objects say what the oracle says; those of crates that nobody tracks are read. */
        private void agree() {
            for (String code : oracle.codes()) {
                Crate known = crates.get(code);
                if (known == null
                        || work.standing(known) == Standing.UNTRACKED
                        || work.standing(known) == Standing.REMOVED) {
                    crates.put(
                            code,
                            work.from(Crate.class)
                                    .pending(Pending.IGNORE)
                                    .where(text(Crate::code).is(code))
                                    .one());
                }
            }
            assertThat(oracle.codes().stream().map(code -> crates.get(code).describe()))
                    .containsExactlyElementsOf(oracle.describe());
        }
    }
}
