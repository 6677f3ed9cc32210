package io.bathra.model;

import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A to-many association, the other side of a link: no column here, a {@link io.bathra.link.Links} in the field. */
public final class LinksAttribute extends Attribute {
    private final int slot;
    private @Nullable LinkAttribute otherEnd;

    LinksAttribute(ModelEntity<?> entity, String name, FieldAccess field, int slot) {
        super(entity, name, field);
        this.slot = slot;
    }

    /** Its place among the associations of its entity. */
    public int slot() {
        return slot;
    }

    /** The link that holds the foreign key. */
    public LinkAttribute otherEnd() {
        return Objects.requireNonNull(otherEnd);
    }

    /** The entity of the elements. */
    public ModelEntity<?> target() {
        return otherEnd().entity();
    }

    /** The holder in the field of this object. */
    public Object holder(Object object) {
        return Objects.requireNonNull(get(object), () -> this + " is null; initialize it with Links.empty()");
    }

    void connect(LinkAttribute newOtherEnd) {
        otherEnd = newOtherEnd;
    }
}
