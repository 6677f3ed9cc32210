/**
 * The edge: connections, statements, binding and reading values, write paths, translation of SQL errors.
 * One class per database knows its driver.
 * Never here: decisions about what to write or in which order.
 */
@NullMarked
package io.bathra.jdbc;

import org.jspecify.annotations.NullMarked;
