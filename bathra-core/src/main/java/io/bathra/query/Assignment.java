package io.bathra.query;

import io.bathra.question.SetClause;

/**
 * What an attribute of all rows that a query finds becomes. Made by {@link Expr#to(Object)}. Immutable.
 *
 * @param <E> the entity that is changed
 */
public final class Assignment<E> {
    private final SetClause clause;

    Assignment(SetClause clause) {
        this.clause = clause;
    }

    SetClause clause() {
        return clause;
    }

    @Override
    public String toString() {
        return clause.toString();
    }
}
