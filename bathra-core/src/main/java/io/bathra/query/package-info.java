/**
 * Questions as users write them, typed by their entities: expressions, conditions, orderings and whole queries. Pure,
 * immutable and thin: what they mean lies in a room below. Never here: SQL text, and anything that touches a database.
 */
@NullMarked
package io.bathra.query;

import org.jspecify.annotations.NullMarked;
