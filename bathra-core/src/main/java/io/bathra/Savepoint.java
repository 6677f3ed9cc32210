package io.bathra;

/** A place in a transaction to which a unit of work can go back. It lasts until the transaction ends, or goes back further. */
public final class Savepoint {
    private final UnitOfWork work;
    private final UnitTransaction.Place place;

    Savepoint(UnitOfWork work, UnitTransaction.Place place) {
        this.work = work;
        this.place = place;
    }

    /**
     * Goes back: what was flushed since is undone. Objects keep the values that were set; standings and keys are those of the
     * savepoint, which stays.
     *
     * @throws io.bathra.error.UnitStateException when the transaction has ended, or gone back further
     */
    public void rollback() {
        work.check();
        work.writes().backTo(place);
    }
}
