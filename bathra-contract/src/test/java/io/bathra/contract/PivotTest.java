package io.bathra.contract;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.distinctEnds;
import static io.bathra.model.Declare.exclusive;
import static io.bathra.model.Declare.farSide;
import static io.bathra.model.Declare.name;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.ordered;
import static io.bathra.model.Declare.ownSide;
import static io.bathra.model.Declare.table;
import static io.bathra.model.Declare.uniquePair;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.attr.DeleteRule;
import io.bathra.error.CheckViolation;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.ModelException;
import io.bathra.error.RestrictViolation;
import io.bathra.junit.Faults;
import io.bathra.link.Links;
import io.bathra.model.Difference;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.TraceLine;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Many-to-many associations over tables of pairs. */
@OnEachDatabase
class PivotTest {
    static final class Pilot {
        private Long id;
        private String name;
        private final Links<Job> jobs = Links.empty();
        private final Links<Pilot> deputies = Links.empty();

        Pilot() {}

        Pilot(String name) {
            this.name = name;
        }

        Links<Job> jobs() {
            return jobs;
        }

        Links<Pilot> deputies() {
            return deputies;
        }

        @Override
        public String toString() {
            return name;
        }
    }

    record Slot(String quay, int hour) {}

    static final class Job {
        private Slot slot;
        private final Links<Pilot> pilots = Links.empty();
        private final Links<Pilot> reserve = Links.empty();
        private final Links<Tool> tools = Links.empty();

        Job() {}

        Job(int hour) {
            slot = new Slot("N", hour);
        }

        Slot slot() {
            return slot;
        }

        Links<Pilot> pilots() {
            return pilots;
        }

        Links<Pilot> reserve() {
            return reserve;
        }

        Links<Tool> tools() {
            return tools;
        }
    }

    static final class Tool {
        private String code;

        Tool() {}

        Tool(String code) {
            this.code = code;
        }

        String code() {
            return code;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Pilot.class, Pilot::new)
                .pivot(Pilot::deputies, distinctEnds(), farSide(name("deputy"), onDelete(DeleteRule.RESTRICT))),
        Entity.of(Job.class, Job::new)
                .key(Job::slot, assigned())
                .pivot(Job::pilots, Pilot::jobs, table("pilotage"), uniquePair())
                .pivot(Job::reserve, ordered())
                .pivot(Job::tools, exclusive(), ownSide(name("job"))),
        Entity.of(Tool.class, Tool::new).key(Tool::code)
    };

    private final Faults faults;
    private final Store store;
    private Keys keys;

    PivotTest(TestDatabase database) {
        faults = Faults.in(database.empty());
        store = Trips.open(Model.of("jobs", ENTITIES), faults.source());
    }

    @BeforeEach
    void create() {
        store.schema().createMissing();
        assertThat(store.schema().verify()).isEmpty();
        store.run(work -> {
            IntStream.rangeClosed(1, 5).forEach(i -> work.add(new Pilot("pilot " + i)));
            IntStream.rangeClosed(1, 3).forEach(i -> work.add(new Job(i)));
        });
        keys = Keys.in(store, "pilot");
    }

    @AfterEach
    void everyConnectionIsGivenBack() {
        assertThat(faults.open()).isZero();
    }

    private Pilot pilot(UnitOfWork work, long number) {
        return work.require(Pilot.class, keys.of("pilot", number));
    }

    private static Job job(UnitOfWork work, int hour) {
        return work.require(Job.class, new Slot("N", hour));
    }

    private List<String> pilotsOf(int hour) {
        return store.call(
                work -> job(work, hour).pilots.stream().map(Pilot::toString).toList());
    }

    private List<String> reserveOf(int hour) {
        return store.call(work ->
                job(work, hour).reserve.asList().stream().map(Pilot::toString).toList());
    }

    private static FlushReport.Rows rows(int inserted, int updated, int deleted) {
        return new FlushReport.Rows(inserted, updated, deleted);
    }

    @Test
    void pairsOfNewObjectsComeAlongFromEitherSide() {
        store.run(work -> {
            Job job = new Job(9);
            job.pilots.add(new Pilot("first"));
            job.pilots.add(pilot(work, 1));
            Pilot second = new Pilot("second");
            work.add(second);
            work.add(job);
            second.jobs.add(job);
            assertThat(job.pilots).as("the other side").contains(second);
            assertThat(InlineTest.steps(work))
                    .containsExactly("insert pilot (2 rows)", "insert job (1 row)", "insert pilotage (3 rows)");
        });
        assertThat(pilotsOf(9)).containsExactlyInAnyOrder("pilot 1", "first", "second");
    }

    @Test
    void addingToUnreadLinksReadsNothingAndNeverDuplicates() {
        for (int round = 1; round <= 2; round++) {
            try (UnitOfWork work = store.begin()) {
                Job job = job(work, 1);
                Pilot pilot = pilot(work, 1);
                work.trace().clear();
                assertThat(job.pilots.add(pilot)).isTrue();
                assertThat(job.pilots.isRead()).isFalse();
                assertThat(pilot.jobs.isRead()).isFalse();
                assertThat(work.standing(job)).isEqualTo(Standing.DIRTY);
                assertThat(work.trace().statements()).isEmpty();
                work.commit();
                assertThat(work.standing(job)).isEqualTo(Standing.CLEAN);
                assertThat(work.plan().isEmpty()).as("done once").isTrue();
                assertThat(pilot.jobs).containsExactly(job);
            }
        }
        assertThat(pilotsOf(1)).containsExactly("pilot 1");
        store.run(work -> {
            Job job = job(work, 1);
            job.pilots.remove(pilot(work, 1));
            job.pilots.remove(pilot(work, 2));
            assertThat(job.pilots.isRead()).isFalse();
            job.pilots.add(pilot(work, 3));
            assertThat(job.pilots).as("read now").containsExactly(pilot(work, 3));
            assertThat(work.plan().rowCount()).isEqualTo(2);
        });
        assertThat(pilotsOf(1)).containsExactly("pilot 3");
    }

    @Test
    void differencesAloneAreWritten() {
        store.run(work -> job(work, 1).pilots.addAll(List.of(pilot(work, 1), pilot(work, 2), pilot(work, 3))));
        store.run(work -> {
            Job job = job(work, 1);
            job.pilots.replaceAll(List.of(pilot(work, 3), pilot(work, 4)));
            assertThat(job.pilots.asList()).containsExactly(pilot(work, 3), pilot(work, 4));
            assertThat(InlineTest.steps(work))
                    .containsExactlyInAnyOrder("insert missing pilotage (1 row)", "delete pilotage (2 rows)");
        });
        assertThat(pilotsOf(1)).containsExactly("pilot 3", "pilot 4");
        store.run(work -> pilot(work, 3).jobs.clear());
        assertThat(pilotsOf(1)).containsExactly("pilot 4");
        try (UnitOfWork work = store.begin()) {
            Job job = job(work, 1);
            assertThat(job.pilots).hasSize(1);
            job.pilots.add(pilot(work, 5));
            job.pilots.remove(pilot(work, 4));
            work.flush();
            work.rollback();
            assertThat(work.plan().rowCount()).as("still to be done").isEqualTo(2);
            work.commit();
        }
        assertThat(pilotsOf(1)).containsExactly("pilot 5");
    }

    @Test
    void anOrderIsKept() {
        store.run(work -> job(work, 1).reserve.addAll(List.of(pilot(work, 3), pilot(work, 1), pilot(work, 2))));
        store.run(work -> job(work, 1).reserve.add(pilot(work, 5)));
        assertThat(reserveOf(1)).containsExactly("pilot 3", "pilot 1", "pilot 2", "pilot 5");
        store.run(work -> {
            Links<Pilot> reserve = job(work, 1).reserve;
            reserve.insert(1, pilot(work, 4));
            reserve.move(pilot(work, 5), 0);
            assertThat(work.commit().total()).isEqualTo(rows(1, 1, 0));
        });
        assertThat(reserveOf(1)).containsExactly("pilot 5", "pilot 3", "pilot 4", "pilot 1", "pilot 2");
        store.run(work -> {
            Links<Pilot> reserve = job(work, 1).reserve;
            reserve.move(pilot(work, 2), 2);
            assertThat(work.commit().total()).as("one moved, one row").isEqualTo(rows(0, 1, 0));
            reserve.insert(0, work.from(Pilot.class).list().get(0) == pilot(work, 1) ? fresh(work) : null);
            assertThat(work.commit().of("Job.reserve")).isEqualTo(rows(1, 0, 0));
            assertThatThrownBy(() -> reserve.insert(0, pilot(work, 2)))
                    .isInstanceOf(IllegalArgumentException.class)
                    .hasMessageContaining("use move(element, index)");
            assertThatThrownBy(() -> job(work, 1).pilots.insert(0, pilot(work, 2)))
                    .isInstanceOf(UnsupportedOperationException.class)
                    .hasMessageContaining("keeps no order; declare the pivot ordered()");
        });
        assertThat(reserveOf(1)).containsExactly("fresh", "pilot 5", "pilot 3", "pilot 2", "pilot 4", "pilot 1");
    }

    private static Pilot fresh(UnitOfWork work) {
        Pilot fresh = new Pilot("fresh");
        work.add(fresh);
        return fresh;
    }

    @Test
    void anEntityIsPairedWithItsLike() {
        store.run(work -> {
            pilot(work, 1).deputies.add(pilot(work, 2));
            pilot(work, 2).deputies.add(pilot(work, 1));
            pilot(work, 3).deputies.add(pilot(work, 1));
        });
        store.run(work -> assertThat(pilot(work, 1).deputies).containsExactly(pilot(work, 2)));
        try (UnitOfWork work = store.begin()) {
            pilot(work, 4).deputies.add(pilot(work, 4));
            assertThatThrownBy(work::flush).isInstanceOf(CheckViolation.class);
        }
        try (UnitOfWork work = store.begin()) {
            work.remove(pilot(work, 2));
            assertThatThrownBy(work::flush)
                    .as("the far side restricts")
                    .isInstanceOf(RestrictViolation.class)
                    .hasMessageContaining("Pilot.deputies");
        }
        store.run(work -> {
            pilot(work, 1).deputies.clear();
            work.remove(pilot(work, 2));
        });
        store.run(work -> assertThat(pilot(work, 1).deputies).isEmpty());
    }

    @Test
    void aRemovedEntityIsInNoLinksAndItsPairsGoWithIt() {
        store.run(work -> job(work, 1).pilots.addAll(List.of(pilot(work, 1), pilot(work, 2))));
        try (UnitOfWork work = store.begin()) {
            Job job = job(work, 1);
            assertThat(job.pilots).hasSize(2);
            Pilot gone = pilot(work, 1);
            work.remove(gone);
            assertThat(job.pilots).containsExactly(pilot(work, 2));
            work.add(gone);
            assertThat(job.pilots).as("taken back").contains(gone);
            assertThat(work.plan().isEmpty()).isTrue();
            work.remove(gone);
            assertThat(InlineTest.steps(work)).containsExactly("delete pilot (1 row)");
            work.commit();
            assertThat(work.plan().isEmpty()).isTrue();
        }
        assertThat(pilotsOf(1)).containsExactly("pilot 2");
        store.run(work -> {
            job(work, 1).pilots.add(pilot(work, 3));
            work.remove(pilot(work, 3));
            assertThat(InlineTest.steps(work)).containsExactly("delete pilot (1 row)");
        });
    }

    @Test
    void aFurtherConstraintIsKeptAndNamed() {
        store.run(work -> {
            Tool tool = new Tool("winch");
            job(work, 1).tools.add(tool);
            job(work, 2).tools.add(tool);
            assertThat(work.problems())
                    .singleElement()
                    .asString()
                    .contains(".tool = Tool (new", "must be unique, but Job Slot[quay=N, hour=1].tools[Tool");
            assertThatThrownBy(work::flush).isInstanceOf(InvalidChangesException.class);
            job(work, 2).tools.remove(tool);
        });
        store.run(work -> assertThat(work.from(Tool.class).count()).isOne());
    }

    @Test
    void aThousandOwnersAreOneStatement() {
        store.run(work -> IntStream.range(100, 1100).forEach(i -> {
            Job job = new Job(i);
            job.pilots.addAll(List.of(pilot(work, i % 5 + 1), pilot(work, (i + 1) % 5 + 1)));
            work.add(job);
        }));
        try (UnitOfWork work = store.begin()) {
            List<Job> jobs = work.from(Job.class).list();
            jobs.stream().skip(3).forEach(job -> assertThat(job.pilots).hasSize(2));
            assertThat(work.trace().statements()).extracting(TraceLine::rows).containsExactly(1003L, 2000L);
            List<Pilot> pilots = work.from(Pilot.class).alongWith(Pilot::jobs).list();
            assertThat(pilots).allSatisfy(pilot -> assertThat(pilot.jobs).hasSize(400));
            assertThat(work.trace().statements()).hasSize(4);
            assertThat(work.changes()).isEmpty();
        }
    }

    @Test
    void twoThreadsAddTheSameThousandPairs() {
        store.run(work -> IntStream.range(0, 1000).forEach(i -> work.add(new Pilot("p" + i))));
        addAllAtOnce();
        assertThat(pilotsOf(1)).hasSize(1005);
        assertThat(TestDatabase.count(faults.source(), "pilotage")).isEqualTo(1005);
        store.run(work -> work.remove(job(work, 1)));
        assertThat(TestDatabase.count(faults.source(), "pilotage"))
                .as("without trace")
                .isZero();
    }

    /** Two threads, the second in the opposite order. */
    private void addAllAtOnce() {
        CompletableFuture<?>[] threads = IntStream.range(0, 2)
                .mapToObj(thread -> CompletableFuture.runAsync(() -> store.run(work -> {
                    List<Pilot> pilots = new ArrayList<>(work.from(Pilot.class).list());
                    work.rollback(); // on SQLite the first to begin would keep the second out
                    if (thread == 1) {
                        Collections.reverse(pilots);
                    }
                    job(work, 1).pilots.addAll(pilots);
                })))
                .toArray(CompletableFuture<?>[]::new);
        CompletableFuture.allOf(threads).join();
    }

    @Test
    void aTableThatAlreadyHoldsDuplicatesStaysAsItIs() {
        store.run(work -> job(work, 1).pilots.addAll(List.of(pilot(work, 1), pilot(work, 2))));
        String create = store.schema().statements().stream()
                .filter(sql -> sql.startsWith("create table pilotage"))
                .findFirst()
                .orElseThrow();
        String values = keys.in(
                " (job_quay, job_hour, pilot_id) values ('N', 1, {pilot 1}), ('N', 1, {pilot 1}), ('N', 1, {pilot 2})");
        TestDatabase.execute(faults.source(), "drop table pilotage");
        TestDatabase.execute(faults.source(), create.replaceAll("constraint \\S+ unique[^)]*\\),\\s*", ""));
        TestDatabase.execute(faults.source(), "insert into pilotage" + values);
        assertThat(store.schema().verify())
                .extracting(Difference::toString)
                .anyMatch(
                        one -> one.equals("pilotage: there is no unique constraint on [job_quay, job_hour, pilot_id]"));
        assertThat(pilotsOf(1)).containsExactly("pilot 1", "pilot 2");
        addAllAtOnce();
        assertThat(pilotsOf(1)).hasSize(5);
        store.run(work -> job(work, 1).pilots.add(pilot(work, 1)));
        store.run(work -> job(work, 1).pilots.remove(pilot(work, 1)));
        assertThat(pilotsOf(1)).as("all of its rows").doesNotContain("pilot 1");
    }

    static final class Odd {
        private Long id;
        private final Links<Pilot> pilots = Links.empty();
        private final Links<Job> jobs = Links.empty();

        Links<Pilot> pilots() {
            return pilots;
        }

        Links<Job> jobs() {
            return jobs;
        }
    }

    @Test
    void faultsAreListed() {
        assertThatThrownBy(() -> Model.of(
                        "odd",
                        Entity.of(Odd.class, Odd::new).pivot(Odd::pilots, distinctEnds()),
                        Entity.of(Pilot.class, Pilot::new)))
                .isInstanceOf(ModelException.class)
                .hasMessageContaining("Odd.jobs: needs its other end, or a pivot")
                .hasMessageContaining("Pilot.deputies: needs its other end, or a pivot");
    }

    static final class Half {
        private Long id;
        private final Links<Half> others = Links.empty();

        Links<Half> others() {
            return others;
        }
    }

    @Test
    void halfAPairMeansNothing() {
        assertThatThrownBy(() -> Model.of(
                        "half",
                        Entity.of(Half.class, Half::new).pivot(Half::others, ownSide(onDelete(DeleteRule.SET_NULL)))))
                .hasMessageContaining("half a pair");
    }
}
