/** Entities as JSON by Jackson 2. */
@NullMarked
package io.bathra.jackson2;

import org.jspecify.annotations.NullMarked;
