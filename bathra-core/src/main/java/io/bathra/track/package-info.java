/**
 * One object per row, and what changed: identity map, snapshots, change detection, both sides of an
 * association. Works on objects alone.
 * Never here: SQL, JDBC, and the order in which changes are written.
 */
@NullMarked
package io.bathra.track;

import org.jspecify.annotations.NullMarked;
