/**
 * The code of the guide's pages that no other example has, one program a page.
 * Never here: what the other examples show already.
 */
@NullMarked
package io.bathra.examples.guide;

import org.jspecify.annotations.NullMarked;
