/**
 * Entities as texts know them, for modules that write them and read them back: the fields in the order of the class,
 * the values in them, and what is wrong with values from outside.
 * Never here: any format of texts, and units of work.
 */
@NullMarked
package io.bathra.form;

import org.jspecify.annotations.NullMarked;
