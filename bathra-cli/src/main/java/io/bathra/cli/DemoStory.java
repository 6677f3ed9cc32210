package io.bathra.cli;

import static io.bathra.bulk.On.on;
import static io.bathra.bulk.Overwrite.overwrite;
import static io.bathra.query.Ask.the;

import io.bathra.FlushPlan;
import io.bathra.FlushReport.Rows;
import io.bathra.PendingChange;
import io.bathra.SchemaReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.bulk.BulkResult;
import io.bathra.error.BathraException;
import io.bathra.examples.harbour.Berth;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.Container;
import io.bathra.examples.harbour.Containers;
import io.bathra.examples.harbour.Operator;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import io.bathra.model.EntityOutline;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.TraceLine;
import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import picocli.CommandLine.Help.Ansi;

/** The chapters of the demo, each printed while it happens. */
final class DemoStory {
    /** Wider lines are not read well. */
    private static final int MOST_WIDTH = 132;

    /** Below the statement of a step where there is room, else below its table. */
    private static final int WIDE = 110;

    private static final int CONTAINERS = 20_000;

    private final Store store;
    private final Season season;
    private final PrintWriter out;
    private final Ansi ansi;
    private final int width = Window.width(MOST_WIDTH);
    private final Map<String, Integer> expected = new LinkedHashMap<>();

    DemoStory(Store store, Season season, PrintWriter out, Ansi ansi) {
        this.store = store;
        this.season = season;
        this.out = out;
        this.ansi = ansi;
    }

    void tellModel(String place) {
        head("The model '%s', on %s", store.model().name(), place);
        for (EntityOutline entity : store.model().entities()) {
            List<String> associations = new ArrayList<>();
            entity.links()
                    .forEach(link -> associations.add(
                            link.attribute() + " -> " + link.target() + (link.required() ? "" : " or none")));
            entity.toManys()
                    .forEach(many ->
                            associations.add(many.attribute() + " = all " + many.target() + "." + many.otherEnd()));
            entity.pivots().forEach(pivot -> associations.add(pivot.attribute() + " <-> " + pivot.target()));
            entity.parts().forEach(parts -> associations.add(parts.attribute() + " = parts"));
            line("%-9s %2d columns   %s", entity.name(), entity.columns().size(), String.join(", ", associations));
        }
    }

    void createTables() {
        SchemaReport created = store.schema().createMissing();
        if (!created.missing().isEmpty()) {
            throw new BathraException("the harbour's tables are there, but not as the model asks for: "
                    + created.missing() + "; run the demo on another database");
        }
        boolean again = store.schema().createMissing().nothingToDo();
        head(
                "The schema: %d statements executed; asked again, %s",
                created.statements().size(), again ? "nothing to do" : "more to do");
    }

    boolean hasRows() {
        return store.call(work -> store.model().entities().stream()
                .anyMatch(entity -> work.from(entity.type()).count() > 0));
    }

    void wipe() {
        store.run(work -> {
            work.from(Container.class).delete(); // there may be many
            List<Object> rest = new ArrayList<>(); // all are read first, since a query flushes what it might overlook
            store.model().entities().stream()
                    .filter(entity -> entity.type() != Container.class)
                    .forEach(entity -> rest.addAll(work.from(entity.type()).list()));
            rest.forEach(work::remove);
        });
    }

    void storeSeason() {
        try (UnitOfWork work = store.begin()) {
            season.addTo(work);
            head("A season from eight CSV files, as an object graph; what the flush would do");
            FlushPlan plan = work.plan();
            tell(plan);
            work.commit();
            head("What it did");
            tell(work);
        }
    }

    void readWithoutDetours() {
        try (UnitOfWork work = store.begin()) {
            List<PortCall> calls = work.from(PortCall.class).list();
            long operators = calls.stream()
                    .map(call -> call.vessel().get())
                    .flatMap(vessel -> vessel.operator().find().stream())
                    .distinct()
                    .count();
            head(
                    "%d calls listed, the vessel and operator of each visited: %d operators, %d statements",
                    calls.size(), operators, work.trace().statements().size());
            tell(work);
        }
    }

    void liveADay() {
        try (UnitOfWork work = store.begin()) {
            List<PortCall> expectedCalls = work.from(PortCall.class)
                    .where(
                            the(PortCall::status).is(CallStatus.EXPECTED),
                            the(PortCall::berth, Berth::id).isNotNull())
                    .orderBy(the(PortCall::eta).ascending())
                    .limit(2)
                    .list();
            List<Vessel> vessels = work.from(Vessel.class)
                    .orderBy(the(Vessel::imo).ascending())
                    .alongWith(Vessel::calls)
                    .list();
            if (expectedCalls.size() < 2 || vessels.isEmpty()) {
                throw new BathraException("the day needs two expected calls with a berth, and a vessel;"
                        + " add such lines to port_calls.csv and vessels.csv");
            }
            PortCall late = expectedCalls.get(0);
            PortCall moved = expectedCalls.get(1);
            Vessel sold = vessels.stream()
                    .filter(vessel -> vessel != late.vessel().get()
                            && vessel != moved.vessel().get())
                    .min(Comparator.comparingInt(vessel -> vessel.calls().size()))
                    .orElseThrow();
            Berth free = work.from(Berth.class)
                    .where(the(Berth::id).isNot(moved.berth().get().id()))
                    .orderBy(the(Berth::code).descending())
                    .first()
                    .orElseThrow();

            head("A working day: a delay, another berth, and a vessel taken out with its calls");
            line("%s of %s is delayed by 3 hours", late, late.vessel().get());
            late.delayTo(late.eta().plusHours(3));
            line(
                    "%s of %s moves from berth %s to %s",
                    moved, moved.vessel().get(), moved.berth().get().code(), free.code());
            moved.berth().set(free);
            int calls = sold.calls().size();
            int movements = sold.calls().stream()
                    .mapToInt(call -> call.movements().size())
                    .sum();
            line("%s is taken out; its %d calls and their %d movements go along", sold, calls, movements);
            work.remove(sold);
            expected.merge("PortCall", -calls, Integer::sum);
            expected.merge("Movement", -movements, Integer::sum);

            head("The changes found, by comparing objects with their rows");
            tell(work.changes());
            head("The plan");
            tell(work.plan());
            work.trace().clear();
            work.commit().rows().forEach((entity, rows) -> expected.merge(entity, balance(rows), Integer::sum));
            head("What it did");
            tell(work);
        }
    }

    private static int balance(Rows rows) {
        return rows.inserted() - rows.deleted();
    }

    void storeMany() {
        List<Operator> operators = store.call(work -> work.from(Operator.class).list());
        head("Many rows: containers in bulk, untracked, in portions, by the fastest way of this database");
        BulkResult inserted = store.bulk(Container.class).insert(Containers.of(operators, CONTAINERS));
        line("insert of a stream:           %s", inserted);
        BulkResult upserted = store.bulk(Container.class)
                .upsert(
                        Containers.of(operators, CONTAINERS / 10 * 11).peek(container -> {
                            if (container.serial().endsWith("7")) {
                                container.weigh(container.grossKilos() + 250);
                            }
                        }),
                        on(Container::serial),
                        overwrite(Container::grossKilos));
        line("the same, heavier, and more:  %s", upserted);
        expected.merge("Container", (int) (inserted.inserted() + upserted.inserted()), Integer::sum);
    }

    void checkAgainstFiles() {
        head("Rows in the database, against the lines of the files");
        boolean right = true;
        try (UnitOfWork work = store.begin()) {
            for (EntityOutline entity : store.model().entities()) {
                long rows = work.from(entity.type()).count();
                int lines = season.lines(entity.type());
                int change = expected.getOrDefault(entity.name(), 0);
                boolean same = rows == lines + change;
                right &= same;
                line(
                        "%-9s %5d rows = %5d lines %s %s",
                        entity.name(),
                        rows,
                        lines,
                        change == 0 ? "" : change < 0 ? "- " + -change : "+ " + change + " in bulk",
                        same ? "" : "  WRONG");
            }
        }
        if (!right) {
            throw new BathraException(
                    "the database does not hold what the files say; somebody else may have written to it");
        }
    }

    void sayWhatIsNext() {
        head("What next");
        line("bathra show --draw harbour.svg    the model, drawn");
        line("bathra example                    programs to read and to run");
        line("docs/guide                        one page for each step of the work");
        out.println();
    }

    // ---- printing

    private void head(String format, Object... values) {
        out.println();
        String words = Window.wrapped(String.format(format, values), width);
        out.println(ansi.string("@|bold " + words.replace("@", "@@") + "|@"));
    }

    private void line(String format, Object... values) {
        out.println(Window.wrapped(("  " + String.format(format, values)).stripTrailing(), width));
    }

    /** Of a statement it is enough to see how it begins. */
    private void statement(String format, Object... values) {
        out.println(Window.cut(("  " + String.format(format, values)).stripTrailing(), width));
    }

    private void tell(FlushPlan plan) {
        line("%2s  %-14s  %-19s  %5s  %s", "#", "operation", "table", "rows", "statement");
        int number = 0;
        for (FlushPlan.Step step : plan.steps()) {
            statement(
                    "%2d  %-14s  %-19s  %5d  %s",
                    ++number, step.operation(), step.table(), step.rowCount(), step.statement());
            if (!step.why().isEmpty()) {
                String why = Window.wrapped(" ".repeat(width < WIDE ? 22 : 50) + step.why(), width);
                out.println(ansi.string("@|faint " + why.replace("@", "@@") + "|@"));
            }
        }
        if (!plan.leftToDatabase().isEmpty()) {
            line("left to the database's own delete rules: %s", String.join(", ", plan.leftToDatabase()));
        }
    }

    private void tell(UnitOfWork work) {
        for (TraceLine traced : work.trace().lines()) {
            String path = traced.path() == null ? "" : traced.path();
            String rows =
                    traced.kind() == Kind.STATEMENT ? traced.rows() + (traced.rows() == 1 ? " row " : " rows") : "";
            statement(
                    "%2d  %10s %7.1f ms  %-9s  %s",
                    traced.number(), rows, traced.time().toNanos() / 1e6, path, traced.sql());
        }
    }

    /** Changed attributes one by one; removed rows counted by entity. */
    private void tell(List<PendingChange> changes) {
        changes.stream().filter(change -> change.standing() == Standing.DIRTY).forEach(change -> line("%s", change));
        Map<String, Long> removed = changes.stream()
                .filter(change -> change.standing() == Standing.REMOVED)
                .collect(Collectors.groupingBy(
                        change -> store.model()
                                .entity(Objects.requireNonNull(change.entity()).getClass())
                                .name(),
                        LinkedHashMap::new,
                        Collectors.counting()));
        removed.forEach((entity, count) -> line("%s: %d removed", entity, count));
    }
}
