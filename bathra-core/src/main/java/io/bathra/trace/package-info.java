/**
 * What was executed, in order: statements with rows, time and cause, and the answers that needed none.
 * Pure records; whoever executes writes them.
 * Never here: execution itself.
 */
@NullMarked
package io.bathra.trace;

import org.jspecify.annotations.NullMarked;
