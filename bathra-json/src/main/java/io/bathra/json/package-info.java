/**
 * Entities as JSON and back. A {@link io.bathra.json.JsonShape} says which attributes and associations go into a text,
 * and {@link io.bathra.json.EntityJson} writes and reads it; who knows the format itself stands behind {@link
 * io.bathra.json.format.JsonFormat}.
 */
@NullMarked
package io.bathra.json;

import org.jspecify.annotations.NullMarked;
