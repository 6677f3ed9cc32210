/**
 * The history of a schema: change files as trees of words, read into steps, replayed, drafted, and shown as what is
 * executed for them. Where the trees come from, and in what notation, is not known here.
 */
@NullMarked
package io.bathra.evolve;

import org.jspecify.annotations.NullMarked;
