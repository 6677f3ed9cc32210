package io.bathra.query;

import io.bathra.question.Answers;
import io.bathra.question.Question;

/**
 * A question for groups of rows. Made by {@link Query#groupBy}. Immutable.
 *
 * <pre>{@code
 * work.from(PortCall.class)
 *     .groupBy(the(PortCall::status))
 *     .having(count().above(3L))
 *     .as(Tally::new, the(PortCall::status), count())
 *     .list();
 * }</pre>
 *
 * @param <E> the entity whose rows are grouped
 */
public final class Grouping<E> extends Selecting<E> {
    Grouping(Answers answers, Question<E> question) {
        super(answers, question);
    }

    /**
     * Narrows the groups: all conditions, and those of earlier calls, must hold.
     *
     * @param more further ones
     * @return groups like these, with that
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Grouping<E> having(Condition<? super E>... more) {
        return new Grouping<>(answers, question.having(Condition.meanings(more)));
    }

    /**
     * Orders the groups; terms of earlier calls come first.
     *
     * @param more further ones
     * @return groups like these, with that
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Grouping<E> orderBy(Ordering<? super E>... more) {
        return new Grouping<>(answers, question.orderBy(Ordering.keys(more)));
    }

    /**
     * At most so many groups.
     *
     * @param groups how many
     * @return groups like these, with that
     */
    public Grouping<E> limit(int groups) {
        return new Grouping<>(answers, question.limit(groups));
    }

    /**
     * Leaves out the first groups.
     *
     * @param groups how many
     * @return groups like these, with that
     */
    public Grouping<E> offset(int groups) {
        return new Grouping<>(answers, question.offset(groups));
    }
}
