package io.bathra;

import io.bathra.flush.Places;
import io.bathra.flush.Unit;

/**
 * A place in a transaction to which a unit of work can go back. It lasts until the transaction ends, or goes back
 * further.
 */
public final class Savepoint {
    private final Unit unit;
    private final Places.Place place;

    Savepoint(Unit unit, Places.Place place) {
        this.unit = unit;
        this.place = place;
    }

    /**
     * Goes back, in the database and in memory: what was set, added, removed or linked since is taken back, flushed or
     * not, and what was added is not tracked. Collections stay the same instances; fields that the model does not know
     * are left alone. The savepoint stays.
     *
     * @throws io.bathra.error.UnitStateException when the transaction has ended, or gone back further
     */
    public void rollback() {
        unit.check();
        unit.writes().backTo(place);
    }

    /**
     * Takes memory back to here, after the host of a transaction that the unit has {@linkplain Store#join joined} has
     * gone back in the database to a savepoint of its own, which it had set where this one was set. The savepoint
     * stays; it is set anew in the database.
     *
     * @throws io.bathra.error.UnitStateException when the transaction is the unit's own or has ended
     */
    public void wentBack() {
        unit.guest().wentBackTo(place);
    }
}
