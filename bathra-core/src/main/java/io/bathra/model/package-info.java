/**
 * Declarations ({@link io.bathra.model.Entity}) and the checked model that they make
 * ({@link io.bathra.model.Model}). What it means lies in a room below.
 * Never here: state of a unit of work, SQL text, JDBC.
 */
@NullMarked
package io.bathra.model;

import org.jspecify.annotations.NullMarked;
