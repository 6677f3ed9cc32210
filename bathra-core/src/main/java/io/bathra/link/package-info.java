/**
 * What the fields of an entity hold when they reach another entity: {@link io.bathra.link.Link} for one,
 * {@link io.bathra.link.Links} for many.
 * Never here: reading rows. A holder asks the unit of work that its owner belongs to.
 */
@NullMarked
package io.bathra.link;

import org.jspecify.annotations.NullMarked;
