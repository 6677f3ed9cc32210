/** Change files in YAML: read with the place of each word, written as a person would, and kept in a folder. */
@NullMarked
package io.bathra.changes;

import org.jspecify.annotations.NullMarked;
