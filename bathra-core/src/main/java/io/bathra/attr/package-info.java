/**
 * References to attributes: {@link io.bathra.attr.Attr} is an accessor such as {@code Vessel::name}, and
 * {@link io.bathra.access.Accessor} is the method that it names.
 * Never here: knowledge of tables, columns or models.
 */
@NullMarked
package io.bathra.attr;

import org.jspecify.annotations.NullMarked;
