package io.bathra.form;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What the members of a group are asked of.
 *
 * @param parts the stored parts of the whole value around
 * @param row what holds the value: an entity, or the row of a part, whose links lie beside the columns
 */
record Members(List<? extends @Nullable Object> parts, Object row) {}
