package io.bathra.answer;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A part of an answer, and where the next one begins.
 *
 * @param items in the query's order
 * @param mark where the next page begins; null behind the last one
 */
public record Page<E>(List<E> items, @Nullable Mark mark) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param items in the query's order
     * @param mark where the next page begins; null behind the last one
     */
    public Page {
        items = List.copyOf(items);
    }

    /** {@return where the next page begins; empty behind the last one} */
    public Optional<Mark> next() {
        return Optional.ofNullable(mark);
    }
}
