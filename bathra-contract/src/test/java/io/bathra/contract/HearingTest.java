package io.bathra.contract;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.StatementException;
import io.bathra.error.UniqueViolation;
import io.bathra.harbour.Operator;
import io.bathra.harbour.Vessel;
import io.bathra.testing.Overheard;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.Operation;
import io.bathra.trace.StoreListener;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Who listens to a store stands around each statement, and hears what becomes of its units; nobody is disturbed. */
class HearingTest extends HarbourContract {
    /** Collects what was executed, and why some of it failed. */
    private final List<Executed> heard = new ArrayList<>();

    private final List<Throwable> failures = new ArrayList<>();
    private final AtomicInteger open = new AtomicInteger();

    HearingTest(TestDatabase database) {
        super(database);
    }

    private Store hearing() {
        return store.heardBy(started -> {
            open.incrementAndGet();
            assertThat(started.time().isZero())
                    .as("its time is known at its end")
                    .isTrue();
            return (ended, failure) -> {
                open.decrementAndGet();
                assertThat(ended.sql()).isEqualTo(started.sql());
                assertThat(ended.unit()).isEqualTo(started.unit());
                heard.add(ended);
                if (failure != null) {
                    failures.add(failure);
                }
            };
        });
    }

    private List<Executed> statements() {
        return heard.stream().filter(one -> one.kind() == Kind.STATEMENT).toList();
    }

    @Test
    void eachStatementTellsWhereItBelongsAndHoldsNoValue() {
        Store heardStore = hearing();
        heardStore.run(work -> {
            Operator operator = new Operator("Nordlicht");
            operator.vessels().add(new Vessel("9000001", "Elbe"));
            work.add(operator);
        });
        assertThat(heard.get(0).kind()).isEqualTo(Kind.BEGIN);
        assertThat(heard.get(heard.size() - 1).kind()).isEqualTo(Kind.COMMIT);
        List<Executed> inserts = heard.stream()
                .filter(one -> one.operation() == Operation.INSERT)
                .toList();
        assertThat(inserts).extracting(Executed::table).containsExactly("operator", "vessel");
        assertThat(inserts).extracting(Executed::step).containsExactly(1, 2);
        assertThat(inserts).extracting(Executed::rows).containsExactly(1L, 1L);
        assertThat(heard).extracting(Executed::transaction).containsOnly(1);
        assertThat(heard).extracting(Executed::unit).containsOnly(heard.get(0).unit());
        assertThat(statements())
                .extracting(one -> one.trip() * 1_000 + one.part())
                .isSorted()
                .doesNotHaveDuplicates();
        assertThat(heard)
                .extracting(Executed::thread)
                .containsOnly(Thread.currentThread().getName());

        long first = heard.get(0).unit();
        heard.clear();
        heardStore.run(work -> {
            Vessel vessel = work.from(Vessel.class)
                    .where(the(Vessel::imo).is("9000001"))
                    .one();
            work.find(Operator.class, vessel.operator().get().id());
            work.find(Operator.class, 471147114711L);
        });
        assertThat(heard).extracting(Executed::unit).containsOnly(first + 1);
        assertThat(heard).extracting(Executed::purpose).contains("find Operator", "from Vessel where imo = ? limit 2");
        assertThat(heard.toString()).doesNotContain("9000001", "471147114711", "Elbe");
        assertThat(heard).extracting(Executed::kind).contains(Kind.MEMORY);
        assertThat(heard).extracting(Executed::operation).containsOnlyNulls();
        assertThat(open).hasValue(0);
    }

    @Test
    void theLogHoldsNoKeyEither() {
        try (Overheard log = new Overheard()) {
            store.run(work -> work.find(Operator.class, 471147114711L));
            assertThat(log.text()).contains("find Operator").doesNotContain("471147114711");
        }
    }

    @Test
    void whatFailsEndsWithItsFailure() {
        storeFleet(1, 0);
        Store heardStore = hearing();
        assertThatThrownBy(() -> heardStore.run(work -> work.add(new Vessel("9000000", "Twice"))))
                .isInstanceOf(UniqueViolation.class);
        assertThat(Set.copyOf(failures)).singleElement().isInstanceOf(UniqueViolation.class);
        assertThat(heard).extracting(Executed::kind).contains(Kind.ROLLBACK);
        assertThat(open).hasValue(0);
    }

    @Test
    void whatIsGivenUpEndsAsWell() {
        Store heardStore = hearing();
        Stream<Vessel> broken = IntStream.range(0, 5).mapToObj(i -> {
            if (i == 3) {
                throw new IllegalStateException("the file ends here");
            }
            return new Vessel("91" + i, "Bulk");
        });
        assertThatThrownBy(() -> heardStore.bulk(Vessel.class).insert(broken))
                .isInstanceOf(IllegalStateException.class);
        storeFleet(3, 0);
        try (UnitOfWork work = heardStore.begin();
                var vessels = work.from(Vessel.class).stream()) {
            assertThat(vessels.findFirst()).isPresent();
        }
        assertThatThrownBy(() -> heardStore.sql("select nothing from nowhere").list())
                .isInstanceOf(StatementException.class);
        assertThat(failures).hasAtLeastOneElementOfType(StatementException.class);
        assertThat(open).hasValue(0);
    }

    @Test
    void theLastFlushNeedsNoSavepointForRowsThatAreHeld() {
        storeFleet(2, 0);
        Store heardStore = hearing();
        heardStore.run(work -> held(work).name("Elbe"));
        assertThat(heard).extracting(Executed::kind).doesNotContain(Kind.SAVEPOINT);

        Operator fresh = new Operator("Nordlicht");
        assertThatThrownBy(() -> heardStore.run(work -> {
                    held(work).name("Twice");
                    work.add(fresh);
                    work.add(new Vessel("9000001", "Twice"));
                }))
                .isInstanceOf(UniqueViolation.class);
        assertThat(fresh.id()).as("the key of what was not stored").isNull();
        String name = store.call(work -> work.from(Vessel.class)
                .where(the(Vessel::imo).is("9000000"))
                .one()
                .name());
        assertThat(name).isEqualTo("Elbe");

        heard.clear();
        try (UnitOfWork work = heardStore.begin()) {
            held(work).name("Weser");
            work.commit();
        }
        assertThat(heard).extracting(Executed::kind).as("the unit goes on").contains(Kind.SAVEPOINT);
    }

    private static Vessel held(UnitOfWork work) {
        return work.from(Vessel.class)
                .where(the(Vessel::imo).is("9000000"))
                .forUpdate()
                .one();
    }

    @Test
    void streamsAndPlainStatementsAreHeardWhenTheyHaveEnded() {
        storeFleet(5, 0);
        Store heardStore = hearing();
        try (UnitOfWork work = heardStore.begin();
                var vessels = work.from(Vessel.class).stream()) {
            assertThat(vessels).hasSize(5);
        }
        assertThat(statements().get(0).rows()).isEqualTo(5);
        heard.clear();
        heardStore.sql("select count(*) from vessel").as(Long.class).one();
        heardStore.bulk(Vessel.class).insert(List.of(new Vessel("9111111", "Bulk")));
        assertThat(statements().get(0).purpose()).isEqualTo("sql");
        assertThat(statements()).extracting(Executed::purpose).contains("bulk insert of Vessel");
        assertThat(open).hasValue(0);
    }

    /** The kinds of events of units, in order. */
    private static final class Diary implements StoreListener {
        private final List<String> events = new ArrayList<>();

        @Override
        public void begun(Unit unit) {
            events.add("begun");
        }

        @Override
        public void flushing(Unit unit) {
            events.add("flushing");
        }

        @Override
        public void flushed(Unit unit) {
            events.add("flushed +" + unit.inserted());
        }

        @Override
        public void flushFailed(Unit unit, Throwable failure) {
            events.add("failed " + failure.getClass().getSimpleName());
        }

        @Override
        public void committed(Unit unit) {
            events.add("committed +" + unit.inserted());
        }

        @Override
        public void rolledBack(Unit unit) {
            events.add("rolled back +" + unit.inserted());
        }

        @Override
        public void closed(Unit unit, Throwable failure) {
            events.add(failure == null ? "closed" : "closed broken");
        }
    }

    @Test
    void whatBecomesOfUnitsIsHeardInOrder() {
        Diary diary = new Diary();
        Store heardStore = store.heardBy(diary);
        heardStore.run(work -> work.add(new Operator("Nordlicht")));
        assertThat(diary.events).containsExactly("begun", "flushing", "flushed +1", "committed +1", "closed");

        diary.events.clear();
        storeFleet(1, 0);
        assertThatThrownBy(() -> heardStore.run(work -> work.add(new Vessel("9000000", "Twice"))))
                .isInstanceOf(UniqueViolation.class);
        assertThat(diary.events)
                .containsExactly("begun", "flushing", "rolled back +0", "failed UniqueViolation", "closed");

        diary.events.clear();
        try (UnitOfWork work = heardStore.begin()) {
            work.add(new Operator("Undone"));
            work.flush();
            work.rollback();
            work.discard();
        }
        assertThat(diary.events).containsExactly("begun", "flushing", "flushed +1", "rolled back +1", "closed");

        diary.events.clear();
        heardStore.call(work -> work.from(Vessel.class).count());
        assertThat(diary.events.get(0)).isEqualTo("begun");
        assertThat(diary.events).contains("committed +0").endsWith("closed");
    }

    @Test
    void severalListenAndOneThatThrowsDisturbsNobody() {
        List<String> order = new ArrayList<>();
        Diary diary = new Diary();
        Store heardStore = store.heardBy(new StoreListener() {
                    @Override
                    public void committed(Unit unit) {
                        throw new IllegalStateException("broken listener");
                    }
                })
                .heardBy(diary)
                .heardBy(statement -> {
                    order.add("first " + statement.kind());
                    return (ended, failure) -> order.add("first ended");
                })
                .heardBy(statement -> {
                    throw new IllegalStateException("broken listener");
                })
                .heardBy(statement -> {
                    order.add("second " + statement.kind());
                    return (ended, failure) -> {
                        order.add("second ended");
                        throw new IllegalStateException("broken listener");
                    };
                });
        String log;
        try (Overheard overheard = new Overheard()) {
            heardStore.run(work -> work.add(new Operator("Nordlicht")));
            log = overheard.text();
        }
        assertThat(order).startsWith("first BEGIN", "second BEGIN", "second ended", "first ended");
        assertThat(log).contains("a listener of statements has failed", "a listener of units of work has failed");
        assertThat(diary.events).contains("committed +1");
        assertThat(count(Operator.class)).isEqualTo(1);
    }
}
