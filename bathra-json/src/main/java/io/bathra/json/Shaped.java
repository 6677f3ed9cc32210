package io.bathra.json;

import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Entities and the shape in which they are to be written: what a controller returns, say. */
public final class Shaped {
    private final JsonShape<?> shape;
    private final @Nullable Object one;
    private final @Nullable Iterable<?> all;

    private Shaped(JsonShape<?> shape, @Nullable Object one, @Nullable Iterable<?> all) {
        this.shape = shape;
        this.one = one;
        this.all = all;
    }

    static Shaped one(JsonShape<?> shape, Object entity) {
        return new Shaped(shape, Objects.requireNonNull(entity, "entity"), null);
    }

    static Shaped all(JsonShape<?> shape, Iterable<?> entities) {
        return new Shaped(shape, null, Objects.requireNonNull(entities, "entities"));
    }

    JsonShape<?> shape() {
        return shape;
    }

    /** The entity; null where there is a list. */
    @Nullable
    Object one() {
        return one;
    }

    /** The entities of a list. */
    Iterable<?> all() {
        return Objects.requireNonNull(all);
    }
}
