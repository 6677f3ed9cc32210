package io.bathra.question;

import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * A question for values of rows, not for entities. Immutable.
 *
 * @param question which rows or groups
 * @param terms what is read of each
 * @param distinct whether equal answers count once
 * @param maker what the values of one row become
 */
public record Selection<R>(
        Question<?> question, List<Term> terms, boolean distinct, Function<@Nullable Object[], R> maker) {
    public Selection {
        terms = List.copyOf(terms);
    }
}
