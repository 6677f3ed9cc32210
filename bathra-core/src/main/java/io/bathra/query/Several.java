package io.bathra.query;

import io.bathra.question.Term;

/**
 * Any number of values that a query is given later. Made by {@link Ask#parameters}. Immutable.
 *
 * @param <V> the type of each of them
 */
public final class Several<V> {
    private final Term.Parameter parameter;

    Several(Term.Parameter parameter) {
        this.parameter = parameter;
    }

    Term.Parameter parameter() {
        return parameter;
    }

    @Override
    public String toString() {
        return parameter.toString();
    }
}
