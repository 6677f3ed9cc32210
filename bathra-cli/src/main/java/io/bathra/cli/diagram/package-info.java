/**
 * A model drawn: boxes for tables, lines for links, with their delete rules; as SVG and PNG.
 * Never here: anything that asks a database.
 */
@NullMarked
package io.bathra.cli.diagram;

import org.jspecify.annotations.NullMarked;
