/**
 * The steps that lead from one layout to the next, replayed and drafted, as values.
 * A step says what changes in the words of a model; what has to be executed for it is not known here.
 * Never here: SQL of a product, files and JDBC.
 */
@NullMarked
package io.bathra.history;

import org.jspecify.annotations.NullMarked;
