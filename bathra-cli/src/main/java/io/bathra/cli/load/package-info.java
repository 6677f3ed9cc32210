/**
 * Files of lines loaded into tables in bulk: what each column means, the run, and the lines that were rejected.
 * Never here: options and help, which are the command's.
 */
@NullMarked
package io.bathra.cli.load;

import org.jspecify.annotations.NullMarked;
