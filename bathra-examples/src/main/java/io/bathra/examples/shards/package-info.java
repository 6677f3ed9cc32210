/** Many databases, each with the boxes of some ports, and what goes from one to another. */
@NullMarked
package io.bathra.examples.shards;

import org.jspecify.annotations.NullMarked;
