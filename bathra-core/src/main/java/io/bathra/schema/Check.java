package io.bathra.schema;

import io.bathra.mapping.ModelEntity;
import io.bathra.question.SearchCondition;

/** A check constraint, by its name, and the condition on an entity's columns that it keeps. */
public record Check(String name, ModelEntity<?> entity, SearchCondition condition) {}
