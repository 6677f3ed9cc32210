/** What the tool draws on: SVG and PNG, the same on a machine without fonts. Never here: what is drawn. */
@NullMarked
package io.bathra.cli.canvas;

import org.jspecify.annotations.NullMarked;
