package io.bathra.question;

import io.bathra.access.Accessor;
import java.util.List;
import java.util.function.BiFunction;

/**
 * A question for entities and, beside each, those elements of a collection of its that fulfil conditions. Immutable.
 *
 * @param <E> the entity that has the collection
 * @param <T> the entity of its elements
 * @param <R> what an owner and its elements become
 * @param question what is asked of the owners
 * @param conditions what is asked of the elements
 * @param maker makes something of an owner and its elements
 */
public record Choice<E, T, R>(
        Question<E> question, Accessor collection, List<SearchCondition> conditions, BiFunction<E, List<T>, R> maker) {
    public Choice {
        conditions = List.copyOf(conditions);
    }

    @Override
    public String toString() {
        return question + " with " + collection.beanProperty() + " where " + new SearchCondition.All(conditions);
    }
}
