/**
 * The inner door of {@link io.bathra.link}: what a unit of work may do to a holder and a user may not; and accessors,
 * the methods behind references to attributes. The package is not exported from the module. Never here: anything that a
 * user of the library should call.
 */
@NullMarked
package io.bathra.access;

import org.jspecify.annotations.NullMarked;
