package io.bathra.bulk;

import io.bathra.mapping.StoredAttribute;

/**
 * Stands for the key of a target until it has been looked up.
 *
 * @param by the attribute of the target that is unique
 * @param value its value, in the form that is stored
 */
record Natural(StoredAttribute by, Object value) {}
