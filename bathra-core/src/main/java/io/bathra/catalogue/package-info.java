/**
 * What a database has: the tables of a schema, each of them read with as many statements as there are kinds of things in
 * a catalogue, copies that tell in which words a database keeps an expression, and generators that lag behind. Never
 * here: what the model asks for, beyond the names of tables.
 */
@NullMarked
package io.bathra.catalogue;

import org.jspecify.annotations.NullMarked;
