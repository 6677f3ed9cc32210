package io.bathra.track;

import io.bathra.track.Tracker.Memento;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Brings objects in step with what a flush has written, and remembers what they were, so that a rollback of the
 * transaction takes standings, keys and snapshots back. Values that the user has set stay.
 */
public final class UndoLog {
    private final Tracker tracker;
    private final List<Runnable> undo = new ArrayList<>();

    public UndoLog(Tracker tracker) {
        this.tracker = tracker;
    }

    private void remember(Entry<?> entry) {
        Memento memento = Memento.of(entry);
        undo.add(() -> tracker.restore(memento));
    }

    /** Collections of parts and pairs hold what was written, before the rows are brought in step. */
    public void settled(Settlement settlement) {
        undo.add(settlement.begin());
    }

    public void inserted(Entry<?> entry, @Nullable Object[] row) {
        remember(entry);
        tracker.inserted(entry, row);
    }

    public void updated(Entry<?> entry, @Nullable Object[] row) {
        remember(entry);
        tracker.updated(entry, row);
    }

    public void deleted(Entry<?> entry) {
        remember(entry);
        tracker.deleted(entry);
    }

    /** The transaction has been committed: there is nothing left to take back. */
    public void forget() {
        undo.clear();
    }

    /** The transaction has been rolled back. */
    public void undo() {
        for (int i = undo.size() - 1; i >= 0; i--) {
            undo.get(i).run();
        }
        undo.clear();
    }
}
