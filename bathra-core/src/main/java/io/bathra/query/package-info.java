/**
 * Questions as values: expressions, conditions, orderings and whole queries. Pure and immutable.
 * A query knows accessors, not columns; SQL is made of it elsewhere.
 * Never here: SQL text, and anything that touches a database.
 */
@NullMarked
package io.bathra.query;

import org.jspecify.annotations.NullMarked;
