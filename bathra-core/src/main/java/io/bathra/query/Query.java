package io.bathra.query;

import io.bathra.access.Accessor;
import io.bathra.answer.Locking;
import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.answer.Pending;
import io.bathra.answer.QueryText;
import io.bathra.attr.Attr;
import io.bathra.error.NotExactlyOneException;
import io.bathra.link.Links;
import io.bathra.link.Relation;
import io.bathra.question.Answers;
import io.bathra.question.Branch;
import io.bathra.question.Question;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A question for entities of one class. Immutable: each call gives a new query, and a query can be kept and asked
 * again.
 *
 * <pre>{@code
 * List<PortCall> due = work.from(PortCall.class)
 *     .where(the(PortCall::eta).atLeast(today))
 *     .orderBy(the(PortCall::eta).ascending())
 *     .limit(20)
 *     .list();
 * }</pre>
 *
 * @param <E> the entity that is asked about
 */
public final class Query<E> extends Selecting<E> {
    static {
        Door.leave();
    }

    Query(Answers answers, Question<E> question) {
        super(answers, question);
    }

    private Query<E> ask(Question<E> other) {
        return new Query<>(answers, other);
    }

    /**
     * Narrows the query: all conditions, and those of earlier calls, must hold.
     *
     * @param more further ones
     * @return a query like this one, with that
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Query<E> where(Condition<? super E>... more) {
        return ask(question.where(Condition.meanings(more)));
    }

    /**
     * Orders the answer; terms of earlier calls come first. Ties, and queries without order, are ordered by key.
     *
     * @param more further ones
     * @return a query like this one, with that
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Query<E> orderBy(Ordering<? super E>... more) {
        return ask(question.orderBy(Ordering.keys(more)));
    }

    /**
     * Reads these associations at once, for all entities of the answer: links to one by a join in the same statement,
     * everything else by one more statement each.
     *
     * @param relations associations, by their accessors
     * @return a query like this one, with that
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Query<E> alongWith(Attr<? super E, ? extends Relation<?>>... relations) {
        List<Branch> along = new ArrayList<>();
        for (Attr<? super E, ? extends Relation<?>> relation : relations) {
            along.add(new Branch(List.of(Accessor.of(relation)), null));
        }
        return ask(question.alongWith(along));
    }

    /**
     * Reads associations at once, and those at their other ends:
     *
     * <pre>{@code
     * work.from(PortCall.class).alongWith(along(PortCall::vessel, Vessel::operator),
     * along(PortCall::movements)).list();
     * }</pre>
     *
     * Paths that begin alike share their beginning. However many elements come along, no entity comes twice, and a
     * limit counts the entities that are asked for.
     *
     * @param more further ones
     * @return a query like this one, with that
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Query<E> alongWith(Along<? super E>... more) {
        return ask(question.alongWith(Arrays.stream(more).map(Along::branch).toList()));
    }

    /**
     * At most so many entities.
     *
     * @param rows how many rows
     * @return a query like this one, with that
     * @throws IllegalArgumentException when the limit is negative
     */
    public Query<E> limit(int rows) {
        return ask(question.limit(rows));
    }

    /**
     * Leaves out the first entities of the answer.
     *
     * @param rows how many rows
     * @return a query like this one, with that
     * @throws IllegalArgumentException when the offset is negative
     */
    public Query<E> offset(int rows) {
        return ask(question.offset(rows));
    }

    /**
     * Gives a {@linkplain Ask#parameter parameter} its value, in place of an earlier one.
     *
     * @param parameter the parameter's name
     * @param value the value
     * @return a query like this one, with that
     */
    public Query<E> with(String parameter, Object value) {
        return ask(question.with(parameter, Objects.requireNonNull(value, parameter)));
    }

    /**
     * Holds the rows of this entity that are read until the transaction ends, so that nobody else changes them
     * meanwhile; waits for those who hold them now. On SQLite, who has one writer at a time, a unit of work holds
     * everything anyway.
     *
     * @return a query like this one, with that
     */
    public Query<E> forUpdate() {
        return forUpdate(Locking.WAIT);
    }

    /**
     * Holds the rows that are read, and says what becomes of those that others hold.
     *
     * @param othersRows what becomes of rows that others hold
     * @return a query like this one, with that
     */
    public Query<E> forUpdate(Locking othersRows) {
        return ask(question.forUpdate(othersRows));
    }

    /**
     * Gives objects that the unit of work does not know: changes of theirs are not found, and unread links of theirs
     * cannot be read. What the unit knows of the same rows plays no part.
     *
     * @return a query like this one, with that
     */
    public Query<E> untracked() {
        return ask(question.asUntracked());
    }

    /**
     * Says how this query treats pending changes, whatever the unit of work says.
     *
     * @param treatment what is done with pending changes
     * @return a query like this one, with that
     */
    public Query<E> pending(Pending treatment) {
        return ask(question.pending(treatment));
    }

    // ---- answers

    /**
     * {@return all entities that fulfil the conditions, as tracked objects} Those that were here before and have no
     * changes take the values that were read; those with changes keep them.
     */
    public List<E> list() {
        return answers.list(question);
    }

    /**
     * {@return the entities one after the other, in bounded memory} They are not tracked. The stream closes itself
     * behind the last one; whoever stops before that closes it. Entities with parts, or with associations that are
     * read along, come by pages, each a statement of its own; others by a cursor, on MariaDB one during which the
     * unit can execute nothing else without reading the rest into memory.
     */
    public Stream<E> stream() {
        return answers.stream(question);
    }

    /** {@return the first entity in the query's order, if there is any} */
    public Optional<E> first() {
        return answers.list(question.atMost(1)).stream().findFirst();
    }

    /**
     * {@return the only entity that fulfils the conditions}
     *
     * @throws NotExactlyOneException when there is none, or more than one
     */
    public E one() {
        List<E> found = answers.list(question.enoughForOne());
        if (found.size() != 1) {
            throw new NotExactlyOneException(answers.describe(question), found.isEmpty() ? 0 : count());
        }
        return found.get(0);
    }

    /** {@return how many rows fulfil the conditions} Limit and offset play no part. */
    public long count() {
        return answers.count(question);
    }

    /** {@return whether any row fulfils the conditions} */
    public boolean exists() {
        return answers.exists(question);
    }

    /** {@return the keys of the rows, in the query's order; of several attributes, lists of their values} */
    public List<Object> keys() {
        return answers.keys(question);
    }

    /**
     * {@return a page of the answer} The next one begins behind the last row of this one, wherever that is by then:
     * rows that are added or removed meanwhile neither repeat nor hide others.
     *
     * @param size how many entities a page has at most
     * @param after where the page before has ended; null for the first one
     * @throws IllegalArgumentException when the size is below 1, or the mark belongs to other orderings
     */
    public Page<E> page(int size, @Nullable Mark after) {
        if (size < 1) {
            throw new IllegalArgumentException("a page has one entity at least, not " + size);
        }
        if (question.limit().isPresent() || question.offset() > 0) {
            throw new IllegalStateException(question + " has a limit or an offset, which pages cannot heed");
        }
        return answers.page(question, size, after);
    }

    /**
     * Groups the rows by what they have in common.
     *
     * @param values at least one; for a single group of all rows, give aggregates to {@code as(...)} without grouping
     * @return the groups, which are not asked for yet
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Grouping<E> groupBy(Expr<? super E, ?>... values) {
        if (values.length == 0) {
            throw new IllegalArgumentException("groupBy() needs values to group by");
        }
        return new Grouping<>(
                answers, question.groupBy(Arrays.stream(values).map(Expr::term).toList()));
    }

    /**
     * Puts rows of another entity beside those of this one, and gives both.
     *
     * <pre>{@code
     * work.from(Operator.class).beside(Vessel.class, matching(text(Operator::name), text(Vessel::name))).list();
     * }</pre>
     *
     * @param pairings what the rows must have in common; at least one
     * @param <F> the other entity
     * @param other the other one
     * @return the pairs, which are not asked for yet
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final <F> Beside<E, F> beside(Class<F> other, Pairing<? super E, ? super F>... pairings) {
        if (pairings.length == 0) {
            throw new IllegalArgumentException("beside(" + other.getSimpleName()
                    + ") needs to know what the rows have in common; give it matching(...)");
        }
        return new Beside<>(
                answers,
                question,
                new Question<>(other),
                Arrays.stream(pairings).map(Pairing::match).toList());
    }

    /**
     * Reads, beside each entity, the elements of a collection of its that fulfil conditions: only the movements of
     * today, say.
     *
     * <pre>{@code
     * for (var row : work.from(PortCall.class).excerpt(PortCall::movements, the(Movement::at).atLeast(today)).list()) {
     *     show(row.owner(), row.elements());
     * }
     * }</pre>
     *
     * <p>The collection itself is not touched, since it never holds less than all.
     *
     * @param <T> the other entity
     * @param collection the association to many, by its accessor
     * @param conditions what has to hold
     * @return the entities with those elements
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final <T> Excerpt<E, T> excerpt(Attr<? super E, Links<T>> collection, Condition<? super T>... conditions) {
        return new Excerpt<>(answers, question, Accessor.of(collection), Condition.meanings(conditions));
    }

    // ---- what would be executed

    /** {@return the statement and its parameters; nothing is executed} */
    public QueryText sql() {
        return answers.sql(question);
    }

    /** {@return the database's own plan for the statement, as it gives it} */
    public String explain() {
        return answers.explain(question);
    }

    // ---- changes

    /**
     * Changes the rows that fulfil the conditions, by one statement and not one by one. New values are made of those
     * that a row had before, whatever the order in which they are given. Versions and stamps move too. Pending changes
     * to the tables that are touched are flushed first, and tracked objects take what their rows hold afterwards.
     *
     * <pre>{@code
     * work.from(PortCall.class)
     *         .where(the(PortCall::eta).below(now))
     *         .update(the(PortCall::status).to(CallStatus.CANCELLED), the(PortCall::remark).to("never came"));
     * }</pre>
     *
     * @param assignments what is set
     * @return how many rows there were
     * @throws io.bathra.error.InvalidChangesException when a value does not fit its column
     * @throws io.bathra.error.BathraException when a key or version is among what is changed, or an update listener
     * would not be
     *     told; change the entities one by one, or say {@code bypassListeners()}
     * @throws IllegalStateException when the query has an order, a limit or an offset, which an update cannot heed
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final long update(Assignment<? super E>... assignments) {
        refuseMoreThanConditions("update(...)");
        return answers.update(
                question, Arrays.stream(assignments).map(Assignment::clause).toList());
    }

    private void refuseMoreThanConditions(String call) {
        if (!question.isConditionsAlone()) {
            throw new IllegalStateException(answers.describe(question) + " has more than conditions, which " + call
                    + " cannot heed; narrow it with where(...) alone");
        }
    }

    /**
     * Lets {@link #delete} and {@link #update} change rows without a word to the listeners of their entities.
     *
     * @return a query like this one, with that
     */
    public Query<E> bypassListeners() {
        return ask(question.bypassing());
    }

    /**
     * Removes the rows that fulfil the conditions, by statements and not one by one; delete rules hold. Pending changes
     * to the tables that are touched are flushed first, and tracked objects whose rows are gone are tracked no longer.
     *
     * @return how many rows of this entity there were
     * @throws io.bathra.error.BathraException when a remove listener would not be told; remove the entities one by one,
     * or
     *     say {@code bypassListeners()}
     * @throws io.bathra.error.RestrictViolation when rows that stay lead to them
     * @throws IllegalStateException when the query has an order, a limit or an offset, which a deletion cannot heed
     */
    public long delete() {
        refuseMoreThanConditions("delete()");
        return answers.delete(question, false).values().iterator().next();
    }

    /**
     * The same as {@link #delete()}, and tells what has gone along by the delete rules, whoever has removed it: before
     * the deletion, the rows are counted, by a statement a table.
     *
     * @return how many rows there were by the names of entities, this one first; rows of parts and pivots by those of
     *     their attributes
     */
    public Map<String, Long> deleteCounting() {
        refuseMoreThanConditions("deleteCounting()");
        return answers.delete(question, true);
    }
}
