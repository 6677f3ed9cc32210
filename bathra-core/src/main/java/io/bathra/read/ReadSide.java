package io.bathra.read;

import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.track.Tracker;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** What reads objects in a transaction: a tracker that knows them, and the readers that fill it. */
public final class ReadSide {
    private final Transaction transaction;
    private final CursorPlace place;
    private final CohortReader cohorts;
    private final Tracker tracker;
    private final EntityReader reader;

    public ReadSide(Mapping model, Transaction transaction, CursorPlace place, boolean forgetful) {
        this.transaction = transaction;
        this.place = place;
        cohorts = new CohortReader(this);
        tracker = new Tracker(model, cohorts, forgetful);
        reader = new EntityReader(transaction, tracker);
    }

    /** Another one in the same transaction, whose objects are nobody's once it is closed. */
    ReadSide aside() {
        return new ReadSide(tracker.model(), transaction, place, true);
    }

    Transaction transaction() {
        return transaction;
    }

    CohortReader cohorts() {
        return cohorts;
    }

    public Tracker tracker() {
        return tracker;
    }

    public EntityReader reader() {
        return reader;
    }

    <T extends @Nullable Object> T reading(Supplier<T> read) {
        return place.reading(read);
    }

    /** Lets go of all objects; what was not read of them stays unread. */
    void close() {
        tracker.close();
    }
}
