/**
 * Text for people: tables whose columns line up, and words that are made when somebody reads them.
 * Not exported. Never here: anything that knows what the cells mean.
 */
@NullMarked
package io.bathra.text;

import org.jspecify.annotations.NullMarked;
