package io.bathra.contract;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.UnitOfWork;
import io.bathra.error.BathraException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.UnitStateException;
import io.bathra.error.UnreadLinkException;
import io.bathra.harbour.Berth;
import io.bathra.harbour.CallStatus;
import io.bathra.harbour.Movement;
import io.bathra.harbour.Operator;
import io.bathra.harbour.PortCall;
import io.bathra.harbour.Vessel;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.Executed.Kind;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Object graphs stored, read back, changed and removed. */
class GraphTest extends HarbourContract {
    GraphTest(TestDatabase database) {
        super(database);
    }

    @Test
    void creatingTheSchemaTwiceDoesNothing() {
        assertThat(store.schema().createMissing().nothingToDo()).isTrue();
        assertThat(store.schema().statements()).isNotEmpty();
    }

    @Test
    void oneAddBringsEverythingNewAlong() {
        Operator operator = new Operator("Nordlicht");
        Vessel vessel = new Vessel("9074729", "Nordstern").name("Nordlicht");
        PortCall call = new PortCall(vessel, NOON);
        Movement movement = new Movement("arrival");
        vessel.operator().set(operator);
        vessel.setLengthMetres(new BigDecimal("142.5"));
        movement.call().set(call);

        try (UnitOfWork work = store.begin()) {
            work.add(movement);
            assertThat(work.standing(operator)).isEqualTo(Standing.NEW);
            assertThat(call.movements()).as("the other side, before the flush").containsExactly(movement);
            FlushReport report = work.commit();
            assertThat(report.total()).isEqualTo(new FlushReport.Rows(4, 0, 0));
            assertThat(work.standing(vessel)).isEqualTo(Standing.CLEAN);
            assertThat(vessel.getLengthMetres()).as("as the column keeps it").isEqualTo(new BigDecimal("142.50"));
        }

        store.run(work -> {
            Vessel read = work.require(Vessel.class, vessel.id());
            assertThat(read).isNotSameAs(vessel);
            assertThat(read.name()).isEqualTo("Nordlicht");
            assertThat(read.getLengthMetres()).isEqualTo(new BigDecimal("142.50"));
            assertThat(read.operator().get().name()).isEqualTo("Nordlicht");
            PortCall readCall = read.calls().iterator().next();
            assertThat(readCall.eta()).isEqualTo(NOON);
            assertThat(readCall.status()).isEqualTo(CallStatus.EXPECTED);
            assertThat(readCall.vessel().get()).as("one row, one object").isSameAs(read);
            assertThat(readCall.berth().isEmpty()).isTrue();
            assertThat(readCall.movements()).hasSize(1);
        });
    }

    @Test
    void whatIsReachedAfterAddComesAlongAndWhatIsNotReachedAnyMoreStaysOut() {
        storeFleet(1, 1);
        store.run(work -> {
            PortCall call = work.from(PortCall.class).one();
            Berth first = new Berth("N1");
            Berth second = new Berth("N2");
            call.berth().set(first);
            call.berth().set(second);
            FlushReport report = work.flush();
            assertThat(report.of(Berth.class).inserted()).isEqualTo(1);
            assertThat(work.from(Berth.class).list()).containsExactly(second);
        });
    }

    @Test
    void whatIsNotReachedAnyMoreDoesNotHoldUpAFlush() {
        storeFleet(1, 0);
        store.run(work -> {
            Vessel vessel = work.from(Vessel.class).one();
            Movement movement = new Movement("shift");
            work.add(movement);
            movement.call().set(new PortCall(vessel, NOON));
            movement.call().set(new PortCall(new Vessel("9000001", "another"), NOON));
            work.remove(vessel);
            assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(3, 0, 1));
        });
    }

    @Test
    void findAsksTheIdentityMapFirst() {
        storeFleet(1, 0);
        try (UnitOfWork work = store.begin()) {
            Vessel vessel = work.from(Vessel.class).one();
            assertThat(work.find(Vessel.class, vessel.id())).containsSame(vessel);
            assertThat(work.trace().statements()).hasSize(1);
            assertThat(work.trace().lines()).last().satisfies(line -> {
                assertThat(line.kind()).isEqualTo(Kind.MEMORY);
                assertThat(line.sql()).isEqualTo("no statement: already here");
                assertThat(line.number()).isEqualTo(work.trace().lines().size());
            });
            assertThat(work.find(Vessel.class, -1L)).isEmpty();
            assertThatThrownBy(() -> work.require(Vessel.class, -1L))
                    .isInstanceOf(NoSuchRowException.class)
                    .hasMessageContaining("Vessel -1");
            assertThatThrownBy(() -> work.find(Vessel.class, "7"))
                    .hasMessageContaining("the key of Vessel is a Long, but 7 is a String");
        }
    }

    @Test
    void linksAreReadForTheWholeCohort() {
        storeFleet(40, 10);
        try (UnitOfWork work = store.begin()) {
            List<PortCall> calls = work.from(PortCall.class).list();
            assertThat(calls).hasSize(400);
            calls.forEach(call ->
                    assertThat(call.vessel().get().operator().get().name()).isEqualTo("Nordlicht"));
            assertThat(work.trace().statements()).as("not 400").hasSize(3);

            calls.forEach(call -> assertThat(call.movements()).isEmpty());
            calls.forEach(
                    call -> assertThat(call.vessel().get().calls()).hasSize(10).contains(call));
            assertThat(work.trace().statements())
                    .as("one more for each to-many")
                    .hasSize(5);
        }
    }

    @Test
    void aSeasonIsWrittenInFewStatements() {
        storeFleet(60, 0);
        try (UnitOfWork work = store.begin()) {
            for (Vessel vessel : work.from(Vessel.class).list()) {
                for (int i = 0; i < 7; i++) {
                    PortCall call = new PortCall(vessel, NOON.plusHours(i));
                    for (int m = 0; m < 3; m++) {
                        call.movements().add(new Movement("shift"));
                    }
                    work.add(call);
                }
            }
            work.trace().clear();
            assertThat(work.commit().total().inserted()).isEqualTo(60 * 7 * 4);
            if (database == TestDatabase.POSTGRESQL) {
                assertThat(sql(work))
                        .filteredOn(sql -> sql.contains("movement"))
                        .hasSizeLessThanOrEqualTo(3);
                assertThat(sql(work))
                        .filteredOn(sql -> sql.contains("port_call"))
                        .hasSizeLessThanOrEqualTo(3);
            }
            assertThat(work.trace().statements())
                    .as("keys and rows of two tables")
                    .hasSizeLessThanOrEqualTo(6);
        }
    }

    @Test
    void changesAreFoundAndOnlyTheyAreWritten() {
        storeFleet(3, 2);
        try (UnitOfWork work = store.begin()) {
            List<PortCall> calls = work.from(PortCall.class)
                    .orderBy(the(PortCall::eta).ascending())
                    .alongWith(PortCall::vessel)
                    .list();
            calls.get(0).delayTo(NOON.plusYears(1));
            calls.get(1).berth().set(new Berth("N1"));
            assertThat(work.standing(calls.get(0))).isEqualTo(Standing.DIRTY);
            assertThat(work.standing(calls.get(1))).isEqualTo(Standing.DIRTY);
            assertThat(work.standing(calls.get(2))).isEqualTo(Standing.CLEAN);
            assertThat(work.changes())
                    .extracting(Object::toString)
                    .contains("PortCall " + calls.get(0).id() + ".eta: 2026-04-01T12:00 -> 2027-04-01T12:00");
            assertThat(work.plan().steps())
                    .extracting(Object::toString)
                    .containsExactly("insert berth (1 row)", "update port_call (1 row)", "update port_call (1 row)");
            work.commit();
            assertThat(work.plan().isEmpty()).isTrue();
        }
        store.run(work -> assertThat(work.from(PortCall.class)
                        .where(the(PortCall::berth, Berth::getId).isNotNull())
                        .list())
                .singleElement()
                .satisfies(call -> assertThat(call.berth().get().code()).isEqualTo("N1")));
    }

    @Test
    void manyRowsOfOneShapeAreUpdatedAndDeletedSetWise() {
        storeFleet(50, 1);
        try (UnitOfWork work = store.begin()) {
            List<PortCall> calls = work.from(PortCall.class).list();
            calls.forEach(call -> call.delayTo(call.eta().plusHours(1)));
            work.trace().clear();
            assertThat(work.flush().of(PortCall.class).updated()).isEqualTo(50);
            calls.forEach(work::remove);
            assertThat(work.commit().of(PortCall.class)).isEqualTo(new FlushReport.Rows(0, 50, 50));
            assertThat(work.trace().statements()).hasSize(2);
        }
        assertThat(count(PortCall.class)).isZero();
    }

    @Test
    void bothSidesStayConsistent() {
        storeFleet(2, 1);
        try (UnitOfWork work = store.begin()) {
            List<Vessel> vessels = work.from(Vessel.class)
                    .orderBy(the(Vessel::imo).ascending())
                    .list();
            PortCall call = vessels.get(0).calls().iterator().next();

            call.vessel().set(vessels.get(1));
            assertThat(vessels.get(0).calls()).isEmpty();
            assertThat(vessels.get(1).calls()).hasSize(2).contains(call);

            vessels.get(0).calls().add(call);
            assertThat(call.vessel().get()).isSameAs(vessels.get(0));
            assertThat(vessels.get(1).calls()).hasSize(1).doesNotContain(call);
            assertThat(work.plan().isEmpty()).as("back where it was").isTrue();

            vessels.get(0).calls().remove(call);
            assertThat(call.vessel().isEmpty()).isTrue();
            assertThat(work.problems()).singleElement().satisfies(problem -> {
                assertThat(problem.attribute()).isEqualTo("vessel");
                assertThat(problem.reason()).contains("required");
            });
            work.remove(call);
            assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(0, 0, 1));
        }
    }

    @Test
    void unreadLinksTakeChangesWithoutBeingRead() {
        storeFleet(2, 1);
        try (UnitOfWork work = store.begin()) {
            List<Vessel> vessels = work.from(Vessel.class)
                    .orderBy(the(Vessel::imo).ascending())
                    .list();
            PortCall added = new PortCall(vessels.get(0), NOON);
            vessels.get(0).calls().add(added);
            assertThat(vessels.get(0).calls().isRead()).isFalse();
            PortCall moved = work.from(PortCall.class)
                    .where(the(PortCall::vessel, Vessel::id).is(vessels.get(0).id()))
                    .orderBy(the(PortCall::id).ascending())
                    .first()
                    .orElseThrow();
            assertThat(sql(work)).last().asString().doesNotContain("join");
            moved.vessel().set(vessels.get(1));
            assertThat(vessels.get(0).calls()).containsExactly(added);
            assertThat(vessels.get(1).calls()).hasSize(2).contains(moved);
        }
    }

    @Test
    void removingRespectsWhoLinksThere() {
        storeFleet(1, 2);
        try (UnitOfWork work = store.begin()) {
            Vessel vessel = work.from(Vessel.class).one();
            List<PortCall> calls = List.copyOf(vessel.calls());
            work.remove(vessel);
            assertThatThrownBy(work::flush)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("PortCall " + calls.get(0).id() + ".vessel")
                    .hasMessageContaining("PortCall " + calls.get(1).id() + ".vessel");
            calls.forEach(work::remove);
            assertThat(work.standing(vessel)).isEqualTo(Standing.REMOVED);
            work.commit();
            assertThat(work.standing(vessel)).isEqualTo(Standing.UNTRACKED);
        }
        assertThat(count(Vessel.class)).isZero();
    }

    @Test
    void berthsWithinBerthsGoInAndOutInTheRightOrder() {
        List<Berth> chain = new ArrayList<>();
        for (int i = 0; i < 30; i++) {
            chain.add(new Berth("B" + i));
        }
        for (int i = 0; i < 29; i++) {
            chain.get(i).within().set(chain.get(i + 1));
        }
        store.run(work -> {
            chain.forEach(work::add);
            assertThat(work.plan().steps()).singleElement().satisfies(step -> {
                assertThat(step.rows().get(0)).isEqualTo("Berth (new #30)");
                assertThat(step.why()).isEqualTo("parents first");
            });
        });
        store.run(work -> {
            List<Berth> read = work.from(Berth.class).list();
            assertThat(read).hasSize(30);
            read.forEach(work::remove);
            assertThat(work.plan().steps())
                    .singleElement()
                    .satisfies(step -> assertThat(step.why()).isEqualTo("children first"));
        });
        assertThat(count(Berth.class)).isZero();
    }

    @Test
    void aRingIsCutAtTheNullableLinkOnItsWayInAndOut() {
        Berth a = new Berth("A");
        Berth b = new Berth("B");
        a.within().set(b);
        b.within().set(a);
        store.run(work -> {
            work.add(a);
            assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(2, 0, 0));
        });
        store.run(work -> {
            Berth read = work.require(Berth.class, a.getId());
            assertThat(read.within().get().within().get()).isSameAs(read);
            work.remove(read.within().get());
            work.remove(read);
            assertThat(work.plan().steps())
                    .extracting(Object::toString)
                    .containsExactly("update berth (2 rows)", "delete berth (2 rows)");
            assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(0, 0, 2));
        });
    }

    @Test
    void aUniqueValueFreedByOneRowIsTakenByAnother() {
        storeFleet(2, 0);
        store.run(work -> {
            List<Vessel> vessels = work.from(Vessel.class)
                    .orderBy(the(Vessel::imo).ascending())
                    .list();
            String freed = vessels.get(0).imo();
            work.remove(vessels.get(0));
            vessels.get(1).renumber(freed);
            work.add(new Vessel("9000001", "takes what the second one had"));
            assertThat(work.plan().steps())
                    .extracting(Object::toString)
                    .containsExactly("delete vessel (1 row)", "update vessel (1 row)", "insert vessel (1 row)");
        });
        assertThat(count(Vessel.class)).isEqualTo(2);
    }

    @Test
    void invalidChangesAreAllNamedBeforeAnySql() {
        try (UnitOfWork work = store.begin()) {
            Vessel nameless = new Vessel("90747291", null);
            Vessel twin = new Vessel("90747291", "a twin");
            twin.setLengthMetres(new BigDecimal("12345.678"));
            work.add(nameless);
            work.add(twin);
            work.add(new PortCall(twin, NOON));
            work.add(new Movement("of no call"));
            assertThatThrownBy(work::commit)
                    .isInstanceOf(InvalidChangesException.class)
                    .hasMessageContaining("Vessel (new #1).imo = 90747291: is 8 long, but the column keeps 7")
                    .hasMessageContaining("Vessel (new #1).name = null: is required")
                    .hasMessageContaining("Vessel (new #2).imo = 90747291: must be unique")
                    .hasMessageContaining("Vessel (new #2).lengthMetres = 12345.678: does not fit into digits(6, 2)")
                    .hasMessageContaining("Movement (new #4).call = null: is required");
            assertThat(work.trace().lines()).isEmpty();
        }
    }

    @Test
    void aClosedUnitSaysSoAndAdvises() {
        storeFleet(1, 1);
        UnitOfWork work = store.begin();
        PortCall call = work.from(PortCall.class).one();
        work.close();
        assertThatThrownBy(() -> call.vessel().get())
                .isInstanceOf(UnreadLinkException.class)
                .hasMessageContaining("PortCall " + call.id() + ".vessel was never read")
                .hasMessageContaining(".alongWith(PortCall::vessel)");
        assertThatThrownBy(() -> call.movements().size()).isInstanceOf(UnreadLinkException.class);
        assertThat(call.vessel().toString()).contains("unread");
        assertThatThrownBy(work::plan).isInstanceOf(UnitStateException.class).hasMessageContaining("closed");
        work.close();
    }

    @Test
    void whatBelongsToNobodyIsRefused() {
        storeFleet(1, 0);
        Vessel stranger = store.call(work -> work.from(Vessel.class).one());
        try (UnitOfWork work = store.begin()) {
            assertThatThrownBy(() -> work.add(stranger))
                    .isInstanceOf(BathraException.class)
                    .hasMessageContaining("has a key already");
            assertThatThrownBy(() -> work.remove(stranger)).hasMessageContaining("does not know it");
            assertThatThrownBy(() -> work.add("text")).hasMessageContaining("java.lang.String is not in the model");
            work.add(new PortCall(stranger, NOON));
            assertThat(work.problems())
                    .extracting(problem -> problem.attribute() + " " + problem.reason())
                    .containsExactly(
                            "vessel leads to an object that this unit of work does not know; read it here, or add it");
        }
    }

    @Test
    void pendingChangesAreFlushedBeforeAQueryOfTheirTable() {
        storeFleet(1, 1);
        try (UnitOfWork work = store.begin()) {
            Vessel vessel = work.from(Vessel.class).one();
            vessel.name("Renamed");
            assertThat(work.from(PortCall.class).count()).isEqualTo(1);
            assertThat(sql(work)).noneMatch(sql -> sql.startsWith("update"));
            assertThat(work.from(Vessel.class)
                            .where(the(Vessel.class, Vessel::name).is("Renamed"))
                            .count())
                    .isEqualTo(1);
            assertThat(sql(work)).filteredOn(sql -> sql.startsWith("update")).hasSize(1);
        }
        store.run(work -> assertThat(work.from(Vessel.class).one().name()).isEqualTo("North 0"));
    }

    @Test
    void aQueryBringsCleanObjectsUpToDateAndLeavesChangedOnesAlone() {
        storeFleet(2, 0);
        try (UnitOfWork work = store.begin()) {
            List<Vessel> vessels = work.from(Vessel.class)
                    .orderBy(the(Vessel::imo).ascending())
                    .list();
            Operator operator = vessels.get(0).operator().get();
            work.commit();
            store.run(other -> other.from(Vessel.class).list().forEach(vessel -> vessel.name("theirs")));

            vessels.get(1).name("mine");
            assertThat(operator.vessels()).hasSize(2);
            assertThat(vessels.get(0).name()).isEqualTo("theirs");
            assertThat(vessels.get(1).name()).isEqualTo("mine");
        }
    }
}
