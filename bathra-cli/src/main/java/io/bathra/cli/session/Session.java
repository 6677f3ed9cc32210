package io.bathra.cli.session;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.cli.session.Entered.End;
import io.bathra.cli.session.Printed.Look;
import io.bathra.error.BathraException;
import io.bathra.error.StatementCancelled;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.model.Model;
import io.bathra.page.Recording;
import io.bathra.trace.StatementListener;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A model, a database and somebody who enters things. A unit of work goes on from entry to entry; it only reads, and
 * its transaction ends with each entry, so that nobody waits for an idle session, until writing is asked for.
 */
final class Session implements AutoCloseable {
    /** How long a statement may take to end once it was cancelled. */
    private static final long CANCEL_MILLIS = 2_000;

    /** How long one is waited for that could be cancelled: entries may run many short ones. */
    private static final long STATEMENT_MILLIS = 300;

    private static final long PAUSE_MILLIS = 10;

    private final Model model;
    private final Recording recording;
    private final Watch watch = new Watch();
    private final Screen screen;
    private final Face face;
    private final JavaEntries java;
    private final ModelWords words;
    private final Commands commands = new Commands(this);
    private final List<String> kept = new ArrayList<>();

    private final CurrentUnit unit;
    private long entryNanos;

    /** Whether a command is at work with the unit. */
    private volatile boolean busy;

    private @Nullable String why;

    /** What comes after an entry. */
    enum Next {
        GO_ON,
        /** The entry has failed; a script ends here. */
        FAILED,
        QUIT
    }

    /**
     * @param store on which all is done
     * @param forsaking has connections of now not lent again
     * @param java what executes entries in Java
     * @throws BathraException when there is a session already
     */
    Session(Store store, Runnable forsaking, ModelWords words, JavaEntries java, Screen screen) {
        if (Live.store != null) {
            throw new BathraException("there is a session in this program already; end it first");
        }
        this.recording = Recording.of(store);
        this.model = store.model();
        this.words = words;
        this.java = java;
        this.screen = screen;
        this.face = new Face(model, screen::width);
        this.unit = new CurrentUnit(recording.store().heardBy((StatementListener) watch), forsaking, screen);
    }

    // ---- what the commands work with

    Model model() {
        return model;
    }

    ModelWords words() {
        return words;
    }

    JavaEntries java() {
        return java;
    }

    Commands commands() {
        return commands;
    }

    UnitOfWork work() {
        return unit.work();
    }

    /** The unit of work of now, and whether it writes. */
    CurrentUnit unit() {
        return unit;
    }

    Face face() {
        return face;
    }

    Watch watch() {
        return watch;
    }

    Recording recording() {
        return recording;
    }

    Screen screen() {
        return screen;
    }

    List<String> kept() {
        return kept;
    }

    /** How long the latest entry took, in milliseconds. */
    long entryMillis() {
        return entryNanos / 1_000_000;
    }

    /** The way of the latest failure; null where nothing has failed. */
    @Nullable
    String why() {
        return why;
    }

    /** A command has failed, of which somebody may ask why. */
    void failed(RuntimeException failure) {
        why = Stacks.of(failure);
    }

    /** What is to be said of it all at the beginning. */
    Printed greeting(String place) {
        List<String> lines = new ArrayList<>();
        lines.add("The model '" + model.name() + "' on " + place + ".");
        lines.add(unit.mode() + " :help lists commands, Tab completes, :quit ends.");
        words.names().stream()
                .findFirst()
                .ifPresent(first -> lines.add("Enter Java, such as  work.from(" + first + ".class).limit(5).list()"));
        if (!words.hidden().isEmpty()) {
            lines.add("Not public, so that entries cannot name them: " + String.join(", ", words.hidden()));
        }
        return Printed.of(Look.FAINT, String.join("\n", lines));
    }

    String prompt() {
        return model.name() + unit.state() + "> ";
    }

    // ---- entries

    /** Somebody enters something anew, whatever was stopped before. */
    void begin() {
        java.begin();
    }

    /** Executes what somebody has entered: a command, or one or several entries in Java. */
    Next enter(String text) {
        String entry = text.strip();
        if (entry.startsWith(":")) {
            return commands.execute(entry);
        }
        for (String one : java.split(entry)) {
            if (!enterJava(one)) {
                return Next.FAILED;
            }
        }
        return Next.GO_ON;
    }

    private boolean enterJava(String entry) {
        watch.begin();
        long begun = System.nanoTime();
        Entered entered = java.enter(entry, face::of);
        entryNanos = System.nanoTime() - begun;
        screen.print(entered.printed());
        if (entered.end() == End.REFUSED) {
            return false;
        }
        if (entered.end() == End.DONE) {
            kept.add(entry);
        }
        why = entered.trace() == null ? why : entered.trace();
        tell(entered);
        if (java.hasExecuted()) {
            unit.settle(entered.end());
            screen.print(Printed.of(Look.FAINT, footer()));
        }
        return entered.end() == End.DONE;
    }

    /** Does something of a command with the unit of work, as an entry would. */
    boolean entry(Supplier<Printed> task) {
        watch.begin();
        long begun = System.nanoTime();
        boolean done = false;
        busy = true;
        try {
            if (java.isTold()) {
                tell(new Entered(End.STOPPED, Printed.NOTHING, null, null));
                return false;
            }
            screen.print(task.get());
            done = true;
        } catch (RuntimeException e) {
            failed(e);
            tell(new Entered(End.FAILED, Printed.NOTHING, e, null));
        } finally {
            busy = false;
        }
        entryNanos = System.nanoTime() - begun;
        unit.settle(End.DONE);
        if (watch.statements() > 0) {
            screen.print(Printed.of(Look.FAINT, footer()));
        }
        return done;
    }

    private String footer() {
        int statements = watch.statements();
        return (statements == 0
                        ? "no statement"
                        : Words.count(statements, "statement") + ", " + Words.count(watch.rows(), "row"))
                + ", " + entryMillis() + " ms";
    }

    private void tell(Entered entered) {
        switch (entered.end()) {
            case STOPPED, CUT_OFF -> screen.print(Printed.of(Look.NOTE, "stopped"));
            case LEFT_BEHIND ->
                screen.print(Printed.of(
                        Look.NOTE,
                        "stopped, but it does not end: it goes on in the background, without the unit of work,"
                                + " until you :quit"));
            default -> {
                Throwable failure = entered.failure();
                if (failure instanceof StatementCancelled) {
                    unit.cancelled();
                } else if (failure != null) {
                    screen.print(Printed.of(Look.BAD, Words.of(failure)));
                    if (!unit.isWriting() && failure instanceof UnitStateException) {
                        screen.print(Printed.of(Look.NOTE, ":write begins a unit of work that stores"));
                    } else if (failure instanceof StatementException
                            && unit.work().hasUncommitted()) {
                        screen.print(Printed.of(
                                Look.NOTE,
                                "the transaction may be over for the database: :undo takes all back, and after"
                                        + " work.rollback() what was set is still pending"));
                    }
                }
            }
        }
    }

    /** Variables that hold objects of the model, which belong to the unit of work that read them. */
    List<String> variablesWithEntities() {
        List<String> names = new ArrayList<>();
        for (Map.Entry<String, @Nullable Object> variable : java.variables().entrySet()) {
            Object value = variable.getValue();
            if (value != null && face.entity(value) != null) {
                names.add(variable.getKey() + " (" + face.brief(value) + ")");
            }
        }
        return names;
    }

    /**
     * Stops what was entered: the statement first, then the entry; what has not begun does not begin. Another thread
     * calls it.
     */
    void stop() {
        java.tell();
        long until = System.nanoTime() + STATEMENT_MILLIS * 1_000_000;
        while (System.nanoTime() < until) {
            if (endsWithin(unit.work().cancel() ? CANCEL_MILLIS : PAUSE_MILLIS)) {
                return;
            }
        }
        java.stop();
    }

    private boolean endsWithin(long millis) {
        if (!busy) {
            return java.endsWithin(millis);
        }
        long until = System.nanoTime() + millis * 1_000_000; // a statement is not cancelled again before that
        try {
            while (busy && System.nanoTime() < until) {
                Thread.sleep(PAUSE_MILLIS);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        return !busy;
    }

    @Override
    public void close() {
        unit.close();
        java.close();
        recording.close();
    }
}
