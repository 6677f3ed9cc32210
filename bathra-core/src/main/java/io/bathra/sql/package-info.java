/**
 * SQL text, made from queries, steps and schemas, with one class per database.
 * Pure: text and the values to bind go out, nothing is executed.
 * Never here: JDBC, and a condition on the kind of database outside a dialect class.
 */
@NullMarked
package io.bathra.sql;

import org.jspecify.annotations.NullMarked;
