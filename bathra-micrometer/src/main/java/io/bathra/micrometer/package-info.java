/**
 * What the units of work of a store do, as observations, for metrics and traces.
 *
 * @see io.bathra.micrometer.Observations
 */
@NullMarked
package io.bathra.micrometer;

import org.jspecify.annotations.NullMarked;
