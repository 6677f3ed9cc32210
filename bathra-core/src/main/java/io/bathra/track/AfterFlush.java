package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Entry.State;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Brings entries in step with what a flush has written. */
public final class AfterFlush {
    private final Tracker tracker;

    public AfterFlush(Tracker tracker) {
        this.tracker = tracker;
    }

    /** The row of a new object has been written. */
    public void inserted(Entry<?> entry, @Nullable Object[] row) {
        entry.stand(State.STORED, Objects.requireNonNull(entry.entity().keyIn(row)), row);
        if (!entry.isHidden()) {
            tracker.known(entry);
        }
        takeOver(entry, row);
    }

    /** The row of a changed object has been written. */
    public void updated(Entry<?> entry, @Nullable Object[] row) {
        if (entry.state() == State.LOOSE) {
            tracker.loose().take(entry);
            return;
        }
        entry.remember(row);
        takeOver(entry, row);
    }

    /** The row of a removed object has been deleted. */
    public void deleted(Entry<?> entry) {
        if (entry.state() == State.LOOSE) {
            tracker.loose().take(entry);
        } else if (!entry.isHidden() && entry.state() == State.STORED) {
            tracker.takeAlong(entry); // an orphan, which nobody has called removed
        } else if (!entry.isHidden()) {
            tracker.forget(entry);
        }
    }

    /** The object holds what the row holds: its key, and times and decimals as the column keeps them. */
    private void takeOver(Entry<?> entry, @Nullable Object[] row) {
        boolean replaced = false;
        List<StoredAttribute> stored = entry.entity().stored();
        for (int i = 0; i < stored.size(); i++) { // no iterator: this is done for each row
            StoredAttribute attribute = stored.get(i);
            if (!attribute.isLink() && !Objects.deepEquals(row[attribute.slot()], attribute.get(entry.object()))) {
                attribute.set(entry.object(), attribute.kept(row[attribute.slot()]));
                replaced = true;
            }
        }
        if (replaced && entry.entity().kind() == ModelEntity.Kind.PARTS) {
            // A part that was made anew, since the row keeps less than was given, has empty links.
            for (LinkAttribute link : entry.entity().links()) {
                if (Doors.link().target(link.holder(entry.object())) == null) {
                    tracker.loader().write(entry, link, row[link.slot()]);
                }
            }
            entry.tieHolders();
        }
        for (StoredAttribute later : entry.entity().laters()) {
            row[later.slot()] = null; // the row is kept for comparison, and no copy of a large value with it
            Doors.later().changed(later.later(entry.object()), false);
        }
    }
}
