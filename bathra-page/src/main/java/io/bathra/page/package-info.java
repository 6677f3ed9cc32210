/**
 * What was executed, as one page to look at: a timeline, the statements in order, what repeats, what each flush has
 * done. A {@link io.bathra.page.Recording} hears it, a {@link io.bathra.page.TracePage} shows it.
 */
@NullMarked
package io.bathra.page;

import org.jspecify.annotations.NullMarked;
