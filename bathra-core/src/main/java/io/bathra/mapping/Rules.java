package io.bathra.mapping;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** What an entity declares beyond its attributes. */
public record Rules(
        List<UniqueKey> uniques,
        List<IndexRule> indexes,
        List<CheckRule> checks,
        @Nullable ColumnAttribute version,
        List<ColumnAttribute> insertStamps,
        List<ColumnAttribute> updateStamps,
        List<Listener> listeners) {
    static final Rules NONE = new Rules(List.of(), List.of(), List.of(), null, List.of(), List.of(), List.of());
}
