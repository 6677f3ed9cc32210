package io.bathra.cli.session;

import io.bathra.PendingChange;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.cli.session.Entered.End;
import io.bathra.cli.session.Printed.Look;
import io.bathra.error.BathraException;
import io.bathra.error.UnitStateException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * The unit of work of a session: it only reads, or writes; its transaction ends with each entry unless something was
 * written; and where it cannot go on there is a new one.
 */
final class CurrentUnit implements AutoCloseable {
    private static final Terms READING = Terms.reading().noticing();

    /** How long a unit of work that is over is waited for. */
    private static final long CLOSING_MILLIS = 500;

    private final Store store;
    private final Runnable forsaking;
    private final Screen screen;

    /** What was set in vain and was told already. */
    private final Set<String> told = new HashSet<>();

    private volatile UnitOfWork work;
    private volatile boolean writing;
    private volatile long since = System.nanoTime();

    /** Whether the latest entry has left something in the transaction. */
    private volatile boolean uncommitted;

    /**
     * @param store on which all is done
     * @param forsaking has connections of now not lent again
     */
    CurrentUnit(Store store, Runnable forsaking, Screen screen) {
        this.store = store;
        this.forsaking = forsaking;
        this.screen = screen;
        work = begin();
    }

    UnitOfWork work() {
        return work;
    }

    private UnitOfWork begin() {
        UnitOfWork begun = writing ? store.begin() : store.begin(READING);
        Live.store = store;
        Live.work = begun;
        told.clear();
        uncommitted = false;
        since = System.nanoTime();
        return begun;
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

    /** How many rows wait to be written; one where nobody can tell, since a value is refused. */
    int pending() {
        try {
            return writing ? rows(work.changes()) : 0;
        } catch (BathraException e) {
            return 1;
        }
    }

    /** Whether something was written, or may have been, that is not committed. */
    boolean hasUncommitted() {
        return writing && uncommitted;
    }

    private static int rows(List<PendingChange> changes) {
        return (int) changes.stream().map(PendingChange::row).distinct().count();
    }

    /** What would be lost if it ended now, in words; null for nothing. */
    @Nullable
    String atStake() {
        int pending = pending();
        if (pending > 0) {
            return Words.count(pending, "pending change");
        }
        return hasUncommitted() ? "what was, or may have been, written and not committed" : null;
    }

    /** How long the transaction is open that has something to lose; null for none. */
    @Nullable
    Duration age() {
        return hasUncommitted() || pending() > 0 ? Duration.ofNanos(System.nanoTime() - since) : null;
    }

    /** Whether others may be waiting for rows that were written here and not committed. Any thread may ask. */
    boolean mayHoldUpOthers(Duration longest) {
        return hasUncommitted() && System.nanoTime() - since > longest.toNanos();
    }

    String mode() {
        return writing ? "Writing: :commit stores, :undo takes back." : "Reading only, until :write.";
    }

    /** Where it stands, as the prompt says it. */
    String state() {
        if (!writing) {
            return "";
        }
        Duration age = age();
        if (age == null) {
            return " write";
        }
        int pending = pending();
        return " write, "
                + (pending == 0 ? "not committed" : pending + " pending" + (uncommitted ? ", more written" : ""))
                + ", " + Words.time(age);
    }

    // ---- after an entry

    /** Sees after an entry whether it can go on, and lets go of what others may wait for. */
    void settle(End end) {
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
            uncommitted = work.hasUncommitted();
            if (!uncommitted) {
                work.rollback(); // nobody is to wait for somebody who reads what is on the screen
            }
            if (age() == null) {
                since = System.nanoTime();
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
        String gone = lost > 0
                ? ", and " + Words.count(lost, "pending change") + " with it"
                : hasUncommitted() ? ", and what was not committed with it" : "";
        if (end != End.FAILED) {
            forsaking.run(); // it may have been cut off in the middle of what a driver and a server say to one another
        }
        closeAside(before);
        work = begin();
        screen.print(Printed.of(Look.NOTE, "the unit of work is over; work is a new one" + gone));
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

    /** A statement was cancelled: to some databases the transaction is over then, so it is to all of them. */
    void cancelled() {
        boolean written = work.hasUncommitted();
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

    @Override
    public void close() {
        Live.work = null;
        Live.store = null;
        close(work);
    }
}
