package io.bathra.track;

import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * What an entity has in tables of their own, its parts and pairs, as they are in the database; and, for the row of a part or
 * pivot, whose it is.
 */
final class Belongings {
    private @Nullable Map<PartsAttribute, List<Entry<HiddenRow>>> parts;
    private @Nullable Map<PivotAttribute, Map<Object, @Nullable Long>> pairs;
    private List<HiddenFrom> hiddenFrom = List.of();
    private @Nullable Entry<?> owner;
    private @Nullable Supplier<String> place;

    /** The rows of its parts in their order. */
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

    void hiddenFrom(List<HiddenFrom> places) {
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
