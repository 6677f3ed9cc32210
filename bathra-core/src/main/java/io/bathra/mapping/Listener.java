package io.bathra.mapping;

import io.bathra.attr.ChangedAttribute;
import io.bathra.attr.Event;
import java.util.List;
import java.util.function.BiConsumer;

/**
 * Somebody who wants to know what happens to the entities of a class.
 *
 * @param event what has to happen
 * @param moment when to be told
 * @param action what is done then, with the entity and what an update changes
 */
public record Listener(Event event, Moment moment, BiConsumer<Object, List<ChangedAttribute>> action) {
    /** When a listener is told. */
    public enum Moment {
        /** Before the flush writes anything. */
        BEFORE,
        /** When the flush has written everything. */
        AFTER,
        /** When the transaction is committed. */
        AFTER_COMMIT
    }
}
