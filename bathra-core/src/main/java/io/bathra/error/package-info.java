/**
 * What can go wrong, in words: every exception that Bathra throws on purpose. Each message says what
 * happened, where, with which value, and what to do.
 * Never here: detection or translation of errors, and anything that imports another package of ours.
 */
@NullMarked
package io.bathra.error;

import org.jspecify.annotations.NullMarked;
