/**
 * The command-line tool: one class a command, on top of the library's public API alone.
 * Never here: anything that the library itself should do.
 */
@NullMarked
package io.bathra.cli;

import org.jspecify.annotations.NullMarked;
