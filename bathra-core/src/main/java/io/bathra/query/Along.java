package io.bathra.query;

import io.bathra.access.Accessor;
import io.bathra.question.Branch;
import java.util.List;

/**
 * An association to read at once with the entities of a query, or one of those at its other end. Made by
 * {@link Ask#along(io.bathra.attr.Attr)}. Immutable.
 *
 * @param <E> the entity that is asked about
 */
public final class Along<E> {
    private final Branch branch;

    private Along(Branch branch) {
        this.branch = branch;
    }

    Along(Accessor... steps) {
        this(new Branch(List.of(steps), null));
    }

    /**
     * Reads the other end by a join in the query's own statement. That is what becomes of links to one anyway; links to
     * many are refused, since their owners would come again with each element.
     *
     * @return the association, read that way
     */
    public Along<E> joined() {
        return new Along<>(new Branch(branch.steps(), true));
    }

    /**
     * Reads the other end by a statement of its own: worth while where many rows lead to few wide ones, which a join
     * would repeat.
     *
     * @return the association, read that way
     */
    public Along<E> separately() {
        return new Along<>(new Branch(branch.steps(), false));
    }

    Branch branch() {
        return branch;
    }

    @Override
    public String toString() {
        return branch.toString();
    }
}
