package io.bathra.flush;

import io.bathra.error.StatementException;
import io.bathra.error.UnitStateException;
import io.bathra.flush.Places.Place;
import io.bathra.jdbc.Transaction;
import io.bathra.track.Journal;
import org.jspecify.annotations.Nullable;

/**
 * A unit in somebody else's transaction, its host's, who alone begins and ends it, and tells how it has ended. Nothing
 * of this is sent to the database.
 */
public final class Guest {
    private final UnitTransaction writes;
    private final Transaction transaction;
    private final Journal journal;
    private final UnitGuard guard;

    Guest(UnitTransaction writes, Transaction transaction, Journal journal, UnitGuard guard) {
        this.writes = writes;
        this.transaction = transaction;
        this.journal = journal;
        this.guard = guard;
    }

    /** The host has committed. After a failed statement the database may have rolled back instead, so nobody knows. */
    public void committed() {
        if (isToBeTold()) {
            if (writes.unrecovered() instanceof StatementException failed) {
                breakDown(failed);
            } else {
                transaction.commit();
                writes.settled();
            }
        }
    }

    /** The host has rolled back. */
    public void rolledBack() {
        if (isToBeTold()) {
            writes.rollBack();
        }
    }

    /** Nobody knows whether the host has committed: what was written is not tracked any more. */
    public void outcomeUnknown() {
        if (isToBeTold()) {
            breakDown(null);
        }
    }

    private void breakDown(@Nullable StatementException failed) {
        guard.breakDown(new UnitStateException("nobody knows whether the host's transaction was committed", failed));
        transaction.close();
        writes.forget();
        journal.outcomeUnknown();
    }

    /** Whether the unit can still make use of it: one that is broken knows already. */
    private boolean isToBeTold() {
        requireHost();
        writes.places().refuseNested("ended(...)");
        return !guard.isBroken();
    }

    /** The host has gone back to a savepoint of its own, which it had set where this place was marked. */
    public void wentBackTo(Place place) {
        requireHost();
        writes.places().require(place);
        transaction.renewSavepoint("savepoint", place.savepoint());
        writes.backAt(place);
    }

    private void requireHost() {
        if (!transaction.isJoined()) {
            throw new UnitStateException(
                    "this unit has a transaction of its own, of which nobody else can tell; call commit() or rollback(),"
                            + " or have it join(...) a connection",
                    null);
        }
    }
}
