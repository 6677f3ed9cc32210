package io.bathra.track;

import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * What an entity has in tables of their own, its parts and pairs, as they are in the database; and, for the row of a
 * part or pivot, whose it is.
 */
final class Belongings {
    private final Journal journal;
    private @Nullable Map<PartsAttribute, List<Entry<HiddenRow>>> parts;
    private @Nullable Map<PivotAttribute, Map<Object, @Nullable Long>> pairs;
    private List<HiddenFrom> hiddenFrom = List.of();
    private @Nullable Entry<?> owner;
    private @Nullable Supplier<String> place;

    Belongings(Journal journal) {
        this.journal = journal;
    }

    /** The rows of its parts in their order; those that were never read are missing. */
    Map<PartsAttribute, List<Entry<HiddenRow>>> parts() {
        if (parts == null) {
            parts = new HashMap<>(2);
        }
        return parts;
    }

    /** The keys of what it is paired with, each with its position; a pivot that was never read is missing. */
    Map<PivotAttribute, Map<Object, @Nullable Long>> pairs() {
        if (pairs == null) {
            pairs = new HashMap<>(2);
        }
        return pairs;
    }

    /** For a removed entity: where it was taken out of the elements of others. */
    List<HiddenFrom> hiddenFrom() {
        return hiddenFrom;
    }

    // ---- changing: the journal is told first

    /** The rows of parts, in their order; null when they were never read. */
    void putParts(PartsAttribute attribute, @Nullable List<Entry<HiddenRow>> rows) {
        put(parts(), attribute, rows);
    }

    /** The pairs, each with its position; null when they were never read. */
    void putPairs(PivotAttribute pivot, @Nullable Map<Object, @Nullable Long> pairs) {
        put(pairs(), pivot, pairs);
    }

    private <K, V> void put(Map<K, V> all, K attribute, @Nullable V value) {
        V before = all.get(attribute);
        journal.add(() -> set(all, attribute, before));
        set(all, attribute, value);
    }

    private static <K, V> void set(Map<K, V> all, K attribute, @Nullable V value) {
        if (value == null) {
            all.remove(attribute);
        } else {
            all.put(attribute, value);
        }
    }

    /** One pair more, or one at another position. */
    void pair(PivotAttribute pivot, Object element, @Nullable Long position) {
        Map<Object, @Nullable Long> pairs =
                new LinkedHashMap<Object, @Nullable Long>(Objects.requireNonNull(pairs().get(pivot)));
        pairs.put(element, position);
        putPairs(pivot, pairs);
    }

    /** One pair less. */
    void unpair(PivotAttribute pivot, Object element) {
        Map<Object, @Nullable Long> pairs =
                new LinkedHashMap<Object, @Nullable Long>(Objects.requireNonNull(pairs().get(pivot)));
        pairs.remove(element);
        putPairs(pivot, pairs);
    }

    /** It is taken out of the elements of others there. */
    void hideFrom(List<HiddenFrom> places) {
        List<HiddenFrom> before = hiddenFrom;
        journal.add(() -> hiddenFrom = before);
        hiddenFrom = List.copyOf(places);
    }

    /** For the row of a part or pivot, whose it is; null for an entity. */
    @Nullable
    Entry<?> owner() {
        return owner;
    }

    /** For the row of a part or pivot: what tells it from others of its owner. */
    String place() {
        return place == null ? "" : place.get();
    }

    void own(Entry<?> newOwner, Supplier<String> newPlace) {
        owner = newOwner;
        place = newPlace;
    }

    /**
     * Links that a removed entity was taken out of.
     *
     * @param stored whether the pair is in the database, as far as the owner knows
     * @param position its position there
     */
    record HiddenFrom(
            Entry<?> owner,
            PivotAttribute pivot,
            boolean stored,
            @Nullable Long position,
            int index) {}
}
