/**
 * What a user meets first: a {@link io.bathra.Store} for the life of an application, a
 * {@link io.bathra.UnitOfWork} for each piece of work.
 * Never here: SQL text, JDBC calls, rules about order. They live below.
 */
@NullMarked
package io.bathra;

import org.jspecify.annotations.NullMarked;
