/**
 * A model as the library understands it: entities, attributes and the way to their fields, the columns that each lies
 * in, keys, rules. {@link io.bathra.model} is what users declare it with. Not exported. Never here: state of a unit of
 * work, SQL text, JDBC.
 */
@NullMarked
package io.bathra.mapping;

import org.jspecify.annotations.NullMarked;
