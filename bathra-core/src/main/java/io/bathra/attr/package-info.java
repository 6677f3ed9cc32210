/**
 * References to attributes, {@link io.bathra.attr.Attr} such as {@code Vessel::name}, and what is said of attributes:
 * converters, delete rules, events, names. Never here: knowledge of tables, columns or models.
 */
@NullMarked
package io.bathra.attr;

import org.jspecify.annotations.NullMarked;
