/**
 * From changes to a plan: checks, the graph over rows, and the ordered steps of a flush. Pure: a plan can be
 * made, printed and asserted on without a database.
 * Never here: executing a step.
 */
@NullMarked
package io.bathra.plan;

import org.jspecify.annotations.NullMarked;
