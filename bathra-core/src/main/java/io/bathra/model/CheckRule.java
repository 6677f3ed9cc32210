package io.bathra.model;

import io.bathra.query.Condition;
import org.jspecify.annotations.Nullable;

/** A check that is declared, by its name, where one was given, and what it demands. */
public record CheckRule(@Nullable String name, Condition<?> condition) {}
