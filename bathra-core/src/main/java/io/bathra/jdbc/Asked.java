package io.bathra.jdbc;

import io.bathra.sql.SqlText;

/**
 * A query that is asked along with others.
 *
 * @param handler takes each row of its answer, after those of the queries before it
 */
public record Asked(CharSequence cause, SqlText text, Transaction.RowHandler handler) {}
