package io.bathra.schema;

import io.bathra.model.ModelEntity;
import io.bathra.query.Condition;

/** A check constraint, by its name, and the condition on an entity's columns that it keeps. */
public record Check(String name, ModelEntity<?> entity, Condition<?> condition) {}
