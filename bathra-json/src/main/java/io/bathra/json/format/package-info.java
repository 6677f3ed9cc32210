/** What a library that writes and reads JSON is asked for. */
@NullMarked
package io.bathra.json.format;

import org.jspecify.annotations.NullMarked;
