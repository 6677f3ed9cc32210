package io.bathra.query;

import io.bathra.attr.Accessor;
import io.bathra.attr.Attr;
import io.bathra.error.NotExactlyOneException;
import io.bathra.link.Relation;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * A question for entities of one class. Immutable: each call gives a new query, and a query can be kept and asked again.
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
public final class Query<E> {
    private final Answers answers;
    private final Class<E> type;
    private final List<Condition<? super E>> conditions;
    private final List<Ordering<? super E>> orderings;
    private final List<Accessor> along;
    private final OptionalInt limit;
    private final int offset;
    private final boolean bypassing;
    private final @Nullable Locking locking;

    private Query(
            Answers answers,
            Class<E> type,
            List<Condition<? super E>> conditions,
            List<Ordering<? super E>> orderings,
            List<Accessor> along,
            OptionalInt limit,
            int offset,
            boolean bypassing,
            @Nullable Locking locking) {
        this.answers = answers;
        this.type = type;
        this.conditions = conditions;
        this.orderings = orderings;
        this.along = along;
        this.limit = limit;
        this.offset = offset;
        this.bypassing = bypassing;
        this.locking = locking;
    }

    /** A query for all entities of the class. Users start at {@code work.from(type)}. */
    public static <E> Query<E> of(Class<E> type, Answers answers) {
        return new Query<>(answers, type, List.of(), List.of(), List.of(), OptionalInt.empty(), 0, false, null);
    }

    /** Narrows the query: all conditions, and those of earlier calls, must hold. */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Query<E> where(Condition<? super E>... more) {
        return new Query<>(
                answers,
                type,
                append(conditions, Arrays.asList(more)),
                orderings,
                along,
                limit,
                offset,
                bypassing,
                locking);
    }

    /** Orders the answer; terms of earlier calls come first. Ties, and queries without order, are ordered by key. */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Query<E> orderBy(Ordering<? super E>... more) {
        return new Query<>(
                answers,
                type,
                conditions,
                append(orderings, Arrays.asList(more)),
                along,
                limit,
                offset,
                bypassing,
                locking);
    }

    /** Reads these associations at once, for all entities of the answer: one more statement each. */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public final Query<E> alongWith(Attr<? super E, ? extends Relation<?>>... relations) {
        List<Accessor> more = Arrays.stream(relations).map(Accessor::of).toList();
        return new Query<>(
                answers, type, conditions, orderings, append(along, more), limit, offset, bypassing, locking);
    }

    /**
     * At most so many entities.
     *
     * @throws IllegalArgumentException when the limit is negative
     */
    public Query<E> limit(int rows) {
        return new Query<>(
                answers,
                type,
                conditions,
                orderings,
                along,
                OptionalInt.of(notNegative("limit", rows)),
                offset,
                bypassing,
                locking);
    }

    /**
     * Leaves out the first entities of the answer.
     *
     * @throws IllegalArgumentException when the offset is negative
     */
    public Query<E> offset(int rows) {
        return new Query<>(
                answers, type, conditions, orderings, along, limit, notNegative("offset", rows), bypassing, locking);
    }

    /**
     * Holds the rows of this entity that are read until the transaction ends, so that nobody else changes them meanwhile; waits
     * for those who hold them now. On SQLite, who has one writer at a time, a unit of work holds everything anyway.
     */
    public Query<E> forUpdate() {
        return forUpdate(Locking.WAIT);
    }

    /** Holds the rows that are read, and says what becomes of those that others hold. */
    public Query<E> forUpdate(Locking othersRows) {
        return new Query<>(answers, type, conditions, orderings, along, limit, offset, bypassing, othersRows);
    }

    /** How rows that are read are held; null when they are not. */
    public @Nullable Locking locking() {
        return locking;
    }

    /** All entities that fulfil the conditions, as tracked objects. */
    public List<E> list() {
        return answers.list(this);
    }

    /** The first entity in the query's order, if there is any. */
    public Optional<E> first() {
        return limit(limit.isPresent() ? Math.min(1, limit.getAsInt()) : 1).list().stream()
                .findFirst();
    }

    /**
     * The only entity that fulfils the conditions.
     *
     * @throws NotExactlyOneException when there is none, or more than one
     */
    public E one() {
        List<E> found =
                limit(limit.isPresent() ? Math.min(2, limit.getAsInt()) : 2).list();
        if (found.size() != 1) {
            throw new NotExactlyOneException(answers.describe(this), found.isEmpty() ? 0 : count());
        }
        return found.get(0);
    }

    /** How many rows fulfil the conditions. Limit and offset play no part. */
    public long count() {
        return answers.count(this);
    }

    /**
     * Lets {@link #delete} remove rows without a word to the remove listeners of their entities.
     */
    public Query<E> bypassListeners() {
        return new Query<>(answers, type, conditions, orderings, along, limit, offset, true, locking);
    }

    /**
     * Removes the rows that fulfil the conditions, by statements and not one by one; delete rules hold. Pending changes to
     * the tables that are touched are flushed first, and tracked objects whose rows are gone are tracked no longer.
     *
     * @return how many rows of this entity there were
     * @throws io.bathra.error.BathraException when a remove listener would not be told; remove the entities one by one, or
     *     say {@code bypassListeners()}
     * @throws io.bathra.error.RestrictViolation when rows that stay lead to them
     * @throws IllegalStateException when the query has an order, a limit or an offset, which a deletion cannot heed
     */
    public long delete() {
        if (!orderings.isEmpty() || limit.isPresent() || offset > 0 || !along.isEmpty()) {
            throw new IllegalStateException(answers.describe(this)
                    + " has more than conditions, which delete() cannot heed; narrow it with where(...) alone");
        }
        return answers.delete(this);
    }

    /** Whether listeners may be left out. */
    public boolean bypassesListeners() {
        return bypassing;
    }

    /** The class that is asked about. */
    public Class<E> type() {
        return type;
    }

    public List<Condition<? super E>> conditions() {
        return conditions;
    }

    public List<Ordering<? super E>> orderings() {
        return orderings;
    }

    /** The associations to read at once. */
    public List<Accessor> along() {
        return along;
    }

    /** The limit, if there is one. */
    public OptionalInt limit() {
        return limit;
    }

    /** How many entities of the answer are left out at its start. */
    public int offset() {
        return offset;
    }

    private static int notNegative(String what, int rows) {
        if (rows < 0) {
            throw new IllegalArgumentException(what + " must not be negative, but is " + rows);
        }
        return rows;
    }

    private static <T> List<T> append(List<T> list, List<? extends T> more) {
        List<T> all = new ArrayList<>(list);
        all.addAll(more);
        return List.copyOf(all);
    }

    @Override
    public String toString() {
        StringBuilder text = new StringBuilder("from ").append(type.getSimpleName());
        if (!conditions.isEmpty()) {
            text.append(" where ").append(new Condition.All<E>(conditions));
        }
        if (!orderings.isEmpty()) {
            text.append(" order by ")
                    .append(orderings.stream().map(Ordering::toString).collect(Collectors.joining(", ")));
        }
        limit.ifPresent(rows -> text.append(" limit ").append(rows));
        if (offset > 0) {
            text.append(" offset ").append(offset);
        }
        return text.toString();
    }
}
