/**
 * Rows in any number, without tracking: inserted, inserted where missing, written over those that are there; and pairs.
 * Here live the readings of rows, their check, and the ways in which portions are written.
 * Never here: units of work, and SQL of a particular database.
 */
@NullMarked
package io.bathra.bulk;

import org.jspecify.annotations.NullMarked;
