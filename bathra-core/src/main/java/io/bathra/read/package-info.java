/**
 * Rows into objects: by key, for whole cohorts, along associations, by queries with their overlays, excerpts, pages and
 * streams, and by plain SQL. What a reader needs of its unit is the interface {@link io.bathra.read.ReadingUnit}. Not
 * exported. Never here: anything that writes.
 */
@NullMarked
package io.bathra.read;

import org.jspecify.annotations.NullMarked;
