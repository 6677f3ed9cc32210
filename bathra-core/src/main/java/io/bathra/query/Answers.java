package io.bathra.query;

import java.util.List;

/** What answers a query: a unit of work. */
public interface Answers {
    <E> List<E> list(Query<E> query);

    /** The query in words that may stand in a message. */
    String describe(Query<?> query);

    /** Removes the rows that fulfil the conditions; tells how many there were. */
    long delete(Query<?> query);

    /** How many rows fulfil the conditions, whatever the query's limit and offset. */
    long count(Query<?> query);
}
