package io.bathra.flush;

import io.bathra.error.UnitStateException;
import io.bathra.track.Journal;
import org.jspecify.annotations.Nullable;

/**
 * The places in a transaction to which it can go back, the latest first, and where the innermost piece of work began.
 */
public final class Places {
    /** The latest; null for none. */
    private @Nullable Place last;

    /** Where the innermost piece of work within this one began; null for none. */
    private @Nullable Place floor;

    /** A place in the transaction, and what the unit was there. */
    public static final class Place {
        private final int savepoint;
        private final Journal.Mark mark;
        private final Written written;
        private final int told;
        private final @Nullable Place before;

        private Place(int savepoint, Journal.Mark mark, Written written, int told, @Nullable Place before) {
            this.savepoint = savepoint;
            this.mark = mark;
            this.written = written;
            this.told = told;
            this.before = before;
        }

        int savepoint() {
            return savepoint;
        }

        /** How far the journal had come. */
        Journal.Mark mark() {
            return mark;
        }

        /** What had been flushed. */
        Written written() {
            return written;
        }

        /** How many there were to be told when the transaction is committed. */
        int told() {
            return told;
        }
    }

    Place add(int savepoint, Journal.Mark mark, Written written, int told) {
        last = new Place(savepoint, mark, written, told, last);
        return last;
    }

    /**
     * Makes sure that a place is there, and was marked in this piece of work.
     *
     * @throws UnitStateException when it is gone, or was not
     */
    void require(Place place) {
        Place known = last;
        while (known != null && known != place && known != floor) {
            known = known.before;
        }
        if (known == null) {
            throw new UnitStateException(
                    "the savepoint is gone: the transaction has ended since, or has gone back further; set another one",
                    null);
        }
        if (known == floor) {
            throw new UnitStateException(
                    "the savepoint was set outside of this piece of work, or is gone; throw to take the piece of work back",
                    null);
        }
    }

    /** The transaction has gone back to a place. */
    void backAt(Place place) {
        last = place;
    }

    /** A place is not needed any more. */
    void leave(Place place) {
        last = place.before;
    }

    /** The transaction has ended. */
    void clear() {
        last = null;
    }

    /** A piece of work begins here; gives back where the one around it began. */
    @Nullable
    Place beginWork(Place place) {
        Place outer = floor;
        floor = place;
        return outer;
    }

    /** A piece of work has ended; the one around it goes on. */
    void endWork(@Nullable Place outer) {
        floor = outer;
    }

    /** Refuses what only the outermost piece of work may do. */
    void refuseNested(String what) {
        if (floor != null) {
            throw new UnitStateException(
                    what
                            + " is the business of the outermost piece of work; here, return to keep what was done, or throw to"
                            + " take it back",
                    null);
        }
    }
}
