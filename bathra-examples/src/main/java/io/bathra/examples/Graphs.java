package io.bathra.examples;

import static io.bathra.query.Ask.along;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.answer.Pending;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Movement;
import io.bathra.examples.harbour.MovementKind;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import io.bathra.query.Excerpt;
import java.time.LocalDateTime;
import java.util.List;

/** Graphs read in few statements, pending objects in the answer, and rows changed by query. */
public final class Graphs {
    private Graphs() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:graphs")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> {
                season.movements().forEach(work::add); // calls, vessels, operators, berths and pilots come along
                season.calls().forEach(work::add);
            });
            store.run(Graphs::visit);
            store.run(Graphs::readOneByOne);
            store.run(Graphs::look);
            store.run(Graphs::change);
        }
    }

    /** Three levels of four hundred calls, in as many statements as the block may use. */
    private static void visit(UnitOfWork work) {
        try (var budget = work.trace().expectAtMost(4)) {
            List<PortCall> calls = work.from(PortCall.class)
                    .alongWith(along(PortCall::vessel, Vessel::operator)) // two joins
                    .alongWith(PortCall::movements, PortCall::pilots) // a statement each
                    .list();
            long operators = calls.stream()
                    .flatMap(call -> call.vessel().get().operator().find().stream())
                    .distinct()
                    .count();
            System.out.println(
                    calls.size() + " calls of " + operators + " operators in " + budget.used() + " statements");
        }

        List<Excerpt.Of<PortCall, Movement>> shifts = work.from(PortCall.class)
                .excerpt(PortCall::movements, the(Movement::kind).is(MovementKind.SHIFT))
                .list();
        System.out.println(
                shifts.stream().filter(call -> !call.elements().isEmpty()).count() + " calls with a shift");
    }

    /** What not to do, and how it is found out. */
    private static void readOneByOne(UnitOfWork work) {
        for (Object key : work.from(Vessel.class).limit(20).keys()) {
            work.require(Vessel.class, key).calls().size();
        }
        work.trace().repeated().forEach(System.out::println);
    }

    /** A call that may not be stored so far is found like any other, and nobody else sees it. */
    private static void look(UnitOfWork work) {
        work.pending(Pending.OVERLAY);
        Vessel vessel = work.from(Vessel.class).first().orElseThrow();
        PortCall call = new PortCall("2026-9999", vessel, LocalDateTime.of(2026, 9, 30, 6, 0));
        work.add(call);
        vessel.rename("Nordlicht II");
        boolean found = work.from(PortCall.class)
                        .where(text(PortCall::vessel, Vessel::name).is("Nordlicht II"))
                        .orderBy(the(PortCall::eta).descending())
                        .first()
                        .orElseThrow()
                == call;
        System.out.println("the pending call is found: " + found);
        work.discard();
    }

    /** Rows are changed by one statement, and the objects here follow. */
    private static void change(UnitOfWork work) {
        List<PortCall> calls = work.from(PortCall.class).list();
        long changed = work.from(PortCall.class)
                .where(
                        the(PortCall::status).is(CallStatus.EXPECTED),
                        the(PortCall::remark).isNull())
                .update(the(PortCall::remark).to("to be confirmed"));
        long here = calls.stream()
                .filter(call -> "to be confirmed".equals(call.remark()))
                .count();
        System.out.println(changed + " rows changed, " + here + " objects followed");
    }
}
