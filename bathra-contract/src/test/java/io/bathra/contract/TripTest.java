package io.bathra.contract;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.computed;
import static io.bathra.model.Declare.databaseDefault;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.text;
import static io.bathra.query.Ask.the;
import static io.bathra.testing.TestDatabase.MARIADB;
import static io.bathra.testing.TestDatabase.POSTGRESQL;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Isolation;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.Wanted;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.UniqueViolation;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.FaultySource;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What is sent to a server together, in how few trips, and that nobody notices but by the time. */
@OnEachDatabase
class TripTest {
    static final class Shed {
        int number;
        String name = "";
        String story;
        int places;
        int revision;
        int height;
        final List<String> remarks = new ArrayList<>();
        final Links<Crate> crates = Links.empty();

        Shed() {}

        Shed(int number) {
            this.number = number;
            this.name = "Shed " + number;
        }

        int number() {
            return number;
        }

        String name() {
            return name;
        }

        String story() {
            return story;
        }

        int places() {
            return places;
        }

        int revision() {
            return revision;
        }

        int height() {
            return height;
        }

        List<String> remarks() {
            return remarks;
        }

        Links<Crate> crates() {
            return crates;
        }
    }

    static final class Guard {
        Long id;
        String name = "";
        int badge;

        Guard() {}

        Guard(String name) {
            this.name = name;
        }

        Long id() {
            return id;
        }

        String name() {
            return name;
        }

        int badge() {
            return badge;
        }
    }

    static final class Crate {
        Long id;
        String label = "";
        final Link<Shed> shed = Link.empty();

        Crate() {}

        Crate(Shed shed, String label) {
            this.shed.set(shed);
            this.label = label;
        }

        Long id() {
            return id;
        }

        String label() {
            return label;
        }

        Link<Shed> shed() {
            return shed;
        }
    }

    static final Model MODEL = Model.of(
            "sheds",
            Entity.of(Shed.class, Shed::new)
                    .key(Shed::number, assigned())
                    .column(Shed::name, required(), length(40))
                    .column(Shed::story, text())
                    .version(Shed::revision)
                    .column(Shed::height, databaseDefault("7"))
                    .parts(Shed::remarks)
                    .links(Shed::crates, Crate::shed),
            Entity.of(Guard.class, Guard::new)
                    .column(Guard::name, required(), length(40))
                    .column(Guard::badge, computed("length(name) * 10")),
            Entity.of(Crate.class, Crate::new)
                    .column(Crate::label, required(), length(40))
                    .link(Crate::shed, required()));

    private final TestDatabase database;
    private final List<Executed> heard = new CopyOnWriteArrayList<>();
    private DataSource source;
    private Store store;

    TripTest(TestDatabase database) {
        this.database = database;
    }

    @BeforeEach
    void open() {
        source = database.empty();
        store = Trips.open(MODEL, source).heardBy(statement -> {
            heard.add(statement);
            return null;
        });
        store.schema().createMissing();
        store.run(work -> IntStream.range(0, 30).mapToObj(Shed::new).forEach(work::add));
        store.run(work -> work.add(new Crate(work.require(Shed.class, 0), "first")));
        store.run(work -> work.add(new Crate(work.require(Shed.class, 0), "second"))); // keys are at hand from now on
        heard.clear();
    }

    /** How many trips a unit needs; begin alone is none. */
    private long trips(Store.VoidWork<RuntimeException> work) {
        heard.clear();
        store.run(work);
        return heard.stream()
                .filter(one -> one.kind() != Kind.BEGIN && one.kind() != Kind.MEMORY)
                .map(one -> one.transaction() + "/" + one.trip())
                .distinct()
                .count();
    }

    @Test
    void aUnitTakesAsFewTripsAsItCan() {
        assumeThat(Trips.areMadeOf(database)).isTrue();
        int readOnly = database == MARIADB ? 2 : 1; // its level is REPEATABLE READ, so there is a commit
        assertThat(trips(work -> work.require(Shed.class, 1))).isEqualTo(readOnly);
        assertThat(trips(work -> work.require(Shed.class, 1).name = "Renamed")).isEqualTo(2);
        for (int number = 98; number < 100; number++) {
            addShed(number); // from now on there are keys enough
        }
        assertThat(addShed(100)).isEqualTo(2);
        assertThat(trips(work -> {
                    Shed shed = work.from(Shed.class)
                            .where(the(Shed::number).is(100))
                            .alongWith(Shed::crates)
                            .one();
                    assertThat(shed.crates).hasSize(3);
                    assertThat(shed.remarks).containsExactly("new");
                }))
                .isEqualTo(readOnly);
        Keys keys = Keys.in(store, "crate");
        long first = keys.of("crate", 1);
        long second = keys.of("crate", 2);
        assertThat(trips(work -> {
                    work.read(Wanted.of(Shed.class, 1, 2, 777), Wanted.of(Crate.class, first, second));
                    assertThat(work.require(Shed.class, 1).remarks).containsExactly("leaks");
                    assertThat(work.findAll(Crate.class, List.of(first, second)))
                            .hasSize(2);
                    assertThat(work.find(Crate.class, 999L)).isEmpty();
                }))
                .isEqualTo(readOnly + 1);
    }

    /** Finds a shed with its parts, changes it, and adds another one with parts and crates. */
    private long addShed(int number) {
        return trips(work -> {
            Shed shed = work.require(Shed.class, 1);
            shed.remarks.clear();
            shed.remarks.add("leaks");
            shed.places = number;
            Shed fresh = new Shed(number);
            fresh.remarks.add("new");
            IntStream.range(0, 3).forEach(i -> fresh.crates.add(new Crate(fresh, "c" + i)));
            work.add(fresh);
        });
    }

    @Test
    void aColdStoreDrawsAllItsKeysInOneTripWithTheBegin() {
        assumeThat(Trips.areMadeOf(database)).isTrue();
        Store cold = Trips.open(MODEL, source).heardBy(statement -> {
            heard.add(statement);
            return null;
        });
        heard.clear();
        List<Crate> crates = new ArrayList<>();
        cold.run(work -> {
            Shed shed = new Shed(700);
            for (int i = 0; i < 3; i++) {
                crates.add(new Crate(shed, "c" + i));
                work.add(crates.get(i));
                work.add(new Guard("g" + i));
            }
        });
        assertThat(crates).extracting(Crate::id).isSorted().doesNotContainNull();
        assertThat(heard.stream()
                        .filter(one -> one.kind() != Kind.BEGIN)
                        .map(Executed::trip)
                        .distinct())
                .hasSize(3); // keys, rows, and the commit, since the database makes the badges
    }

    @Test
    void whatTheDatabaseMakesComesBackInTheSameTrip() {
        store.run(work -> work.add(new Guard("to have keys at hand")));
        store.run(work -> work.add(new Guard("and some more")));
        Guard guard = new Guard("Ida");
        long trips = trips(work -> {
            guard.name = "Ingrid";
            work.add(guard);
            Guard other = work.require(Guard.class, 1L);
            other.name = "Bo";
            work.flush();
            assertThat(guard.badge).isEqualTo(60);
            assertThat(other.badge).isEqualTo(20);
            work.require(Shed.class, 1).places = 4;
        });
        if (Trips.areMadeOf(database)) {
            assertThat(trips).isEqualTo(4); // a read, a flush, a read, a flush with the commit
        }
        store.run(work -> assertThat(work.require(Guard.class, guard.id).badge).isEqualTo(60));
    }

    @Test
    void limitsOfTimeNeedNoTripOfTheirOwn() {
        assumeThat(Trips.areMadeOf(database)).isTrue();
        List<String> calls = new CopyOnWriteArrayList<>();
        FaultySource counting = new FaultySource(source);
        counting.inject((connection, method, argument) -> {
            if (method.endsWith("Statement")) {
                calls.add(method + " " + argument);
            }
        });
        Store own = Trips.open(MODEL, counting.wrapped());
        calls.clear();
        Terms limits = Terms.retrying(1).lockTimeout(Duration.ofSeconds(3)).statementTimeout(Duration.ofMillis(900));
        own.run(limits, work -> work.require(Shed.class, 1).places = 5);
        assertThat(calls).hasSize(2).allMatch(call -> call.startsWith("prepareStatement"));
    }

    @Test
    void eachStepIsALineAndTellsItsTrip() {
        store.run(work -> {
            Shed shed = new Shed(200);
            work.add(shed);
            work.add(new Crate(shed, "a"));
            work.require(Shed.class, 1).places = 7;
            work.flush();
            assertThat(work.trace().toString()).contains(Trips.areMadeOf(database) ? "same trip" : "rows,");
        });
        List<Executed> steps =
                heard.stream().filter(one -> one.operation() != null).toList();
        assertThat(steps).extracting(Executed::table).contains("shed", "crate");
        assertThat(steps.stream().map(Executed::trip).distinct().count())
                .isEqualTo(Trips.areMadeOf(database) ? 1 : steps.size());
        if (Trips.areMadeOf(database)) {
            assertThat(steps).extracting(Executed::part).doesNotHaveDuplicates();
        }
    }

    @Test
    void whatIsSentAloneIsTheSame() {
        Store alone = store.sendingOneByOne();
        alone.run(work -> {
            Shed shed = new Shed(300);
            work.add(shed);
            work.add(new Crate(shed, "alone"));
            work.require(Shed.class, 1).places = 9;
        });
        assertThat(heard).extracting(Executed::part).containsOnly(1);
        assertThat(heard).extracting(Executed::kind).contains(Kind.COMMIT);
        store.run(work -> {
            assertThat(work.require(Shed.class, 300).crates)
                    .extracting(Crate::label)
                    .containsExactly("alone");
            assertThat(work.require(Shed.class, 1).places).isEqualTo(9);
        });
    }

    /** So many statements that they need several trips. */
    static void changeAll(UnitOfWork work) {
        for (Shed shed : work.from(Shed.class).list()) {
            shed.name = shed.number % 3 == 0 ? "Changed " + shed.number : shed.name;
            shed.places = shed.number % 3 == 1 ? 50 : shed.places;
            if (shed.number % 3 == 2) {
                shed.name = "Both " + shed.number;
                shed.places = 60;
            }
            work.add(new Crate(shed, "of " + shed.number));
        }
        for (Crate crate : work.from(Crate.class)
                .where(the(Crate::label).in("first", "second"))
                .list()) {
            work.remove(crate);
        }
    }

    static void isAllChanged(Store other) {
        other.run(work -> {
            for (Shed shed : work.from(Shed.class).alongWith(Shed::crates).list()) {
                String name = switch (shed.number % 3) {
                    case 0 -> "Changed " + shed.number;
                    case 1 -> "Shed " + shed.number;
                    default -> "Both " + shed.number;
                };
                assertThat(shed.name).isEqualTo(name);
                assertThat(shed.places).isEqualTo(shed.number % 3 * 50 - shed.number % 3 / 2 * 40);
                assertThat(shed.revision).isEqualTo(1);
                assertThat(shed.crates).extracting(Crate::label).containsExactly("of " + shed.number);
            }
        });
    }

    @Test
    void whatDoesNotFitGoesInSeveralTrips() {
        store.run(TripTest::changeAll);
        isAllChanged(store);
    }

    @Test
    void whoLosesIsNamedAndCanTryAgain() {
        try (UnitOfWork work = store.begin()) {
            work.require(Shed.class, 1).places = 1;
            work.require(Shed.class, 2).places = 2;
            Shed added = new Shed(400);
            work.add(added);
            if (database != TestDatabase.SQLITE) { // there, nobody else writes meanwhile
                store.run(other -> other.require(Shed.class, 2).places = 22);
                assertThatThrownBy(work::commit)
                        .isInstanceOf(ConcurrentChangeException.class)
                        .hasMessageContaining("Shed 2")
                        .hasMessageNotContaining("Shed 1 ");
                assertThat(isThere(400)).isFalse();
                assertThat(store.<Integer, RuntimeException>call(other -> other.require(Shed.class, 1).places))
                        .isZero();
                work.refresh(work.require(Shed.class, 2));
            }
            work.commit();
        }
        assertThat(isThere(400)).isTrue();
    }

    @Test
    void aFailureInTheMiddleTellsItsPlaceAndLeavesNothing() {
        Shed twice = new Shed(5);
        Crate crate = new Crate(twice, "in it");
        assertThatThrownBy(() -> store.run(work -> {
                    work.require(Shed.class, 1).places = 1;
                    work.add(new Shed(500));
                    work.add(twice);
                    work.add(crate);
                }))
                .isInstanceOfSatisfying(UniqueViolation.class, e -> {
                    assertThat(e.place().entity()).isEqualTo("Shed");
                    assertThat(e.sql()).startsWith("insert into shed");
                });
        assertThat(crate.id()).isNull();
        assertThat(isThere(500)).isFalse();
        assertThat(store.<Integer, RuntimeException>call(work -> work.require(Shed.class, 1).places))
                .isZero();
    }

    @Test
    void longTextsAndManyRowsGoAsTheyAlwaysHave() {
        String text = "x".repeat(1_500_000);
        store.run(work -> {
            work.require(Shed.class, 1).story = text;
            work.require(Shed.class, 2).places = 2;
            IntStream.range(1_000, 2_500).mapToObj(Shed::new).forEach(work::add);
        });
        store.run(work -> {
            List<Shed> all = work.from(Shed.class).alongWith(Shed::crates).list();
            assertThat(all).hasSize(1_530);
            all.forEach(shed -> shed.places = shed.number);
        });
        store.run(work -> {
            assertThat(work.require(Shed.class, 1).story).isEqualTo(text);
            assertThat(work.require(Shed.class, 2_000).places).isEqualTo(2_000);
        });
    }

    /** What drivers and sessions can be set to, and what would harm if nobody thought of it. */
    private List<String> options() {
        return switch (database) {
            case POSTGRESQL ->
                List.of(
                        "preferQueryMode=simple",
                        "preferQueryMode=extendedForPrepared",
                        "prepareThreshold=0",
                        "prepareThreshold=1",
                        "autosave=always",
                        "defaultRowFetchSize=5");
            case MARIADB ->
                List.of(
                        "useServerPrepStmts=true",
                        "useAffectedRows=true",
                        "sessionVariables=sql_mode=ORACLE",
                        "sessionVariables=sql_mode=ANSI",
                        "allowMultiQueries=true",
                        "autocommit=false",
                        "transactionIsolation=READ_COMMITTED");
            default -> List.of();
        };
    }

    @Test
    void howeverADriverIsSetUpTheAnswersAreTheSame() {
        assumeThat(database.isPooled())
                .as("behind a pooler the driver has one option")
                .isFalse();
        for (String option : options()) {
            String url = database.sharedUrl();
            Store own = Trips.open(MODEL, url + (url.contains("?") ? "&" : "?") + option, null, null);
            own.schema().createMissing();
            own.run(work -> IntStream.range(0, 30).mapToObj(Shed::new).forEach(work::add));
            own.run(work -> work.add(new Crate(work.require(Shed.class, 0), "first")));
            own.run(TripTest::changeAll);
            isAllChanged(own);
            try (UnitOfWork work = own.begin()) {
                work.require(Shed.class, 3).places = 1;
                own.run(other -> other.require(Shed.class, 3).places = 2);
                assertThatThrownBy(work::commit).as(option).isInstanceOf(ConcurrentChangeException.class);
            }
            assertThatThrownBy(() -> own.run(work -> work.add(new Shed(1))))
                    .as(option)
                    .isInstanceOf(UniqueViolation.class);
            own.close();
        }
    }

    /** A rule that writes elsewhere cannot be counted; such rows go by themselves. */
    @Test
    void whatTheServerDoesNotTakeTogetherGoesAlone() {
        assumeThat(database).isEqualTo(POSTGRESQL);
        store.sql("create table crate_log (label text)").execute();
        store.sql("create rule log_crates as on insert to crate do also insert into crate_log values (new.label)")
                .execute();
        for (int i = 0; i < 2; i++) {
            int number = i;
            store.run(work -> {
                Shed shed = work.require(Shed.class, 1);
                shed.places = number + 1;
                work.add(new Crate(shed, "logged"));
            });
        }
        assertThat(store.sql("select count(*) from crate_log").as(Long.class).one())
                .isEqualTo(2);
        assertThat(store.<Integer, RuntimeException>call(work -> work.require(Shed.class, 1).places))
                .isEqualTo(2);
    }

    /** What a procedure has committed is done; what follows is a transaction like any other. */
    @Test
    void afterAProcedureThatCommitsTheRestIsAWholeAgain() {
        assumeThat(database).isEqualTo(MARIADB);
        store.sql("create procedure close_the_day() commit").execute();
        assertThatThrownBy(() -> store.run(work -> {
                    work.sql("call close_the_day()").execute();
                    work.add(new Shed(600));
                    work.flush();
                    work.add(new Shed(1));
                }))
                .isInstanceOf(UniqueViolation.class);
        assertThat(isThere(600)).isFalse();
    }

    @Test
    void readsNeedNoTransactionWhereNobodyCouldTell() {
        store.run(work -> work.require(Shed.class, 1));
        boolean alone = Trips.areMadeOf(database) && database == POSTGRESQL;
        assertThat(heard.stream().anyMatch(one -> one.kind() == Kind.COMMIT)).isEqualTo(!alone);
        if (database == TestDatabase.SQLITE) {
            return; // it has one writer at a time
        }
        try (UnitOfWork work = store.begin(Terms.retrying(1).isolation(Isolation.REPEATABLE_READ))) {
            assertThat(work.from(Crate.class).count()).isEqualTo(2);
            store.run(other -> other.add(new Crate(other.require(Shed.class, 0), "third")));
            assertThat(work.from(Crate.class).count()).as("the snapshot holds").isEqualTo(2);
        }
    }

    @Test
    void keysAscendWithinAUnitWhoeverDrawsMeanwhile() {
        List<CompletableFuture<Void>> others = new ArrayList<>();
        if (database != TestDatabase.SQLITE) {
            for (int t = 0; t < 4; t++) {
                others.add(CompletableFuture.runAsync(() -> {
                    for (int i = 0; i < 30; i++) {
                        store.run(work -> work.add(new Crate(work.require(Shed.class, 9), "other")));
                    }
                }));
            }
        }
        for (int i = 0; i < 10; i++) {
            store.run(work -> {
                List<Crate> mine = new ArrayList<>();
                for (int flush = 0; flush < 5; flush++) {
                    for (int n = 0; n <= flush; n++) {
                        mine.add(new Crate(work.require(Shed.class, 8), "mine"));
                        work.add(mine.get(mine.size() - 1));
                    }
                    work.flush();
                }
                assertThat(mine).extracting(Crate::id).isSorted().doesNotHaveDuplicates();
            });
        }
        others.forEach(CompletableFuture::join);
        List<Object> keys = store.call(work -> work.from(Crate.class).keys());
        assertThat(keys).hasSize(2 + others.size() * 30 + 150).doesNotHaveDuplicates();
    }

    @Test
    void withoutKeysAheadNoneIsLost() {
        for (int i = 0; i < 5; i++) {
            Store own = store.withKeysAhead(0);
            long before = greatest();
            List<Crate> added = new ArrayList<>();
            own.run(work -> {
                for (int n = 0; n < 3; n++) {
                    added.add(new Crate(work.require(Shed.class, 0), "n" + n));
                }
                added.forEach(work::add);
            });
            long step = added.get(1).id - added.get(0).id; // more than one where several servers draw keys
            assertThat(greatest() - before).isBetween(3 * step, (i == 0 ? 3 + 256 : 3) * step);
        }
        assertThatThrownBy(() -> store.withKeysAhead(-1)).hasMessageContaining("withKeysAhead(-1)");
    }

    private boolean isThere(int number) {
        boolean there = store.call(work -> work.find(Shed.class, number).isPresent());
        return there;
    }

    private long greatest() {
        return store.sql("select max(id) from crate").as(Long.class).one();
    }
}
