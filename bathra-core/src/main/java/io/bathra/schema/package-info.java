/**
 * Tables, columns, keys, constraints and indexes as values, and the schema that a model asks for.
 * Names are as declared; quoting and types of a database are not known here.
 * Never here: SQL text and JDBC.
 */
@NullMarked
package io.bathra.schema;

import org.jspecify.annotations.NullMarked;
