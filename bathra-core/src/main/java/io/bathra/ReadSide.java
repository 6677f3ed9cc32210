package io.bathra;

import io.bathra.jdbc.Transaction;
import io.bathra.model.Model;
import io.bathra.track.Tracker;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** What reads objects in a transaction: a tracker that knows them, and the readers that fill it. */
final class ReadSide {
    private final Transaction transaction;
    private final Guard guard;
    private final CohortReader cohorts;
    private final Tracker tracker;
    private final EntityReader reader;

    /** Runs something that reads, and takes note when it fails. */
    interface Guard {
        <T extends @Nullable Object> T reading(Supplier<T> read);
    }

    ReadSide(Model model, Transaction transaction, Guard guard, boolean readOnly) {
        this.transaction = transaction;
        this.guard = guard;
        cohorts = new CohortReader(this);
        tracker = new Tracker(model, cohorts, readOnly);
        reader = new EntityReader(transaction, tracker);
    }

    /** Another one in the same transaction, whose objects are nobody's once it is closed. */
    ReadSide aside() {
        return new ReadSide(tracker.model(), transaction, guard, true);
    }

    Transaction transaction() {
        return transaction;
    }

    CohortReader cohorts() {
        return cohorts;
    }

    Tracker tracker() {
        return tracker;
    }

    EntityReader reader() {
        return reader;
    }

    <T extends @Nullable Object> T reading(Supplier<T> read) {
        return guard.reading(read);
    }

    /** Lets go of all objects; what was not read of them stays unread. */
    void close() {
        tracker.close();
    }
}
