package io.bathra.track;

import io.bathra.track.AfterFlush.Memento;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Brings objects in step with what a flush has written, and remembers what they were, so that a rollback of the
 * transaction takes standings, keys and snapshots back. Values that the user has set stay.
 */
public final class UndoLog {
    private final Tracker tracker;
    private final AfterFlush after;
    private final List<Runnable> undo = new ArrayList<>();

    public UndoLog(Tracker tracker) {
        this.tracker = tracker;
        after = new AfterFlush(tracker);
    }

    private void remember(Entry<?> entry) {
        Memento memento = Memento.of(entry);
        undo.add(() -> after.restore(memento));
    }

    /** Collections of parts and pairs hold what was written, before the rows are brought in step. */
    public void settled(Settlement settlement) {
        undo.add(settlement.begin());
    }

    public void inserted(Entry<?> entry, @Nullable Object[] row) {
        remember(entry);
        after.inserted(entry, row);
    }

    public void updated(Entry<?> entry, @Nullable Object[] row) {
        if (entry.state() == Entry.State.LOOSE) {
            written(entry);
            return;
        }
        remember(entry);
        after.updated(entry, row);
    }

    public void deleted(Entry<?> entry) {
        if (entry.state() == Entry.State.LOOSE) {
            written(entry);
            return;
        }
        remember(entry);
        after.deleted(entry);
    }

    /** There is no object to bring in step. */
    private void written(Entry<?> loose) {
        LooseRow row = tracker.loose().take(loose);
        if (row != null) {
            undo.add(() -> tracker.loose().putBack(row));
        }
    }

    /** The transaction has been committed: there is nothing left to take back. */
    public void forget() {
        undo.clear();
    }

    /** The transaction has been rolled back. */
    public void undo() {
        undoTo(0);
    }

    /** How much there is to take back by now. */
    public int mark() {
        return undo.size();
    }

    /** Takes back what has come since a mark. */
    public void undoTo(int mark) {
        for (int i = undo.size() - 1; i >= mark; i--) {
            undo.remove(i).run();
        }
        after.pointToReborn();
    }

    /** Something else that a rollback has to take back. */
    public void add(Runnable takeBack) {
        undo.add(takeBack);
    }
}
