/**
 * How a question is answered, and with what: what it sees of pending changes, how it holds rows, pages and their marks,
 * the statement that was asked. Never here: anything that asks.
 */
@NullMarked
package io.bathra.answer;

import org.jspecify.annotations.NullMarked;
