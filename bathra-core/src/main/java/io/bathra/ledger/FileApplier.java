package io.bathra.ledger;

import io.bathra.error.BathraException;
import io.bathra.error.ContentionException;
import io.bathra.error.StatementException;
import io.bathra.flush.Environment;
import io.bathra.ledger.Ledger.Line;
import io.bathra.model.Difference;
import io.bathra.schema.Comparison;
import io.bathra.schema.Layout;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import io.bathra.sql.Alterations;
import io.bathra.sql.StepSql;
import io.bathra.sql.StepSql.Role;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Applies one file. Where everything is short and can be taken back, the file is one transaction. Elsewhere each statement
 * is noted before and after, so that whoever goes on knows where; a statement that nobody knows of is tried again, and
 * the catalogue tells at the end of its step whether everything is there.
 */
final class FileApplier {
    private static final long LONGEST_PAUSE_NANOS = 1_000_000_000;
    private static final String COMMIT = "commit";

    private final Environment environment;
    private final Alterations alterations;
    private final Ledger ledger;
    private final Session session;
    private final Claim claim;
    private final Order order;
    private final Consumer<String> told;
    private final Obstacles obstacles;

    private FileSteps file = new FileSteps("", "", List.of(), List.of(Layout.EMPTY), null);

    /** How many statements are done, and which one nobody knows of. */
    private long done;

    private long doubtful;

    /** The step that is being applied. */
    private int current;

    /** Whether a statement of a step has failed that may have been done before. */
    private boolean toAsk;

    FileApplier(
            Environment environment, Ledger ledger, Session session, Claim claim, Order order, Consumer<String> told) {
        this.environment = environment;
        this.alterations = environment.dialect().alterations();
        this.ledger = ledger;
        this.session = session;
        this.claim = claim;
        this.order = order;
        this.told = told;
        this.obstacles = new Obstacles(environment, session);
    }

    /**
     * Applies it from where somebody else has stopped.
     *
     * @param open the line of one that has begun; null for one that has not
     */
    void apply(FileSteps next, @Nullable Line open) {
        file = next;
        List<List<StepSql>> statements = new ArrayList<>();
        for (int i = 0; i < file.steps().size(); i++) {
            statements.add(alterations.statements(
                    file.steps().get(i), file.layouts().get(i), file.layouts().get(i + 1)));
        }
        boolean whole = open == null
                && alterations.takesBack()
                && statements.stream()
                        .flatMap(List::stream)
                        .allMatch(one -> one.work() == StepSql.Work.NOTHING && !one.isAlone());
        if (whole) {
            patiently(() -> asOne(statements));
        } else {
            done = open == null ? 0 : open.done();
            doubtful = open == null ? 0 : open.intended();
            boolean fresh = open == null || open.isUntouched();
            if (!fresh) {
                told.accept("going on with " + file.name() + " after " + done + " statements");
            }
            stepByStep(statements, fresh);
            ledger.end(session, file.name());
        }
        told.accept("applied " + file.name());
    }

    // ---- as one

    private void asOne(List<List<StepSql>> statements) {
        session.execute(alterations.begin());
        try {
            claim.check();
            ledger.begin(session, file);
            for (int i = 0; i < statements.size(); i++) {
                obstacles.look(file, i);
                statements.get(i).forEach(one -> session.execute(one.sql()));
            }
            ledger.end(session, file.name());
            session.execute(COMMIT);
        } catch (RuntimeException | Error e) {
            session.rollback();
            throw e;
        }
    }

    // ---- step by step

    /**
     * Step by step.
     *
     * @param fresh whether nothing of the file was done yet, so that it begins when no rows are in the way of its first step
     */
    private void stepByStep(List<List<StepSql>> statements, boolean fresh) {
        long number = 0;
        boolean begun = !fresh;
        for (int i = 0; i < statements.size(); i++) {
            List<StepSql> step = statements.get(i);
            long first = number + 1;
            long last = number + step.size();
            number = last;
            if (last <= done) {
                continue;
            }
            told.accept("  " + file.steps().get(i).title());
            if (done < first && doubtful < first) {
                obstacles.look(file, i);
            }
            if (!begun) {
                claim.check();
                ledger.begin(session, file);
                begun = true;
            }
            toAsk = false;
            current = i;
            step(step, first, last);
            if (toAsk) {
                ask(i);
            }
        }
        if (!begun) {
            ledger.begin(session, file); // nothing had to be executed
        }
    }

    private void step(List<StepSql> step, long first, long last) {
        boolean own = step.stream().anyMatch(one -> one.role() == Role.BEGIN);
        if (own) {
            patiently(() -> ownTransaction(step, last));
            done = last;
            return;
        }
        boolean resumed = done >= first;
        for (int i = 0; i < step.size(); i++) {
            long number = first + i;
            StepSql one = step.get(i);
            if (number > done) {
                claim.check();
                patiently(() -> statement(one, number));
                done = number;
            } else if (resumed && one.isRepeated()) {
                patiently(() -> portions(one)); // rows may have come, or been mended, meanwhile
            }
        }
    }

    /** A step that brings its transaction along. */
    private void ownTransaction(List<StepSql> step, long last) {
        claim.check();
        boolean begun = false;
        List<String> kept = new ArrayList<>();
        try {
            for (StepSql one : step) {
                switch (one.role()) {
                    case KEPT -> session.rows(one.sql()).forEach(row -> kept.add(String.valueOf(row.get(0))));
                    case NO_ROWS -> obstacles.none(file, current, one.sql());
                    case COMMIT -> {
                        kept.forEach(this::keep);
                        ledger.note(session, file.name(), last, 0);
                        session.execute(one.sql());
                        begun = false;
                    }
                    default -> {
                        session.execute(one.sql());
                        begun |= one.role() == Role.BEGIN;
                    }
                }
            }
        } catch (RuntimeException | Error e) {
            if (begun) {
                session.rollback();
            }
            alterations.afterOwnTransaction().forEach(session::execute);
            throw e;
        }
    }

    /** What was lost with a table that is made anew, such as a trigger of the user's. */
    private void keep(String sql) {
        try {
            session.execute(sql);
        } catch (StatementException e) {
            throw new BathraException(
                    "'" + file.steps().get(current).title() + "' in " + file.name()
                            + " makes the table anew, and then this"
                            + " of it cannot be made any more:\n  " + sql
                            + "\ndrop it before, or write it so that it does not need what goes; nothing of the step was"
                            + " done",
                    e);
        }
    }

    private void statement(StepSql one, long number) {
        if (one.isRepeated()) {
            portions(one);
            ledger.note(session, file.name(), number, 0);
        } else if (one.role() == Role.NO_ROWS) {
            obstacles.none(file, current, one.sql());
            ledger.note(session, file.name(), number, 0);
        } else if (alterations.takesBack() && !one.isAlone()) {
            session.execute(alterations.begin());
            try {
                session.execute(one.sql());
                ledger.note(session, file.name(), number, 0);
                session.execute(COMMIT);
            } catch (RuntimeException | Error e) {
                session.rollback();
                throw e;
            }
        } else {
            noted(one, number);
        }
    }

    /** Rows are written some at a time; a text of the user's might write the same ones for ever. */
    private void portions(StepSql one) {
        long all = 0;
        long most = Long.parseLong(String.valueOf(session.value(
                alterations.countRows(file.steps().get(current), file.layouts().get(current)))));
        for (long some = session.update(one.sql()); some > 0; some = session.update(one.sql())) {
            all += some;
            told.accept("    " + all + " rows");
            if (all > most) {
                throw new BathraException("'" + file.steps().get(current).title() + "' in " + file.name()
                        + " has written "
                        + all + " rows of " + most + ", so it writes the same ones again; add a condition that does not"
                        + " hold any more for rows which it has written, or leave 'portions' out");
            }
            claim.check();
        }
    }

    /** What nobody takes back is noted before and after. */
    private void noted(StepSql one, long number) {
        boolean again = doubtful == number;
        ledger.note(session, file.name(), number - 1, number);
        alterations.writtenThrough().forEach(session::execute);
        alterations.leftover(one.sql()).ifPresent(left -> {
            for (List<@Nullable String> row : session.rows(left)) {
                session.execute(String.valueOf(row.get(0)));
            }
        });
        try {
            session.execute(alterations.text(one));
        } catch (ContentionException e) {
            throw e;
        } catch (StatementException e) {
            if (!again) {
                ledger.note(session, file.name(), number - 1, 0);
                throw e;
            }
            toAsk = true; // it may have been done by whoever has stopped
        }
        ledger.note(session, file.name(), number, 0);
    }

    /** A step of which nobody knows how far it had come: the catalogue has to say that all of it is there. */
    private void ask(int step) {
        Layout before = file.layouts().get(step);
        Layout after = file.layouts().get(step + 1);
        List<Table> changed = after.tables().stream()
                .filter(table -> !before.tables().contains(table))
                .toList();
        Map<String, LiveTable> live = session.live().of(changed);
        List<Difference> differences = new ArrayList<>(Comparison.of(
                changed,
                live == null ? Map.of() : live,
                Map.of(),
                environment.dialect().definitions()));
        List<Table> gone = before.tables().stream()
                .filter(table ->
                        after.tables().stream().noneMatch(one -> one.name().equals(table.name())))
                .toList();
        Map<String, LiveTable> left = gone.isEmpty() ? Map.of() : session.live().of(gone);
        if (!differences.isEmpty() || (left != null && !left.isEmpty())) {
            throw new BathraException("'" + file.steps().get(step).title()
                    + "' was begun by somebody who has stopped, and it"
                    + " cannot be told how far it has come: "
                    + differences.stream().map(String::valueOf).collect(Collectors.joining("; "))
                    + (left == null || left.isEmpty() ? "" : "; there is still " + String.join(", ", left.keySet()))
                    + "; do by hand what is missing of it, and apply again");
        }
    }

    // ---- locks

    /** A lock is tried for a moment, and then again after a pause, so that nobody has to wait behind this. */
    private void patiently(Runnable work) {
        long end = System.nanoTime() + order.locked().toNanos();
        while (true) {
            try {
                work.run();
                return;
            } catch (ContentionException e) {
                if (System.nanoTime() > end) {
                    throw e;
                }
                told.accept("    others are at work; trying again");
            }
            LockSupport.parkNanos(ThreadLocalRandom.current().nextLong(LONGEST_PAUSE_NANOS));
        }
    }
}
