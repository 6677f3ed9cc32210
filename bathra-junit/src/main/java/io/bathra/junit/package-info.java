/**
 * For the tests of those who use Bathra: a store on a database that is empty for each test, statements counted, faults on
 * demand, a clock that stands still, plans and rows to be compared, and threads that take turns.
 */
@NullMarked
package io.bathra.junit;

import org.jspecify.annotations.NullMarked;
