package io.bathra.question;

import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.answer.QueryText;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What answers a query: a unit of work. */
public interface Answers {
    <E> List<E> list(Question<E> question);

    <E> Stream<E> stream(Question<E> question);

    /** How many rows fulfil the conditions, whatever the limit and offset. */
    long count(Question<?> question);

    boolean exists(Question<?> question);

    /** The keys of the rows, in the question's order. */
    List<Object> keys(Question<?> question);

    <E> Page<E> page(Question<E> question, int size, @Nullable Mark after);

    <R> List<R> list(Selection<R> selection);

    <R> Stream<R> stream(Selection<R> selection);

    <R> List<R> list(SideBySide<?, ?, R> both);

    <R> List<R> list(Choice<?, ?, R> choice);

    /** How many pairs of rows there are. */
    long count(SideBySide<?, ?, ?> both);

    /** The attributes of an entity by the names of a record's components. */
    List<Term> attributes(Class<?> entity, Class<?> record);

    /** Changes the rows that fulfil the conditions; tells how many there were. */
    long update(Question<?> question, List<SetClause> clauses);

    /**
     * Removes the rows that fulfil the conditions.
     *
     * @param counting whether the rows that go along are counted too
     * @return how many rows there were by the names of entities, this one first
     */
    Map<String, Long> delete(Question<?> question, boolean counting);

    /** The question in words that may stand in a message. */
    String describe(Question<?> question);

    /** The statement that would be executed. */
    QueryText sql(Question<?> question);

    /** The statement that would be executed. */
    QueryText sql(Selection<?> selection);

    /** The database's own plan for a question. */
    String explain(Question<?> question);

    /** The database's own plan for a selection. */
    String explain(Selection<?> selection);
}
