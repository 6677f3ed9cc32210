package io.bathra.query;

import io.bathra.access.Accessor;
import io.bathra.question.Answers;
import io.bathra.question.Choice;
import io.bathra.question.Question;
import io.bathra.question.SearchCondition;
import java.util.List;

/**
 * A question for entities and, beside each, those elements of a collection of its that fulfil conditions. The
 * collection itself is left as it is: it never holds less than all. Made by {@link Query#excerpt}. Immutable.
 *
 * @param <E> the entity that has the collection
 * @param <T> the entity of its elements
 */
public final class Excerpt<E, T> {
    private final Answers answers;
    private final Choice<E, T, Of<E, T>> choice;

    Excerpt(Answers answers, Question<E> question, Accessor collection, List<SearchCondition> conditions) {
        this.answers = answers;
        this.choice = new Choice<>(question, collection, conditions, Of::new);
    }

    /**
     * An entity, and some elements of its collection.
     *
     * @param elements in the order of the collection
     */
    public record Of<E, T>(E owner, List<T> elements) {
        /**
         * Checks what it is made of, and copies what could be changed.
         *
         * @param owner whose it is
         * @param elements in the order of the collection
         */
        public Of {
            elements = List.copyOf(elements);
        }
    }

    /**
     * {@return all entities in the query's order, those without such elements too; elements are read by a second
     * statement}
     */
    public List<Of<E, T>> list() {
        return answers.list(choice);
    }

    @Override
    public String toString() {
        return choice.toString();
    }
}
