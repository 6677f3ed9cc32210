/**
 * The harbour office that all examples and demo data live in: its entities, their declarations, and a season of made-up
 * data as CSV.
 * Never here: calls of a store or a unit of work.
 */
@NullMarked
package io.bathra.examples.harbour;

import org.jspecify.annotations.NullMarked;
