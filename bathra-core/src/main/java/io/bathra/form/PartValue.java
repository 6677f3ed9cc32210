package io.bathra.form;

import io.bathra.mapping.LinkAttribute;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A part of several members.
 *
 * @param stored what its columns keep
 * @param keys where its links are to lead
 */
record PartValue(@Nullable Object stored, Map<LinkAttribute, @Nullable Object> keys) {}
