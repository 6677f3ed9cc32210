package io.bathra.sql;

import java.util.List;
import java.util.function.UnaryOperator;

/**
 * Stands among the values of a statement for one that is not known yet.
 *
 * @param index which of the question's values it is
 * @param kept what is bound for it
 */
record Hole(int index, UnaryOperator<Object> kept) {
    /** What is bound: the value itself, or what belongs into the hole. */
    static Object fill(Object value, List<?> values) {
        return value instanceof Hole hole ? hole.kept.apply(values.get(hole.index)) : value;
    }
}
