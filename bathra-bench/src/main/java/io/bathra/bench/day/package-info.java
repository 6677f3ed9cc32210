/** A day at the counter of a harbour office: many short units of work, by Bathra and by hand. */
@NullMarked
package io.bathra.bench.day;

import org.jspecify.annotations.NullMarked;
