package io.bathra.model;

import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A to-one association: a foreign key in a column, a {@link io.bathra.link.Link} in the field. */
public final class LinkAttribute extends StoredAttribute {
    private @Nullable ModelEntity<?> target;
    private @Nullable LinksAttribute otherEnd;

    LinkAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            String column,
            boolean required,
            boolean unique) {
        super(entity, name, field, slot, column, required, unique);
    }

    /** The entity that it leads to. */
    public ModelEntity<?> target() {
        return Objects.requireNonNull(target);
    }

    /** The to-many side of the association, where one is declared. */
    public @Nullable LinksAttribute otherEnd() {
        return otherEnd;
    }

    @Override
    public ColumnType type() {
        return target().key().type();
    }

    /** The holder in the field of this object. */
    public Object holder(Object object) {
        return Objects.requireNonNull(get(object), () -> this + " is null; initialize it with Link.empty()");
    }

    /** Entities refer to one another, so the model connects them when all are made. */
    void connect(ModelEntity<?> newTarget) {
        target = newTarget;
    }

    void connect(LinksAttribute newOtherEnd) {
        otherEnd = newOtherEnd;
    }
}
