package io.bathra.track;

import io.bathra.mapping.ModelEntity;

/** What tells a row from all others. */
public record RowKey(ModelEntity<?> entity, Object key) {}
