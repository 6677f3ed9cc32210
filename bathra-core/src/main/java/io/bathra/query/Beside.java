package io.bathra.query;

import io.bathra.question.Answers;
import io.bathra.question.Match;
import io.bathra.question.Question;
import io.bathra.question.SideBySide;
import java.util.List;

/**
 * A question for pairs of rows of two entities. Made by {@link Query#beside}. Immutable.
 *
 * @param <E> the entity on the left
 * @param <F> the entity on the right
 */
public final class Beside<E, F> {
    private final Answers answers;
    private final SideBySide<E, F, Row<E, F>> both;

    Beside(Answers answers, Question<E> left, Question<F> right, List<Match> matches) {
        this.answers = answers;
        this.both = new SideBySide<>(left, right, matches, Row::new);
    }

    /** Two entities whose rows go together. */
    public record Row<E, F>(E left, F right) {}

    /**
     * Narrows the right side: all conditions, and those of earlier calls, must hold.
     *
     * @param more further ones
     * @return pairs like these, with that
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Beside<E, F> whereRight(Condition<? super F>... more) {
        return new Beside<>(answers, both.left(), both.right().where(Condition.meanings(more)), both.matches());
    }

    /** {@return all pairs in the order of the left side, those of one left row by the key of the right one} */
    public List<Row<E, F>> list() {
        return answers.list(both);
    }

    /** {@return how many pairs there are} */
    public long count() {
        return answers.count(both);
    }

    @Override
    public String toString() {
        return both.toString();
    }
}
