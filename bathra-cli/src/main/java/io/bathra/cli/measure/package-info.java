/**
 * Ways of storing and reading compared on a database: rows made up for an entity, a place of their own for them, the
 * ways, and what was measured as a table and a chart. Never here: options and help, which are the command's.
 */
@NullMarked
package io.bathra.cli.measure;

import org.jspecify.annotations.NullMarked;
