package io.bathra.model;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** What an entity declares beyond its attributes. */
record Rules(
        List<UniqueKey> uniques,
        List<IndexRule> indexes,
        List<CheckRule> checks,
        @Nullable ColumnAttribute version,
        List<ColumnAttribute> insertStamps,
        List<ColumnAttribute> updateStamps,
        List<Listener> listeners) {}
