package io.bathra.query;

import java.util.ArrayList;
import java.util.List;

/**
 * A question for pairs of rows of two entities. Made by {@link Query#beside}. Immutable.
 *
 * @param <E> the entity on the left
 * @param <F> the entity on the right
 */
public final class Beside<E, F> {
    private final Answers answers;
    private final Question<E> left;
    private final Question<F> right;
    private final List<Pairing<?, ?>> pairings;

    Beside(Answers answers, Question<E> left, Question<F> right, List<? extends Pairing<?, ?>> pairings) {
        this.answers = answers;
        this.left = left;
        this.right = right;
        this.pairings = List.copyOf(pairings);
    }

    /** Two entities whose rows go together. */
    public record Row<E, F>(E left, F right) {}

    /** Narrows the right side: all conditions, and those of earlier calls, must hold. */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Beside<E, F> whereRight(Condition<? super F>... more) {
        return new Beside<>(answers, left, right.where(new ArrayList<>(List.of(more))), pairings);
    }

    /** All pairs in the order of the left side, those of one left row by the key of the right one. */
    public List<Row<E, F>> list() {
        return answers.list(this);
    }

    /** How many pairs there are. */
    public long count() {
        return answers.count(this);
    }

    /** What is asked of the left side. */
    public Question<E> left() {
        return left;
    }

    /** What is asked of the right side. */
    public Question<F> right() {
        return right;
    }

    /** What they have in common. */
    public List<Pairing<?, ?>> pairings() {
        return pairings;
    }

    @Override
    public String toString() {
        return left + " beside " + right + " on " + pairings;
    }
}
