/**
 * Declarations ({@link io.bathra.model.Entity}) and the checked model that they make
 * ({@link io.bathra.model.Model}): entities, attributes, the way to their fields.
 * Never here: state of a unit of work, SQL text, JDBC.
 */
@NullMarked
package io.bathra.model;

import org.jspecify.annotations.NullMarked;
