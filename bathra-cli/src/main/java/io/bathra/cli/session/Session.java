package io.bathra.cli.session;

import io.bathra.PendingChange;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.cli.session.Entered.End;
import io.bathra.cli.session.Printed.Look;
import io.bathra.error.BathraException;
import io.bathra.error.StatementCancelled;
import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.model.Model;
import io.bathra.page.Recording;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A model, a database and somebody who enters things. A unit of work goes on from entry to entry; it only reads, and its
 * transaction ends with each entry, so that nobody waits for an idle session, until writing is asked for.
 */
final class Session implements AutoCloseable {
    private static final Terms READING = Terms.reading().noticing();
    /** How long a statement may take to end once it was cancelled. */
    private static final long CANCEL_MILLIS = 2_000;

    /** How long one is waited for that could be cancelled: entries may run many short ones. */
    private static final long STATEMENT_MILLIS = 300;

    private static final long PAUSE_MILLIS = 10;

    /** How long a unit of work that is over is waited for. */
    private static final long CLOSING_MILLIS = 500;

    private final Store store;
    private final Model model;
    private final Recording recording;
    private final Watch watch = new Watch();
    private final Screen screen;
    private final Face face;
    private final JavaEntries java;
    private final ModelWords words;
    private final Commands commands = new Commands(this);
    private final List<String> kept = new ArrayList<>();

    /** What was set in vain and was told already. */
    private final Set<String> told = new HashSet<>();

    private UnitOfWork work;
    private volatile boolean writing;
    private volatile long since = System.nanoTime();
    private long entryNanos;
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
     * @param java what executes entries in Java
     * @throws BathraException when there is a session already
     */
    Session(Store store, ModelWords words, JavaEntries java, Screen screen) {
        if (Live.store != null) {
            throw new BathraException("there is a session in this program already; end it first");
        }
        this.recording = Recording.of(store);
        this.store = recording.store().heardBy((io.bathra.trace.StatementListener) watch);
        this.model = store.model();
        this.words = words;
        this.java = java;
        this.screen = screen;
        this.face = new Face(model, screen::width);
        work = begin();
    }

    private UnitOfWork begin() {
        UnitOfWork begun = writing ? store.begin() : store.begin(READING);
        Live.store = store;
        Live.work = begun;
        told.clear();
        since = System.nanoTime();
        return begun;
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
        return work;
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

    boolean isWriting() {
        return writing;
    }

    /** Begins to write, or to read only. */
    void write(boolean newWriting) {
        writing = newWriting;
        work.close();
        work = begin();
    }

    /** How many rows wait to be written. */
    int pending() {
        return writing ? rows(work.changes()) : 0;
    }

    private static int rows(List<PendingChange> changes) {
        return (int) changes.stream().map(PendingChange::row).distinct().count();
    }

    /** How long the transaction is open that has something to lose; null for none. */
    @Nullable
    Duration age() {
        return writing && (watch.hasWritten() || pending() > 0) ? Duration.ofNanos(System.nanoTime() - since) : null;
    }

    /** Whether others may be waiting for rows that were written here and not committed. Any thread may ask. */
    boolean mayHoldUpOthers(Duration longest) {
        return writing && watch.hasWritten() && System.nanoTime() - since > longest.toNanos();
    }

    /** A transaction has ended as its user wanted. */
    void beginAnew() {
        since = System.nanoTime();
    }

    /** What is to be said of it all at the beginning. */
    Printed greeting(String place) {
        List<String> lines = new ArrayList<>();
        lines.add("The model '" + model.name() + "' on " + place + ".");
        lines.add(mode() + " :help lists commands, Tab completes, :quit ends.");
        words.names().stream()
                .findFirst()
                .ifPresent(first -> lines.add("Enter Java, such as  work.from(" + first + ".class).limit(5).list()"));
        if (!words.hidden().isEmpty()) {
            lines.add("Not public, so that entries cannot name them: " + String.join(", ", words.hidden()));
        }
        return Printed.of(Look.FAINT, String.join("\n", lines));
    }

    String mode() {
        return writing ? "Writing: :commit stores, :undo takes back." : "Reading only, until :write.";
    }

    String prompt() {
        if (!writing) {
            return model.name() + "> ";
        }
        Duration age = age();
        if (age == null) {
            return model.name() + " write> ";
        }
        int pending = pending();
        return model.name() + " write, "
                + (pending == 0 ? "not committed" : pending + " pending" + (watch.hasWritten() ? ", more written" : ""))
                + ", " + Words.time(age) + "> ";
    }

    // ---- entries

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
            settle(entered.end());
            screen.print(Printed.of(Look.FAINT, footer()));
        }
        return entered.end() == End.DONE;
    }

    /** Does something of a command with the unit of work, as an entry would. */
    boolean entry(Supplier<Printed> task) {
        watch.begin();
        long begun = System.nanoTime();
        boolean done = false;
        try {
            screen.print(task.get());
            done = true;
        } catch (RuntimeException e) {
            why = Stacks.of(e);
            tell(new Entered(End.FAILED, Printed.NOTHING, e, null));
        }
        entryNanos = System.nanoTime() - begun;
        settle(End.DONE);
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
                    tellOfCancelled();
                } else if (failure != null) {
                    screen.print(Printed.of(Look.BAD, Words.of(failure)));
                    if (!writing && failure instanceof UnitStateException) {
                        screen.print(Printed.of(Look.NOTE, ":write begins a unit of work that stores"));
                    } else if (failure instanceof StatementException && watch.hasWritten()) {
                        screen.print(Printed.of(
                                Look.NOTE,
                                "the transaction may be over for the database: :undo takes all back, and after"
                                        + " work.rollback() what was set is still pending"));
                    }
                }
            }
        }
    }

    /** To some databases the transaction is over then, so it is to all of them. */
    private void tellOfCancelled() {
        boolean written = watch.hasWritten();
        try {
            work.rollback();
            screen.print(Printed.of(
                    Look.NOTE,
                    "stopped: the statement was cancelled"
                            + (written ? "; what was written is rolled back, and pending again" : "")));
        } catch (BathraException e) {
            screen.print(Printed.of(Look.NOTE, "stopped: the statement was cancelled, and the transaction with it"));
        }
    }

    // ---- after an entry

    private void settle(End end) {
        if (Live.store != store || (end != End.LEFT_BEHIND && Live.work != work)) {
            Live.store = store;
            Live.work = work;
            screen.print(Printed.of(
                    Look.NOTE, "work and store are the session's, and stay so; keep your own under another name"));
        }
        if (end == End.CUT_OFF || end == End.LEFT_BEHIND) {
            replace(end);
            return;
        }
        try {
            work.tracked();
        } catch (UnitStateException e) {
            replace(end);
            return;
        }
        try {
            if (!writing) {
                tellOfWhatIsLost();
            }
            if (!watch.hasWritten()) {
                work.rollback(); // nobody is to wait for somebody who reads what is on the screen
            }
        } catch (BathraException e) {
            screen.print(Printed.of(Look.BAD, Words.of(e)));
            replace(End.FAILED);
        }
    }

    /** What was cut off in the middle may be half done, so it is not gone on with. */
    private void replace(End end) {
        UnitOfWork before = work;
        int lost = writing && end != End.LEFT_BEHIND ? lost(before) : 0;
        closeAside(before);
        work = begin();
        screen.print(Printed.of(
                Look.NOTE,
                "the unit of work is over; work is a new one"
                        + (lost > 0 ? ", and " + Words.count(lost, "pending change") + " with it" : "")));
    }

    private static int lost(UnitOfWork before) {
        try {
            return rows(before.changes());
        } catch (RuntimeException e) {
            return 0; // it does not know any more
        }
    }

    /** A thread that was cut off may have left a lock in the driver behind, and one that goes on has it still. */
    private static void closeAside(UnitOfWork before) {
        Thread closing = new Thread(() -> close(before), "closing");
        closing.setDaemon(true);
        closing.start();
        try {
            closing.join(CLOSING_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private static void close(UnitOfWork before) {
        try {
            before.close();
        } catch (RuntimeException e) {
            // a connection that is gone has nothing left to close
        }
    }

    private void tellOfWhatIsLost() {
        List<String> news = new ArrayList<>();
        for (PendingChange change : work.changes()) {
            if (told.add(change.toString())) {
                news.add(Cells.safe(change.toString()));
            }
        }
        if (!news.isEmpty()) {
            screen.print(Printed.of(
                    Look.NOTE,
                    "not stored, since this session only reads: "
                            + String.join(", ", news.subList(0, Math.min(3, news.size())))
                            + (news.size() > 3 ? ", …" : "") + "; say :write first"));
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

    /** Stops what is being executed: the statement first, then the entry. Another thread calls it. */
    void stop() {
        long until = System.nanoTime() + STATEMENT_MILLIS * 1_000_000;
        while (System.nanoTime() < until) {
            if (java.endsWithin(work.cancel() ? CANCEL_MILLIS : PAUSE_MILLIS)) {
                return;
            }
        }
        java.stop();
    }

    @Override
    public void close() {
        Live.work = null;
        Live.store = null;
        close(work);
        java.close();
        recording.close();
    }
}
