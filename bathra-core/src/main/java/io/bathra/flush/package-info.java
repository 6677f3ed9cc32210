/**
 * What a unit of work does to its database: the transaction and its places, flushes, keys, listeners, what goes along
 * with removed rows, changes by query, commit tokens. {@link io.bathra.UnitOfWork} is what users hold of it. Not
 * exported. Never here: SQL text, and making objects of rows.
 */
@NullMarked
package io.bathra.flush;

import org.jspecify.annotations.NullMarked;
