package io.bathra;

import java.util.Arrays;
import java.util.List;

/**
 * Entities of one class by their keys, to be read with others.
 *
 * @param type their class
 * @param keys their keys; those that are not there are left out
 * @see UnitOfWork#read(Wanted...)
 */
public record Wanted(Class<?> type, List<?> keys) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param type their class
     * @param keys their keys; those that are not there are left out
     */
    public Wanted {
        keys = List.copyOf(keys);
    }

    /**
     * {@return entities by their keys} The key of several attributes is the list of their values.
     *
     * @param type the class
     * @param keys the keys
     */
    public static Wanted of(Class<?> type, Object... keys) {
        return new Wanted(type, Arrays.asList(keys));
    }
}
