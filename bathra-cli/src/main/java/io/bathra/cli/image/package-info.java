/** What a native image has to be told of a model and of those who use it. */
@NullMarked
package io.bathra.cli.image;

import org.jspecify.annotations.NullMarked;
