/**
 * Programs that show Bathra at work, each with a {@code main} method.
 * Never here: anything that a library would need.
 */
@NullMarked
package io.bathra.examples;

import org.jspecify.annotations.NullMarked;
