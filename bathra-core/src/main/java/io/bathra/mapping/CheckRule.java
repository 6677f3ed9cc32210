package io.bathra.mapping;

import io.bathra.question.SearchCondition;
import org.jspecify.annotations.Nullable;

/** A check that is declared, by its name, where one was given, and what it demands. */
public record CheckRule(@Nullable String name, SearchCondition condition) {}
