package io.bathra.query;

import io.bathra.attr.Accessor;
import java.util.List;

/**
 * A question for entities and, beside each, those elements of a collection of its that fulfil conditions. The collection itself
 * is left as it is: it never holds less than all. Made by {@link Query#excerpt}. Immutable.
 *
 * @param <E> the entity that has the collection
 * @param <T> the entity of its elements
 */
public final class Excerpt<E, T> {
    private final Answers answers;
    private final Question<E> question;
    private final Accessor collection;
    private final List<Condition<? super T>> conditions;

    Excerpt(Answers answers, Question<E> question, Accessor collection, List<Condition<? super T>> conditions) {
        this.answers = answers;
        this.question = question;
        this.collection = collection;
        this.conditions = List.copyOf(conditions);
    }

    /**
     * An entity, and some elements of its collection.
     *
     * @param elements in the order of the collection
     */
    public record Of<E, T>(E owner, List<T> elements) {
        public Of {
            elements = List.copyOf(elements);
        }
    }

    /** All entities in the query's order, those without such elements too; elements are read by a second statement. */
    public List<Of<E, T>> list() {
        return answers.list(this);
    }

    /** What is asked of the entities. */
    public Question<E> question() {
        return question;
    }

    /** The collection. */
    public Accessor collection() {
        return collection;
    }

    /** What is asked of the elements. */
    public List<Condition<? super T>> conditions() {
        return conditions;
    }

    @Override
    public String toString() {
        return question + " with " + collection.beanProperty() + " where " + new Condition.All<T>(conditions);
    }
}
