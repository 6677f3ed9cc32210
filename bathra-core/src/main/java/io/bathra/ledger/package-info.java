/**
 * Change files are applied to a database: once, by one of many, and to the end, whatever happens in between. The ledger
 * says what a database has had, the claim who is at work.
 */
@NullMarked
package io.bathra.ledger;

import org.jspecify.annotations.NullMarked;
