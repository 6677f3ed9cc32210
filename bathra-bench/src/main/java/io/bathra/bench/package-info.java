/**
 * Benchmarks beside the claims: each job done by Bathra and by hand-written JDBC, in the same run.
 * Never here: assertions on times.
 */
@NullMarked
package io.bathra.bench;

import org.jspecify.annotations.NullMarked;
