/**
 * What comes from outside for the attributes of an entity: which attribute a name means, what value a text stands for,
 * what is wrong with it, and whether declared checks hold.
 * Never here: rows in number, units of work, and SQL.
 */
@NullMarked
package io.bathra.input;

import org.jspecify.annotations.NullMarked;
