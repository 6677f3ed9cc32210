package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.UnitStateException;
import io.bathra.read.Outsiders;
import io.bathra.track.Entry;
import io.bathra.track.Entry.State;
import io.bathra.track.Resetter;
import io.bathra.track.Tracker;
import java.util.List;
import java.util.Objects;

/** Throws pending changes of a unit away, or takes over what others have stored meanwhile. */
public final class Resets {
    private final Unit unit;
    private final Tracker tracker;
    private final Outsiders outsiders;

    Resets(Unit unit, Outsiders outsiders) {
        this.unit = unit;
        this.tracker = unit.tracker();
        this.outsiders = outsiders;
    }

    /** Throws the pending changes of an entity away. */
    public void discard(Object entity) {
        Entry<?> entry = unit.tracked(entity);
        if (tracker.isForgetful()) {
            throw new UnitStateException(
                    "this unit of work is read-only and remembers no rows, so nobody knows what has changed; refresh(...)"
                            + " reads the row",
                    null);
        }
        if (entry.state() == State.NEW) {
            tracker.remove(entity);
            return;
        }
        if (entry.isUnread()) {
            throw new UnitStateException(
                    entry
                            + " was adopted without a look at its row, so nobody knows what it was; refresh(...) reads it",
                    null);
        }
        new Resetter(tracker).reset(entry, Objects.requireNonNull(entry.snapshot()));
    }

    /** Throws all pending changes away. */
    public void discardAll() {
        unit.check();
        tracker.loose().clear();
        for (Entry<?> entry : List.copyOf(tracker.entries())) {
            if (entry.state() == State.NEW || entry.state() == State.REMOVED || entry.isDirty()) {
                discard(entry.object());
            }
        }
        Resetter resetter = new Resetter(tracker);
        tracker.entries().forEach(resetter::readPairsAgain); // those that both ends have changed are nobody's alone
    }

    /** Reads the row of an entity again, and gives the entity its values. */
    public void refresh(Object entity) {
        Entry<?> entry = unit.tracked(entity);
        if (entry.state() == State.NEW) {
            throw new BathraException(entry + " is new, so there is no row to read");
        }
        unit.reading(() -> {
            outsiders.refresh(entry);
            return null;
        });
    }

    /** Takes over what others have changed, where this unit has changed other attributes. */
    public void rebase() {
        unit.check();
        List<Entry<?>> pending = tracker.entries().stream()
                .filter(entry -> entry.state() == State.REMOVED || (entry.state() == State.STORED && entry.isDirty()))
                .toList();
        unit.reading(() -> {
            outsiders.rebase(pending);
            return null;
        });
    }

    /** Stops to track an entity, which must have no pending changes. */
    public void release(Object entity) {
        tracker.release(unit.tracked(entity));
    }
}
