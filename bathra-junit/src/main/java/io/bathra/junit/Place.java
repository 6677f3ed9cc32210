package io.bathra.junit;

import javax.sql.DataSource;

/**
 * An empty database, or a schema of its own in one, for one class of tests.
 *
 * @param source leads there
 * @param remove takes it away again
 */
record Place(DataSource source, Runnable remove) {}
