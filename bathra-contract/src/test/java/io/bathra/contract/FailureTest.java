package io.bathra.contract;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.assertj.core.api.Assumptions.assumeThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.CheckViolation;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.NotNullViolation;
import io.bathra.error.RestrictViolation;
import io.bathra.error.StatementException;
import io.bathra.error.UniqueViolation;
import io.bathra.error.UnitStateException;
import io.bathra.harbour.Movement;
import io.bathra.harbour.PortCall;
import io.bathra.harbour.Vessel;
import io.bathra.model.Declare;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.TestDatabase;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;

/** What goes wrong leaves the database as before, the objects usable, and a message that helps. */
class FailureTest extends HarbourContract {
    FailureTest(TestDatabase database) {
        super(database);
    }

    @Test
    void aFailedFlushLeavesObjectsAsTheyWereAndCanBeDoneAgain() {
        storeFleet(1, 0);
        try (UnitOfWork work = store.begin()) {
            Vessel twin = new Vessel("9000000", "has the number of another one");
            PortCall call = new PortCall(twin, NOON);
            work.add(call);

            UniqueViolation violation = catchThrowableOfType(UniqueViolation.class, work::flush);
            assertThat(violation.place().entity()).isEqualTo("Vessel");
            assertThat(violation.place().attributes()).containsExactly("imo");
            if (database != TestDatabase.SQLITE) {
                assertThat(violation.place().value()).contains("9000000");
            }
            assertThat(violation)
                    .hasMessageContaining("choose another value")
                    .hasMessageContaining("insert into vessel");
            assertThat(work.standing(call)).isEqualTo(Standing.NEW);
            assertThat(twin.id()).isNull();
            assertThat(call.id()).isNull();

            twin.renumber("9000001");
            assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(2, 0, 0));
        }
        assertThat(count(PortCall.class)).isEqualTo(1);
    }

    @Test
    void aFailedFlushGoesBackToWhatAnEarlierFlushHasWritten() {
        storeFleet(1, 0);
        try (UnitOfWork work = store.begin()) {
            Vessel first = new Vessel("9000001", "first");
            work.add(first);
            work.flush();
            Vessel second = new Vessel("9000000", "second");
            work.add(second);
            assertThatThrownBy(work::flush).isInstanceOf(UniqueViolation.class);
            assertThat(work.standing(first)).isEqualTo(Standing.CLEAN);
            work.remove(second);
            assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(1, 0, 0));
        }
        assertThat(count(Vessel.class)).isEqualTo(2);
    }

    @Test
    void rollbackTakesStandingsAndKeysBackAndKeepsValues() {
        storeFleet(1, 1);
        try (UnitOfWork work = store.begin()) {
            Vessel vessel = work.from(Vessel.class).one();
            PortCall call = vessel.calls().iterator().next();
            Vessel added = new Vessel("9000001", "added");
            vessel.name("Renamed");
            work.add(added);
            work.remove(call);
            work.flush();
            assertThat(added.id()).isNotNull();
            assertThat(work.standing(call)).isEqualTo(Standing.UNTRACKED);

            work.rollback();
            assertThat(added.id()).isNull();
            assertThat(work.standing(added)).isEqualTo(Standing.NEW);
            assertThat(work.standing(vessel)).isEqualTo(Standing.DIRTY);
            assertThat(work.standing(call)).isEqualTo(Standing.REMOVED);
            assertThat(vessel.name()).isEqualTo("Renamed");

            work.add(call);
            assertThat(vessel.calls()).containsExactly(call);
            assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(1, 1, 0));
        }
        assertThat(count(PortCall.class)).isEqualTo(1);
    }

    @Test
    void aConnectionKilledInTheMiddleOfAFlushLeavesNothingHalfStored() {
        Vessel vessel = new Vessel("9000001", "Nordlicht");
        PortCall call = new PortCall(vessel, NOON);
        call.movements().add(new Movement("arrival"));
        try (UnitOfWork work = store.begin()) {
            work.add(call);
            faults.onStatement(sql -> sql.startsWith("insert into port_call")).connectionLost();
            ConnectionLostException lost = catchThrowableOfType(ConnectionLostException.class, work::flush);
            assertThat(lost.isRetryable()).isTrue();
            assertThat(lost).hasMessageContaining("connection").hasMessageContaining("rolled back");
            assertThatThrownBy(work::flush)
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("broken")
                    .hasCause(lost);
            assertThat(vessel.id()).isNull();
            assertThat(call.vessel().get()).as("the graph is whole").isSameAs(vessel);
            assertThat(call.movements()).hasSize(1);
        }
        faults.clear();
        assertThat(count(Vessel.class)).as("nothing is half-stored").isZero();
        try (UnitOfWork work = store.begin()) {
            work.add(call);
            faults.onStatement(sql -> sql.startsWith("insert into port_call")).connectionLost();
            assertThatThrownBy(work::commit)
                    .as("on a server the commit was to go with it")
                    .isInstanceOf(
                            Trips.areMadeOf(database) ? CommitUnknownException.class : ConnectionLostException.class);
            assertThat(vessel.id()).isNull();
        }
        faults.clear();
        assertThat(count(Vessel.class)).isZero();

        store.run(work -> work.add(call));
        assertThat(call.id()).isNotNull();
        assertThat(count(Movement.class)).isEqualTo(1);
    }

    @Test
    void everyStatementOfAFlushMayFail() {
        storeFleet(2, 1);
        int statements = mixedFlush(Integer.MAX_VALUE);
        assertThat(statements).isGreaterThan(4);
        for (int i = 1; i <= statements; i++) {
            mixedFlush(i);
        }
    }

    /** A flush of all kinds of changes whose n-th statement fails; then again, without the failure, rolled back. */
    private int mixedFlush(int failing) {
        try (UnitOfWork work = store.begin()) {
            List<Vessel> vessels = work.from(Vessel.class)
                    .orderBy(the(Vessel::imo).ascending())
                    .alongWith(Vessel::calls)
                    .list();
            PortCall removed = vessels.get(0).calls().iterator().next();
            PortCall added = new PortCall(vessels.get(1), NOON);
            added.movements().add(new Movement("arrival"));
            work.add(added);
            vessels.get(1).name("Renamed");
            work.remove(removed);

            faults.clear();
            if (failing < Integer.MAX_VALUE) {
                faults.on(failing).failsWith(() -> new SQLException("out of order", "58000"));
                assertThatThrownBy(work::flush)
                        .isInstanceOf(StatementException.class)
                        .hasMessageContaining("out of order");
                assertThat(work.standing(added)).isEqualTo(Standing.NEW);
                assertThat(work.standing(vessels.get(1))).isEqualTo(Standing.DIRTY);
                assertThat(work.standing(removed)).isEqualTo(Standing.REMOVED);
                assertThat(added.id()).isNull();
                assertThat(count(PortCall.class)).isEqualTo(2);
            }
            faults.clear();
            assertThat(work.flush().total()).isEqualTo(new FlushReport.Rows(2, 1, 1));
            int statements = faults.statements();
            faults.clear();
            return statements;
        }
    }

    @Test
    void aConnectionLostDuringCommitIsSaidToBeUnknown() {
        assumeThat(database).as("SQLite commits in this process").isNotEqualTo(TestDatabase.SQLITE);
        try (UnitOfWork work = store.begin()) {
            Vessel vessel = new Vessel("9000001", "Nordlicht");
            work.add(vessel);
            faults.onCommit().failsWith(() -> new SQLException("reply lost", "08006"));
            assertThatThrownBy(work::commit)
                    .isInstanceOf(CommitUnknownException.class)
                    .hasMessageContaining("unknown whether the changes are stored");
            faults.clear();
            assertThat(vessel.id()).isNull();
            assertThatThrownBy(work::commit).isInstanceOf(UnitStateException.class);
        }
    }

    @Test
    void aCommitThatIsRefusedCanBeDoneAgain() {
        assumeThat(database).as("SQLite is given SQL text").isNotEqualTo(TestDatabase.SQLITE);
        storeFleet(1, 0);
        try (UnitOfWork work = store.begin()) {
            Vessel known = work.from(Vessel.class).one();
            known.name("Renamed");
            Vessel added = new Vessel("9000001", "Nordlicht");
            work.add(added);
            work.flush();
            faults.onCommit().failsWith(() -> new SQLException("a deferred constraint says no", "23503"));
            assertThatThrownBy(work::commit).isInstanceOf(ForeignKeyViolation.class);
            faults.clear();
            assertThat(added.id()).isNull();
            assertThat(work.standing(added)).isEqualTo(Standing.NEW);
            assertThat(work.standing(known)).isEqualTo(Standing.DIRTY);
            assertThat(work.commit().total()).isEqualTo(new FlushReport.Rows(1, 1, 0));
        }
        assertThat(count(Vessel.class)).isEqualTo(2);
    }

    @Test
    void afterAFailedStatementInATransactionThatHasWrittenCommitRefuses() {
        try (UnitOfWork work = store.begin()) {
            work.add(new Vessel("9000001", "Nordlicht"));
            work.flush();
            faults.on(1).failsWith(() -> new SQLException("no", "58000"));
            assertThatThrownBy(() -> work.from(PortCall.class).list()).isInstanceOf(StatementException.class);
            faults.clear();
            assertThatThrownBy(work::commit)
                    .isInstanceOf(UnitStateException.class)
                    .hasMessageContaining("nothing was committed")
                    .hasMessageContaining("rollback()");
            work.rollback();
            assertThat(work.commit().total().inserted()).isEqualTo(1);
        }
        assertThat(count(Vessel.class)).isEqualTo(1);
    }

    @Test
    void rowsThatSomebodyElseRemovedAreNamed() {
        storeFleet(4, 0);
        try (UnitOfWork work = store.begin()) {
            List<Vessel> vessels = work.from(Vessel.class).list();
            work.commit();
            store.run(other ->
                    other.remove(other.require(Vessel.class, vessels.get(2).id())));
            vessels.forEach(vessel -> vessel.name("Renamed"));
            assertThatThrownBy(work::flush)
                    .isInstanceOf(ConcurrentChangeException.class)
                    .hasMessageContaining(
                            "cannot update Vessel " + vessels.get(2).id() + " (removed by somebody else)");
            assertThat(work.standing(vessels.get(0))).isEqualTo(Standing.DIRTY);
            long renamed = store.call(other -> other.from(Vessel.class)
                    .where(the(Vessel.class, Vessel::name).is("Renamed"))
                    .count());
            assertThat(renamed).isZero();
        }
    }

    @Test
    void aRowThatOthersLinkToIsRefusedByTheDatabase() {
        storeFleet(1, 1);
        store.run(work -> {
            Vessel vessel = work.from(Vessel.class).one();
            work.remove(vessel);
            RestrictViolation refused = catchThrowableOfType(RestrictViolation.class, work::flush);
            assertThat(refused).hasCauseInstanceOf(ForeignKeyViolation.class);
            assertThat(refused.problems()).singleElement().satisfies(problem -> {
                assertThat(problem.entity()).isEqualTo("PortCall 1");
                assertThat(problem.attribute()).isEqualTo("vessel");
                assertThat(problem.value()).isEqualTo("Vessel 1");
            });
            work.add(vessel);
        });
    }

    static final class Note {
        private Long id;
        private String body;
        private int stars;

        Long id() {
            return id;
        }
    }

    /** A table that knows more than the model does. */
    @Test
    void constraintsThatOnlyTheDatabaseKnowsAreNamed() {
        TestDatabase.execute(
                plain,
                "create table note (id bigint primary key, body varchar(20) not null, stars integer,"
                        + " constraint few_stars check (stars < 6))");
        Model model = Model.of("notes", Entity.of(Note.class, Note::new).key(Note::id, Declare.assigned()));
        try (Store notes = Trips.open(model, faults.source());
                UnitOfWork work = notes.begin()) {
            Note note = new Note();
            note.id = 1L;
            work.add(note);
            NotNullViolation missing = catchThrowableOfType(NotNullViolation.class, work::flush);
            assertThat(missing.place().entity()).isEqualTo("Note");
            assertThat(missing.place().attributes()).containsExactly("body");
            note.body = "good";
            note.stars = 7;
            CheckViolation check = catchThrowableOfType(CheckViolation.class, work::flush);
            assertThat(check).hasMessageContaining("check");
            note.stars = 5;
            work.commit();
        }
    }

    @Test
    void aDatabaseThatCannotBeReachedIsAPlainMessage() {
        faults.onConnection().failsWith(() -> new SQLException("pool is empty.", "08001"));
        try (UnitOfWork work = store.begin()) {
            assertThatThrownBy(() -> work.from(Vessel.class).count())
                    .isInstanceOf(DatabaseUnreachableException.class)
                    .hasMessageStartingWith("no connection to the database: pool is empty; check");
        }
        faults.clear();
    }

    @Test
    void anEmptyPoolIsToldFromADatabaseThatIsNotThere() throws SQLException {
        DataSource pool = mock(DataSource.class);
        when(pool.getConnection())
                .thenAnswer(call -> plain.getConnection())
                .thenThrow(new SQLTransientConnectionException("none free after 250 ms (total=2, active=2)"));
        try (Store pooled = Trips.open(store.model(), pool);
                UnitOfWork work = pooled.begin()) {
            assertThatThrownBy(() -> work.from(Vessel.class).count())
                    .isInstanceOf(DatabaseUnreachableException.class)
                    .hasMessageStartingWith("no connection was free in time: none free after 250 ms")
                    .hasMessageEndingWith("close units of work sooner, or let the pool have more connections");
        }
    }
}
