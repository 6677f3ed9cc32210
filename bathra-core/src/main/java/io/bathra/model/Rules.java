package io.bathra.model;

import io.bathra.query.Condition;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What an entity declares beyond its attributes. */
record Rules(
        List<UniqueKey> uniques,
        List<List<StoredAttribute>> indexes,
        List<Condition<?>> checks,
        @Nullable ColumnAttribute version,
        List<ColumnAttribute> insertStamps,
        List<ColumnAttribute> updateStamps) {}
