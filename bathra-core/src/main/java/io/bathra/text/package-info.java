/**
 * Text for people: tables whose columns line up.
 * Not exported. Never here: anything that knows what the cells mean.
 */
@NullMarked
package io.bathra.text;

import org.jspecify.annotations.NullMarked;
