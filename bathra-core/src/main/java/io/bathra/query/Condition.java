package io.bathra.query;

import io.bathra.question.SearchCondition;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A typed predicate over an entity. Immutable and reusable; prints itself in SQL's own words, with a question mark for
 * each value, since some may be secret. Made from
 * {@link Ask#the} and {@link Ask#text}, combined with {@link Ask#allOf}, {@link Ask#anyOf} and {@link Ask#not}.
 *
 * @param <E> the entity that is asked about
 */
public final class Condition<E> {
    static {
        Door.leave();
    }

    private final SearchCondition meaning;

    Condition(SearchCondition meaning) {
        this.meaning = meaning;
    }

    SearchCondition meaning() {
        return meaning;
    }

    static List<SearchCondition> meanings(Condition<?>... conditions) {
        List<SearchCondition> meanings = new ArrayList<>(conditions.length);
        for (Condition<?> condition : conditions) {
            meanings.add(Objects.requireNonNull(condition, "condition").meaning);
        }
        return meanings;
    }

    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof Condition<?> that && meaning.equals(that.meaning);
    }

    @Override
    public int hashCode() {
        return meaning.hashCode();
    }

    @Override
    public String toString() {
        return meaning.toString();
    }
}
