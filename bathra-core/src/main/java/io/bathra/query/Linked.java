package io.bathra.query;

import io.bathra.attr.Attr;
import io.bathra.question.SearchCondition.Absence;
import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Membership;
import io.bathra.question.SearchCondition.Negation;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.Term;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Objects;

/**
 * A link in a question, and the conditions on what it leads to: entities are told apart by their keys, so that no table
 * has to be joined. Made by {@link Ask#link(Attr)}. Immutable.
 *
 * @param <E> the entity that is asked about
 * @param <T> the entity that the link leads to
 */
public final class Linked<E, T> {
    private final Term.Link link;

    Linked(Term.Link link) {
        this.link = link;
    }

    /**
     * It leads to this entity, of which the key alone matters; it must have one by the time of the question.
     *
     * @param entity the entity
     * @return the condition
     */
    public Condition<E> is(T entity) {
        return compare(Operator.IS, object(entity, "isNull()"));
    }

    /**
     * It leads to the entity that the query is given by name.
     *
     * @param parameter the parameter's name
     * @return the condition
     */
    public Condition<E> is(Expr<? super E, T> parameter) {
        return compare(Operator.IS, parameter.term());
    }

    /**
     * It leads to another entity. As in SQL, a link that leads nowhere fulfils neither this nor {@code is}.
     *
     * @param entity the entity
     * @return the condition
     */
    public Condition<E> isNot(T entity) {
        return compare(Operator.IS_NOT, object(entity, "isNotNull()"));
    }

    /**
     * {@return the same with an entity that the query is given by name}
     *
     * @param parameter the parameter's name
     */
    public Condition<E> isNot(Expr<? super E, T> parameter) {
        return compare(Operator.IS_NOT, parameter.term());
    }

    /**
     * It leads to one of these entities.
     *
     * @param entities the entities
     * @return the condition
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Condition<E> in(T... entities) {
        return in(Arrays.asList(entities));
    }

    /**
     * It leads to one of these entities. No entities, no rows.
     *
     * @param entities the entities
     * @return the condition
     */
    public Condition<E> in(Collection<? extends T> entities) {
        List<Term> targets =
                entities.stream().map(entity -> object(entity, "isNull()")).toList();
        return new Condition<>(new Membership(link, targets));
    }

    /**
     * It leads to one of the entities that the query is given by name.
     *
     * @param entities the entities
     * @return the condition
     */
    public Condition<E> in(Several<? extends T> entities) {
        return new Condition<>(new Membership(link, List.of(entities.parameter())));
    }

    /**
     * It leads nowhere.
     *
     * @return the condition
     */
    public Condition<E> isNull() {
        return new Condition<>(new Absence(link));
    }

    /**
     * It leads somewhere.
     *
     * @return the condition
     */
    public Condition<E> isNotNull() {
        return new Condition<>(new Negation(isNull().meaning()));
    }

    private Condition<E> compare(Operator operator, Term target) {
        return new Condition<>(new Comparison(link, operator, target));
    }

    private Term object(T entity, String instead) {
        if (Objects.isNull(entity)) {
            throw new IllegalArgumentException(link + " was given null to compare with; use " + instead);
        }
        return new Term.Target(entity);
    }

    @Override
    public String toString() {
        return link.toString();
    }
}
