/** Entities as JSON by Jackson 3. */
@NullMarked
package io.bathra.jackson3;

import org.jspecify.annotations.NullMarked;
