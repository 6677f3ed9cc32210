package io.bathra.cli.session;

import io.bathra.FlushPlan;
import io.bathra.PendingChange;
import io.bathra.cli.session.Printed.Look;
import io.bathra.cli.session.Session.Next;
import io.bathra.error.BathraException;
import io.bathra.model.EntityOutline;
import io.bathra.trace.Repetition;
import io.bathra.trace.TraceLine;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/** The commands of a session: what is said with a colon, beside entries in Java. */
final class Commands {
    private static final Set<String> ASKING =
            Set.of("select", "with", "values", "show", "explain", "describe", "pragma", "table");
    private static final int FAR = 2;

    /** Entries that a script has to repeat to come to the same; the others show things. */
    private static final Set<String> KEPT = Set.of("write", "read", "commit", "undo", "sql", "rows");

    private final Session session;
    private final List<Command> all;

    Commands(Session session) {
        this.session = session;
        FileCommands files = new FileCommands(session);
        all = List.of(
                new Command("help", "[COMMAND]", "what there is, or more on one command", "", this::help),
                new Command(
                        "model",
                        "[ENTITY]",
                        "the entities, or one with its columns and associations",
                        "The name in whatever case, or that of the table.",
                        this::model),
                new Command(
                        "write",
                        "",
                        "begins to write",
                        "What is added, set and removed from now on is stored by :commit. Rows that were written by"
                                + " then, by a flush or a query, hold up others until :commit or :undo. Objects that"
                                + " were read before belong to the unit before: read them again, or say"
                                + " work.adopt(x).",
                        text -> write(true)),
                new Command(
                        "read",
                        "",
                        "only reads from now on",
                        "As at the beginning: the transaction ends with each entry, and nothing is stored.",
                        text -> write(false)),
                new Command(
                        "pending",
                        "",
                        "what would be stored by :commit",
                        "Found by comparing objects with their rows; nothing is executed.",
                        text -> show(this::pending)),
                new Command(
                        "plan",
                        "",
                        "the steps that would store it, in order",
                        "Nothing is executed.",
                        text -> show(this::plan)),
                new Command(
                        "done",
                        "[N]",
                        "what the latest entry has executed, or the latest N statements",
                        "With rows and time, and the call that each was for.",
                        this::done),
                new Command(
                        "again",
                        "",
                        "what the latest entry repeated, and what would mend that",
                        "Those of one shape that ran more than three times.",
                        text -> show(this::again)),
                new Command(
                        "commit", "", "stores what is pending", "Shows how many rows were written.", text -> commit()),
                new Command(
                        "undo",
                        "",
                        "takes back what was not committed",
                        "Rows and objects are as they were; what was added is forgotten.",
                        text -> undo()),
                new Command(
                        "sql",
                        "TEXT",
                        "executes SQL as it is",
                        "A query is shown as a table. What writes needs :write.",
                        this::sql),
                new Command(
                        "time",
                        "",
                        "where the time of the latest entry went",
                        "How long the database took for its statements; the rest is compiling, and Java.",
                        text -> show(this::time)),
                new Command(
                        "rows",
                        "[N]",
                        "how many rows of a list are shown",
                        "Twenty, until another number is said. All are read all the same; .limit(n) reads fewer.",
                        this::rows),
                new Command(
                        "run",
                        "FILE",
                        "executes what a file says",
                        "Line by line, as if it were entered; it ends where an entry fails.",
                        files::run),
                new Command(
                        "keep",
                        "FILE",
                        "writes the entries so far to a file, for :run or --run",
                        "Those that did not fail. The file must not be there.",
                        files::keep),
                new Command(
                        "page",
                        "FILE.html",
                        "writes what was executed to a page, to look at",
                        "All of the session: in order, over time, what repeats.",
                        files::page),
                new Command(
                        "why",
                        "",
                        "the way of the latest error through the code",
                        "With the lines of entries.",
                        text -> show(this::why)),
                new Command(
                        "quit",
                        "",
                        "ends the session",
                        "Ctrl-D does so too. What is pending is lost, so it is asked before.",
                        text -> Next.QUIT));
    }

    List<Command> all() {
        return all;
    }

    /** Executes a command: its name, or the beginning of it that no other has, and what follows. */
    Next execute(String entry) {
        String[] parts = entry.substring(1).strip().split("\\s+", 2);
        String name = parts[0].toLowerCase(Locale.ROOT);
        String text = parts.length < 2 ? "" : parts[1].strip();
        List<Command> meant = all.stream()
                .filter(one -> one.name().equals(name))
                .findFirst()
                .map(List::of)
                .orElseGet(() -> all.stream()
                        .filter(one -> !name.isEmpty() && one.name().startsWith(name))
                        .toList());
        if (meant.size() != 1) {
            return fail("there is no command :" + name + nearest(name, meant));
        }
        Command command = meant.get(0);
        if (command.takes().isEmpty() && !text.isEmpty()) {
            return fail(":" + command.name() + " takes nothing, but was given '" + text + "'");
        }
        Next next;
        try {
            next = command.action().on(text);
        } catch (BathraException e) {
            session.failed(e);
            return fail(String.valueOf(e.getMessage()));
        }
        if (next == Next.GO_ON && KEPT.contains(command.name())) {
            session.kept().add(entry);
        }
        return next;
    }

    private String nearest(String name, List<Command> begunSo) {
        if (!begunSo.isEmpty()) {
            return "; do you mean "
                    + begunSo.stream().map(one -> ":" + one.name()).collect(Collectors.joining(" or "))
                    + "?";
        }
        return all.stream()
                .map(Command::name)
                .min(Comparator.comparingInt(one -> Words.distance(one, name)))
                .filter(one -> Words.distance(one, name) <= FAR)
                .map(one -> "; do you mean :" + one + "?")
                .orElse("; :help lists them");
    }

    private Next fail(String message) {
        session.screen().print(Printed.of(Look.BAD, message));
        return Next.FAILED;
    }

    private Next say(Look look, String text) {
        session.screen().print(Printed.of(look, text));
        return Next.GO_ON;
    }

    private Next show(Supplier<Printed> shown) {
        session.screen().print(shown.get());
        return Next.GO_ON;
    }

    private Next entry(Supplier<Printed> task) {
        return session.entry(task) ? Next.GO_ON : Next.FAILED;
    }

    // ---- the commands

    private Next help(String text) {
        String name = text.startsWith(":") ? text.substring(1) : text;
        List<Command> shown = all.stream()
                .filter(one -> name.isEmpty() || one.name().equals(name.toLowerCase(Locale.ROOT)))
                .toList();
        if (shown.isEmpty()) {
            return fail("there is no command :" + name + nearest(name, List.of()));
        }
        int width =
                shown.stream().mapToInt(one -> one.toString().length()).max().orElse(0);
        for (Command one : shown) {
            say(Look.PLAIN, Cells.filled(one.toString(), width, false) + "  " + one.brief());
        }
        if (name.isEmpty()) {
            return say(
                    Look.FAINT,
                    Cells.wrapped(
                            List.of(("Anything else is Java: work is the unit of work, store the store. Tab completes;"
                                            + " Ctrl-C stops.")
                                    .split(" ")),
                            session.screen().width(),
                            ""));
        }
        List<String> words = List.of(shown.get(0).more().split(" "));
        return say(Look.PLAIN, Cells.wrapped(words, session.screen().width(), ""));
    }

    private Next model(String text) {
        List<EntityOutline> entities = session.model().entities();
        if (text.isEmpty()) {
            Grid grid = new Grid(List.of("entity", "table", "key", "columns", "associations"));
            for (EntityOutline entity : entities) {
                grid.row(List.of(
                        entity.name(),
                        entity.table(),
                        String.join(", ", entity.key()),
                        String.valueOf(entity.columns().size()),
                        associations(entity)));
            }
            session.screen().print(grid.printed(session.screen().width()));
            return Next.GO_ON;
        }
        return entities.stream()
                .filter(entity ->
                        entity.name().equalsIgnoreCase(text) || entity.table().equalsIgnoreCase(text))
                .findFirst()
                .map(entity -> say(Look.PLAIN, session.model().describe(entity.type())))
                .orElseGet(() -> fail("the model has no entity '" + text + "'; it has "
                        + entities.stream().map(EntityOutline::name).collect(Collectors.joining(", "))));
    }

    private static String associations(EntityOutline entity) {
        List<String> names = new ArrayList<>();
        entity.links().forEach(link -> names.add(link.attribute()));
        entity.toManys().forEach(many -> names.add(many.attribute()));
        entity.pivots().forEach(pivot -> names.add(pivot.attribute()));
        entity.parts().forEach(parts -> names.add(parts.attribute()));
        return String.join(", ", names);
    }

    private Next write(boolean writing) {
        if (writing == session.unit().isWriting()) {
            return say(Look.FAINT, session.unit().mode());
        }
        String stake = session.unit().atStake();
        if (stake != null) {
            return fail(stake + " would be lost; :commit or :undo first");
        }
        List<String> before = writing ? session.variablesWithEntities() : List.of();
        session.unit().write(writing);
        say(Look.FAINT, session.unit().mode());
        return before.isEmpty()
                ? Next.GO_ON
                : say(
                        Look.NOTE,
                        String.join(", ", before) + (before.size() == 1 ? " was" : " were")
                                + " read before, so nothing of " + (before.size() == 1 ? "it" : "them")
                                + " is stored; read again, or say work.adopt(...)");
    }

    private Printed pending() {
        List<PendingChange> changes = session.work().changes();
        if (changes.isEmpty()) {
            return Printed.of(Look.FAINT, "nothing");
        }
        int most = session.face().rows();
        Printed printed = Printed.plain(changes.stream()
                .limit(most)
                .map(change -> Cells.cut(
                        Cells.safe(change.toString()), session.screen().width()))
                .collect(Collectors.joining("\n")));
        printed = changes.size() > most
                ? printed.and(Printed.of(
                        Look.FAINT, "… " + String.format(Locale.ROOT, "%,d", changes.size() - most) + " more"))
                : printed;
        return session.unit().isWriting()
                ? printed
                : printed.and(Printed.of(Look.NOTE, "not stored, since this session only reads"));
    }

    private Printed plan() {
        FlushPlan plan = session.work().plan();
        return plan.isEmpty() ? Printed.of(Look.FAINT, "nothing to do") : Printed.plain(plan.toString());
    }

    private Next done(String text) {
        List<TraceLine> lines =
                text.isEmpty() ? session.watch().ofEntry() : session.watch().latest(number(":done", text));
        if (lines.isEmpty()) {
            return say(Look.FAINT, "nothing");
        }
        for (TraceLine line : lines) {
            say(Look.PLAIN, Cells.safe(line.toString()));
        }
        return Next.GO_ON;
    }

    private Printed again() {
        List<Repetition> repeated = session.watch().repeated(3);
        return repeated.isEmpty()
                ? Printed.of(Look.FAINT, "nothing ran more than three times")
                : Printed.plain(repeated.stream().map(Repetition::toString).collect(Collectors.joining("\n")));
    }

    private Next commit() {
        refuseReading(":commit");
        return entry(() -> {
            String report = session.work().commit().toString();
            return Printed.plain(report);
        });
    }

    private Next undo() {
        refuseReading(":undo");
        boolean nothing = session.unit().atStake() == null;
        return entry(() -> {
            session.work().rollback();
            session.work().discard();
            return Printed.plain(nothing ? "nothing to take back" : "as it was at the latest commit");
        });
    }

    private void refuseReading(String name) {
        if (!session.unit().isWriting()) {
            throw new BathraException(
                    "this session only reads, so there is nothing for " + name + "; say :write first");
        }
    }

    private Next sql(String text) {
        if (text.isEmpty()) {
            return fail(":sql takes a statement, such as :sql select count(*) from vessel");
        }
        String sql = text.endsWith(";") ? text.substring(0, text.length() - 1) : text;
        String first = sql.split("\\W", 2)[0].toLowerCase(Locale.ROOT);
        return entry(() -> ASKING.contains(first)
                ? session.face().of(session.work().sql(sql).list())
                : Printed.plain(Words.count(session.work().sql(sql).execute(), "row")));
    }

    private Printed time() {
        long all = session.entryMillis();
        long database = session.watch().millis();
        return Printed.plain(all + " ms: " + database + " ms in the database for "
                + Words.count(session.watch().statements(), "statement") + ", " + Math.max(0, all - database)
                + " ms to compile, and in Java");
    }

    private Next rows(String text) {
        if (!text.isEmpty()) {
            session.face().rows(number(":rows", text));
        }
        return say(Look.FAINT, Words.count(session.face().rows(), "row") + " of a list are shown");
    }

    private static int number(String name, String text) {
        try {
            int number = Integer.parseInt(text);
            if (number > 0) {
                return number;
            }
        } catch (NumberFormatException e) {
            // said below
        }
        throw new BathraException(name + " takes a number above 0, not '" + text + "'");
    }

    private Printed why() {
        String way = session.why();
        return way == null ? Printed.of(Look.FAINT, "nothing has failed") : Printed.plain(way);
    }
}
