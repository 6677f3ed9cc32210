/** Work with a model and a database by hand: entries in Java, what comes of them, and a terminal around it. */
@NullMarked
package io.bathra.cli.session;

import org.jspecify.annotations.NullMarked;
