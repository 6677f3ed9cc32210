package io.bathra.question;

import java.util.List;
import java.util.function.BiFunction;

/**
 * A question for pairs of rows of two entities. Immutable.
 *
 * @param <E> the entity on the left
 * @param <F> the entity on the right
 * @param <R> what a pair becomes
 * @param matches what the rows of a pair have in common
 * @param maker makes something of a pair
 */
public record SideBySide<E, F, R>(Question<E> left, Question<F> right, List<Match> matches, BiFunction<E, F, R> maker) {
    public SideBySide {
        matches = List.copyOf(matches);
    }

    @Override
    public String toString() {
        return left + " beside " + right + " on " + matches;
    }
}
