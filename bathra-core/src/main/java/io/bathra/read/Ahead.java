package io.bathra.read;

import io.bathra.jdbc.Asked;
import io.bathra.track.Entry;

/** An association of an entity that is asked for before the entity itself has come. */
interface Ahead {
    Asked asked();

    /** All rows have come, and their owner. */
    void end(Entry<?> owner);
}
