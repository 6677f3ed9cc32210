package io.bathra.schema;

import io.bathra.access.Accessor;
import io.bathra.question.Path;
import java.util.List;

/** The way to a field by its name alone, since the classes that it once was in may be gone. */
public final class FieldPath {
    private FieldPath() {}

    /** The path of a field. */
    public static Path of(String field) {
        return new Path(List.of(new Accessor(Field.class, field)));
    }

    /** The field that such a path names. */
    public static String name(Path path) {
        return path.steps().get(0).property();
    }
}
