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
    private final List<Memento> mementos = new ArrayList<>();

    public UndoLog(Tracker tracker) {
        this.tracker = tracker;
    }

    public void inserted(Entry<?> entry, @Nullable Object[] row) {
        mementos.add(Memento.of(entry));
        tracker.inserted(entry, row);
    }

    public void updated(Entry<?> entry, @Nullable Object[] row) {
        mementos.add(Memento.of(entry));
        tracker.updated(entry, row);
    }

    public void deleted(Entry<?> entry) {
        mementos.add(Memento.of(entry));
        tracker.deleted(entry);
    }

    /** The transaction has been committed: there is nothing left to take back. */
    public void forget() {
        mementos.clear();
    }

    /** The transaction has been rolled back. */
    public void undo() {
        for (int i = mementos.size() - 1; i >= 0; i--) {
            tracker.restore(mementos.get(i));
        }
        mementos.clear();
    }
}
