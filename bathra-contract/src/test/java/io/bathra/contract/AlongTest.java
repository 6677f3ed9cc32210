package io.bathra.contract;

import static io.bathra.query.Ask.along;
import static io.bathra.query.Ask.dateTime;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.UnitOfWork;
import io.bathra.error.TooManyStatementsException;
import io.bathra.harbour.Berth;
import io.bathra.harbour.Movement;
import io.bathra.harbour.Operator;
import io.bathra.harbour.PortCall;
import io.bathra.harbour.Vessel;
import io.bathra.query.Excerpt;
import io.bathra.query.Query;
import io.bathra.testing.TestDatabase;
import io.bathra.trace.Repetition;
import io.bathra.trace.StatementBudget;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What is read along with the entities of a query, and how reading one by one is found out. */
class AlongTest extends HarbourContract {
    AlongTest(TestDatabase database) {
        super(database);
    }

    private Keys keys;

    @BeforeEach
    void storeCalls() {
        storeFleet(20, 20);
        store.run(work -> {
            Berth quay = new Berth("quay");
            Berth berth = new Berth("berth");
            berth.within().set(quay);
            List<PortCall> calls = work.from(PortCall.class).list();
            for (int i = 0; i < calls.size(); i++) {
                calls.get(i).movements().add(new Movement("in"));
                calls.get(i).movements().add(new Movement(i % 2 == 0 ? "out" : "shift"));
                if (i % 3 == 0) {
                    calls.get(i).berth().set(berth);
                }
            }
        });
        keys = Keys.in(store, "vessel");
    }

    private static int visit(List<PortCall> calls) {
        int letters = 0;
        for (PortCall call : calls) {
            Vessel vessel = call.vessel().get();
            letters += vessel.operator().get().name().length();
            letters += call.movements().size();
            letters += call.berth().find().map(berth -> berth.code().length()).orElse(0);
        }
        return letters;
    }

    /** Four hundred calls, each with its vessel, the operator of that, its movements and its berth. */
    @Test
    void aVisitCostsAsManyStatementsAsThereAreAssociations() {
        int letters;
        try (UnitOfWork work = store.begin();
                StatementBudget budget = work.trace().expectAtMost(5)) {
            letters = visit(work.from(PortCall.class).list());
            assertThat(budget.used()).isEqualTo(5);
        }
        try (UnitOfWork work = store.begin();
                StatementBudget budget = work.trace().expectAtMost(2)) {
            List<PortCall> calls = work.from(PortCall.class)
                    .alongWith(along(PortCall::vessel, Vessel::operator), along(PortCall::movements))
                    .alongWith(PortCall::berth)
                    .list();
            assertThat(calls).hasSize(400).doesNotHaveDuplicates();
            assertThat(visit(calls)).isEqualTo(letters);
            assertThat(budget.used()).isEqualTo(2);
            assertThat(work.trace().statements().get(0).sql())
                    .contains("left join vessel")
                    .contains("left join operator")
                    .contains("left join berth");
        }
    }

    @Test
    void pathsAndConditionsShareAJoin() {
        try (UnitOfWork work = store.begin()) {
            Query<PortCall> query = work.from(PortCall.class)
                    .where(text(PortCall::vessel, Vessel::name).is("North 3"))
                    .alongWith(along(PortCall::vessel), along(PortCall::vessel, Vessel::operator))
                    .orderBy(the(PortCall::eta).ascending());
            String sql = query.sql().sql();
            assertThat(sql.split("join vessel")).hasSize(2);
            assertThat(sql.split("join operator")).hasSize(2);
            List<PortCall> calls = query.limit(7).list();
            assertThat(calls).hasSize(7);
            assertThat(calls)
                    .allMatch(call -> call.vessel().isRead()
                            && call.vessel().get().operator().isRead());
            assertThat(calls.get(0).vessel().get())
                    .isSameAs(calls.get(6).vessel().get());
            assertThat(work.trace().statements()).hasSize(1);
        }
    }

    @Test
    void aLinkMayBeReadByAStatementOfItsOwn() {
        try (UnitOfWork work = store.begin()) {
            List<PortCall> calls = work.from(PortCall.class)
                    .alongWith(along(PortCall::vessel).separately(), along(PortCall::vessel, Vessel::operator))
                    .list();
            assertThat(calls).allMatch(call -> call.vessel().get().operator().isRead());
            assertThat(work.trace().statements())
                    .hasSize(3)
                    .noneMatch(line -> line.sql().contains("join"));
            assertThatThrownBy(() -> work.from(PortCall.class)
                            .alongWith(along(PortCall::movements).joined())
                            .list())
                    .hasMessageContaining("PortCall.movements cannot be joined, since owners would come again");
            assertThatThrownBy(() -> work.from(PortCall.class)
                            .forUpdate()
                            .alongWith(along(PortCall::vessel).joined())
                            .list())
                    .hasMessageContaining("held for an update");
            assertThat(work.from(Operator.class)
                            .alongWith(along(Operator::vessels, Vessel::calls, PortCall::movements))
                            .list())
                    .allMatch(operator -> operator.vessels().stream()
                            .allMatch(vessel -> vessel.calls().stream()
                                    .allMatch(call -> call.movements().isRead())));
        }
    }

    @Test
    void aLimitCountsOwnersHoweverManyElementsCome() {
        try (UnitOfWork work = store.begin()) {
            List<PortCall> calls = work.from(PortCall.class)
                    .alongWith(PortCall::movements, PortCall::vessel)
                    .orderBy(the(PortCall::eta).descending())
                    .limit(10)
                    .offset(5)
                    .list();
            assertThat(calls).hasSize(10).doesNotHaveDuplicates();
            assertThat(calls).allMatch(call -> call.movements().size() == 2);
            assertThat(work.from(PortCall.class)
                            .alongWith(PortCall::movements, PortCall::berth)
                            .page(10, null)
                            .items())
                    .hasSize(10)
                    .allMatch(call -> call.movements().isRead());
        }
    }

    /** What is here already keeps its changes, and is not replaced by what a join brings. */
    @Test
    void whatIsJoinedIsTrackedLikeAnythingElse() {
        try (UnitOfWork work = store.begin()) {
            Vessel vessel = work.require(Vessel.class, keys.of("vessel", 1));
            vessel.name("renamed");
            List<PortCall> calls = work.from(PortCall.class)
                    .where(the(PortCall::vessel, Vessel::id).is(keys.of("vessel", 1)))
                    .alongWith(PortCall::vessel, PortCall::berth)
                    .list();
            assertThat(calls).hasSize(20).allMatch(call -> call.vessel().get() == vessel);
            assertThat(vessel.name()).isEqualTo("renamed");
            assertThat(calls.stream().filter(call -> call.berth().find().isPresent()))
                    .hasSizeBetween(6, 7);
        }
        List<PortCall> untracked = store.call(work -> work.from(PortCall.class)
                .untracked()
                .alongWith(along(PortCall::vessel, Vessel::operator))
                .list());
        assertThat(untracked)
                .allMatch(call -> call.vessel().get().operator().get().name().equals("Nordlicht"));
    }

    @Test
    void anExcerptLeavesTheCollectionWhole() {
        try (UnitOfWork work = store.begin()) {
            List<Excerpt.Of<PortCall, Movement>> rows = work.from(PortCall.class)
                    .where(dateTime(PortCall::eta).day().atMost(2))
                    .excerpt(PortCall::movements, text(Movement::kind).startsWith("o"))
                    .list();
            assertThat(rows).isNotEmpty();
            assertThat(work.trace().statements()).hasSize(2);
            assertThat(rows)
                    .anyMatch(row -> row.elements().isEmpty())
                    .anyMatch(row -> row.elements().size() == 1);
            assertThat(rows).noneMatch(row -> row.owner().movements().isRead());
            for (Excerpt.Of<PortCall, Movement> row : rows) {
                assertThat(row.elements()).allMatch(movement -> movement.kind().equals("out"));
                assertThat(row.owner().movements()).hasSize(2).containsAll(row.elements());
            }
            assertThat(work.from(PortCall.class).excerpt(PortCall::movements).list())
                    .allMatch(row -> row.elements().size() == 2);
        }
    }

    // ---- finding trouble

    @Test
    void statementsThatRepeatAreFoundWithTheirCause() {
        try (UnitOfWork work = store.begin()) {
            List<Vessel> found = new ArrayList<>();
            for (long number = 1; number <= 10; number++) {
                found.add(work.require(Vessel.class, keys.of("vessel", number)));
            }
            found.forEach(vessel -> vessel.calls().size());
            for (Vessel vessel : found) {
                work.from(PortCall.class)
                        .where(the(PortCall::vessel, Vessel::id).is(vessel.id()))
                        .count();
            }
            List<Repetition> repeated = work.trace().repeated();
            assertThat(repeated).hasSize(3).allMatch(repetition -> repetition.times() == 10);
            assertThat(repeated.get(0).causes())
                    .startsWith(keys.in("find Vessel {vessel 1}"), keys.in("find Vessel {vessel 2}"));
            assertThat(repeated.get(0).fix()).contains("findAll(Vessel.class, keys)");
            assertThat(repeated.get(1).causes()).containsExactly(keys.in("read Vessel.calls for {vessel 1}"));
            assertThat(repeated.get(1).fix()).contains("alongWith(Vessel::calls)");
            assertThat(repeated.get(2).fix()).contains("in(...)");
            assertThat(repeated.get(0).toString()).startsWith("10 times, 10 rows, ");
            assertThat(work.trace().repeated(10)).isEmpty();
        }
    }

    @Test
    void aBlockKeepsToItsBudget() {
        try (UnitOfWork work = store.begin()) {
            work.require(Vessel.class, keys.of("vessel", 1));
            StatementBudget budget = work.trace().expectAtMost(2);
            work.require(Vessel.class, keys.of("vessel", 2));
            work.require(Vessel.class, keys.of("vessel", 3));
            work.require(Vessel.class, keys.of("vessel", 3));
            budget.close();
            StatementBudget small = work.trace().expectAtMost(1);
            work.require(Vessel.class, keys.of("vessel", 4));
            work.require(Vessel.class, keys.of("vessel", 5));
            assertThatThrownBy(small::close)
                    .isInstanceOf(TooManyStatementsException.class)
                    .hasMessageContaining("at most 1 statement was expected, but 2 were executed")
                    .hasMessageContaining(keys.in("find Vessel {vessel 4}"))
                    .hasMessageContaining("fix: findAll(Vessel.class, keys)")
                    .hasMessageNotContaining(keys.in("find Vessel {vessel 3}"));
            small.close();
            assertThatThrownBy(() -> work.trace().expectAtMost(-1)).isInstanceOf(IllegalArgumentException.class);
        }
    }
}
