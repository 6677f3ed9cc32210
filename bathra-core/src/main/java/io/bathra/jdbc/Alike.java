package io.bathra.jdbc;

import io.bathra.mapping.StoredColumn;
import java.text.Collator;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;

/**
 * Values that a column takes for the same though they differ: one that was made with a collation of its own answers the
 * question for 'ABC' by a row with 'abc'. The database alone knows, so it is asked again, by halves of what was asked.
 */
public final class Alike {
    private static final Alike NONE = new Alike(some -> List.of());

    private final Function<List<Object>, Collection<Object>> question;
    private final Map<Object, Object> askedFor = new HashMap<>();
    private final Map<Object, Object> cameFor = new HashMap<>();
    private final Collator collator = Collator.getInstance(Locale.ROOT);

    private Alike(Function<List<Object>, Collection<Object>> question) {
        this.question = question;
        collator.setStrength(Collator.PRIMARY);
        collator.setDecomposition(Collator.CANONICAL_DECOMPOSITION);
    }

    /** Whether a value may stand for another one: texts alone have collations. */
    public static boolean isPossible(List<StoredColumn> columns) {
        for (StoredColumn column : columns) {
            if (column.type().javaType() == String.class) {
                return true;
            }
        }
        return false;
    }

    /**
     * Finds out what came in place of what. Where all that came was asked for, which is nearly always, nothing is asked
     * again.
     *
     * @param asked the values that were asked for
     * @param came those of the rows that came
     * @param question asks for some of the values, and gives those of the rows that come
     * @return what was asked for, by what came in its place; several may have come for one
     */
    public static Map<Object, Object> asked(
            Set<Object> asked, Collection<Object> came, Function<List<Object>, Collection<Object>> question) {
        return of(asked, came, question).askedFor;
    }

    /**
     * The same for what is unique.
     *
     * @return what came, by what was asked for; it may have come for several
     */
    public static Map<Object, Object> came(
            Set<Object> asked, Collection<Object> came, Function<List<Object>, Collection<Object>> question) {
        return of(asked, came, question).cameFor;
    }

    private static Alike of(
            Set<Object> asked, Collection<Object> came, Function<List<Object>, Collection<Object>> question) {
        Set<Object> strangers = null;
        for (Object one : came) {
            if (!asked.contains(one)) {
                strangers = strangers == null ? new LinkedHashSet<>() : strangers;
                strangers.add(one);
            }
        }
        if (strangers == null) {
            return NONE;
        }
        Set<Object> open = new LinkedHashSet<>(asked);
        open.removeAll(Set.copyOf(came));
        Alike alike = new Alike(question);
        Set<Object> letters = new HashSet<>();
        open.forEach(one -> letters.add(alike.letters(one)));
        strangers.removeIf(one -> !letters.contains(alike.letters(one))); // rows that somebody has changed meanwhile
        alike.divide(List.copyOf(open), strangers);
        return alike;
    }

    /** What is left of a value without capitals, accents and trailing blanks: no collation takes more for the same. */
    private Object letters(Object value) {
        if (value instanceof String text) {
            return collator.getCollationKey(text.stripTrailing());
        }
        return value instanceof List<?> several
                ? several.stream().map(this::letters).toList()
                : value;
    }

    private void divide(List<Object> open, Set<Object> strangers) {
        if (open.isEmpty() || strangers.isEmpty()) {
            return;
        }
        if (open.size() == 1) {
            strangers.forEach(one -> askedFor.put(one, open.get(0)));
            cameFor.put(open.get(0), strangers.iterator().next());
            return;
        }
        int middle = open.size() / 2;
        for (List<Object> half : List.of(open.subList(0, middle), open.subList(middle, open.size()))) {
            Set<Object> came = new LinkedHashSet<>(question.apply(half));
            came.retainAll(strangers);
            divide(half, came);
        }
    }
}
