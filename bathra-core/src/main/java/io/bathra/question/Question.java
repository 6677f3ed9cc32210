package io.bathra.question;

import io.bathra.answer.Locking;
import io.bathra.answer.Pending;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * All that a query asks, as a value. Immutable.
 *
 * @param <E> the entity that is asked about
 */
public final class Question<E> {
    private final Class<E> type;

    // Changed in fresh copies alone, before anybody else sees them.
    private List<SearchCondition> conditions = List.of();
    private List<SortKey> orderings = List.of();
    private List<Branch> along = List.of();
    private OptionalInt limit = OptionalInt.empty();
    private int offset;
    private boolean whichever;
    private boolean bypassing;
    private boolean untracked;
    private @Nullable Locking locking;
    private @Nullable Pending pending;
    private List<Term> groups = List.of();
    private List<SearchCondition> having = List.of();
    private Map<String, Object> parameters = Map.of();

    public Question(Class<E> type) {
        this.type = type;
    }

    private Question<E> changed(Consumer<Question<E>> change) {
        Question<E> copy = new Question<>(type);
        copy.conditions = conditions;
        copy.orderings = orderings;
        copy.along = along;
        copy.limit = limit;
        copy.offset = offset;
        copy.whichever = whichever;
        copy.bypassing = bypassing;
        copy.untracked = untracked;
        copy.locking = locking;
        copy.pending = pending;
        copy.groups = groups;
        copy.having = having;
        copy.parameters = parameters;
        change.accept(copy);
        return copy;
    }

    public Question<E> where(List<SearchCondition> more) {
        refuseAggregates(more);
        return changed(copy -> copy.conditions = append(conditions, more));
    }

    private static void refuseAggregates(List<SearchCondition> conditions) {
        for (SearchCondition condition : conditions) {
            if (condition.anyTerm(Term::isAggregate)) {
                throw new IllegalArgumentException(
                        "'" + condition
                                + "' speaks of groups of rows, but where(...) asks each row; give it to groupBy(...).having(...)");
            }
        }
    }

    public Question<E> orderBy(List<SortKey> more) {
        return changed(copy -> copy.orderings = append(orderings, more));
    }

    public Question<E> alongWith(List<Branch> more) {
        return changed(copy -> copy.along = append(along, more));
    }

    public Question<E> limit(int rows) {
        notNegative("limit", rows);
        return changed(copy -> copy.limit = OptionalInt.of(rows));
    }

    /** At most so many, or fewer when it asks for fewer already. */
    public Question<E> atMost(int rows) {
        return limit(limit.isPresent() ? Math.min(rows, limit.getAsInt()) : rows);
    }

    /** At most two, whichever: enough to see whether there is one. */
    public Question<E> enoughForOne() {
        boolean narrowed = limit.isPresent() || offset > 0 || !orderings.isEmpty();
        return narrowed
                ? atMost(2)
                : changed(copy -> {
                    copy.limit = OptionalInt.of(2);
                    copy.whichever = true;
                });
    }

    public Question<E> offset(int rows) {
        notNegative("offset", rows);
        return changed(copy -> copy.offset = rows);
    }

    private static void notNegative(String what, int rows) {
        if (rows < 0) {
            throw new IllegalArgumentException(what + " must not be negative, but is " + rows);
        }
    }

    public Question<E> forUpdate(Locking othersRows) {
        return changed(copy -> copy.locking = othersRows);
    }

    public Question<E> asUntracked() {
        return changed(copy -> copy.untracked = true);
    }

    /** The same for objects that are nobody's, with neither limit nor offset. */
    public Question<E> whole() {
        return changed(copy -> {
            copy.untracked = true;
            copy.limit = OptionalInt.empty();
            copy.offset = 0;
        });
    }

    public Question<E> pending(Pending treatment) {
        return changed(copy -> copy.pending = treatment);
    }

    public Question<E> bypassing() {
        return changed(copy -> copy.bypassing = true);
    }

    public Question<E> groupBy(List<Term> more) {
        return changed(copy -> copy.groups = append(groups, more));
    }

    public Question<E> having(List<SearchCondition> more) {
        return changed(copy -> copy.having = append(having, more));
    }

    public Question<E> with(String parameter, Object value) {
        Map<String, Object> more = new LinkedHashMap<>(parameters);
        more.put(parameter, value);
        return changed(copy -> copy.parameters = Map.copyOf(more));
    }

    private static <T> List<T> append(List<T> list, List<? extends T> more) {
        if (list.isEmpty()) {
            return List.copyOf(more);
        }
        List<T> all = new ArrayList<>(list);
        all.addAll(more);
        return List.copyOf(all);
    }

    /** The class that is asked about. */
    public Class<E> type() {
        return type;
    }

    public List<SearchCondition> conditions() {
        return conditions;
    }

    public List<SortKey> orderings() {
        return orderings;
    }

    /** The orderings in words. */
    public String order() {
        return orderings.stream().map(SortKey::toString).collect(Collectors.joining(", "));
    }

    /** The associations to read at once. */
    public List<Branch> along() {
        return along;
    }

    /** The limit, if there is one. */
    public OptionalInt limit() {
        return limit;
    }

    /** Whether it does not matter which rows are within the limit. */
    public boolean isWhichever() {
        return whichever;
    }

    /** How many rows of the answer are left out at its start. */
    public int offset() {
        return offset;
    }

    /** How rows that are read are held; null when they are not. */
    public @Nullable Locking locking() {
        return locking;
    }

    /** How pending changes are treated; null where the unit of work decides. */
    public @Nullable Pending pending() {
        return pending;
    }

    /** Whether a deletion may leave listeners out. */
    public boolean bypassesListeners() {
        return bypassing;
    }

    /** Whether the objects of the answer are nobody's. */
    public boolean isUntracked() {
        return untracked;
    }

    /** What rows of a group have in common; empty when there are no groups. */
    public List<Term> groups() {
        return groups;
    }

    /** What is asked of groups. */
    public List<SearchCondition> having() {
        return having;
    }

    /** The values that were given by name. */
    public Map<String, Object> parameters() {
        return parameters;
    }

    /** Whether it narrows by conditions alone. */
    public boolean isConditionsAlone() {
        return orderings.isEmpty() && limit.isEmpty() && offset == 0 && along.isEmpty();
    }

    /** What its statement depends on, with slots for its values. */
    Question<E> shape(Apart apart) {
        Question<E> shape = new Question<>(type);
        shape.conditions = apart.conditions(conditions);
        shape.orderings = apart.orderings(orderings);
        shape.limit = limit;
        shape.offset = offset;
        shape.whichever = whichever;
        shape.locking = locking;
        shape.groups = apart.outside(groups);
        shape.having = apart.conditions(having);
        return shape;
    }

    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof Question<?> that
                && type == that.type
                && conditions.equals(that.conditions)
                && orderings.equals(that.orderings)
                && along.equals(that.along)
                && limit.equals(that.limit)
                && offset == that.offset
                && whichever == that.whichever
                && bypassing == that.bypassing
                && untracked == that.untracked
                && locking == that.locking
                && pending == that.pending
                && groups.equals(that.groups)
                && having.equals(that.having)
                && parameters.equals(that.parameters);
    }

    @Override
    public int hashCode() {
        int hash = 31 * type.hashCode() + conditions.hashCode();
        hash = 31 * hash + orderings.hashCode();
        hash = 31 * hash + groups.hashCode();
        return 31 * hash + limit.hashCode() + offset;
    }

    @Override
    public String toString() {
        return Words.WITHOUT_VALUES.of(this);
    }
}
