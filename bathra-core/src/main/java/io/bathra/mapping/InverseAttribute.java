package io.bathra.mapping;

import io.bathra.access.Doors;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The side of a one-to-one association that does not hold the foreign key: a {@link io.bathra.link.Link} in the field.
 */
public final class InverseAttribute extends Attribute implements OtherSide {
    private final int slot;
    private @Nullable LinkAttribute otherEnd;

    public InverseAttribute(ModelEntity<?> entity, String name, FieldAccess field, int slot) {
        super(entity, name, field);
        this.slot = slot;
    }

    /** Its place among the associations of its entity, behind those of the stored attributes. */
    public int slot() {
        return slot;
    }

    @Override
    public LinkAttribute otherEnd() {
        return Objects.requireNonNull(otherEnd);
    }

    @Override
    public ModelEntity<?> target() {
        return otherEnd().entity();
    }

    @Override
    public List<Object> present(Object object) {
        Object there = Doors.link().target(holder(object));
        return there == null ? List.of() : List.of(there);
    }

    @Override
    public Object holder(Object object) {
        return Objects.requireNonNull(get(object), () -> this + " is null; initialize it with Link.empty()");
    }

    public void connect(LinkAttribute newOtherEnd) {
        otherEnd = newOtherEnd;
    }
}
