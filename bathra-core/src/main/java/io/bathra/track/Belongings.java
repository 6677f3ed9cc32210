package io.bathra.track;

import io.bathra.model.HiddenRow;
import io.bathra.model.PartsAttribute;
import io.bathra.model.PivotAttribute;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What an entity has in tables of their own: its parts and pairs, as they are in the database. */
final class Belongings {
    /** The rows of its parts in their order. */
    final Map<PartsAttribute, List<Entry<HiddenRow>>> parts = new HashMap<>(2);

    /** The keys of what it is paired with, each with its position; a pivot that was never read is missing. */
    final Map<PivotAttribute, Map<Object, @Nullable Long>> pairs = new HashMap<>(2);

    /** For a removed entity: where it was taken out of the elements of others. */
    final List<HiddenFrom> hiddenFrom = new ArrayList<>(0);

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
