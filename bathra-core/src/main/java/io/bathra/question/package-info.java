/**
 * What a question means: terms, search conditions, sort keys and whole questions as values without types of the user's,
 * and how one is taken apart into a shape and its values. {@link io.bathra.query} is what users make them with. Not
 * exported. Never here: columns, SQL text, and anything that touches a database.
 */
@NullMarked
package io.bathra.question;

import org.jspecify.annotations.NullMarked;
