package io.bathra.examples.web;

import org.jspecify.annotations.Nullable;

/**
 * What is wrong with a field of a form.
 *
 * @param field its name
 * @param value what was typed
 * @param reason in words for whoever has typed it
 */
record FieldProblem(String field, @Nullable String value, String reason) {}
