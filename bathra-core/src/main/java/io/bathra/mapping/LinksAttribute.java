package io.bathra.mapping;

import io.bathra.access.Doors;
import io.bathra.question.SortKey;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A to-many association, the other side of a link: no column here, a {@link io.bathra.link.Links} in the field. */
public final class LinksAttribute extends Attribute implements ToMany, OtherSide {
    private final int slot;
    private final boolean cascades;
    private final boolean removesOrphans;
    private final List<SortKey> orderings;
    private @Nullable LinkAttribute otherEnd;

    public LinksAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            boolean cascades,
            boolean removesOrphans,
            List<SortKey> orderings) {
        super(entity, name, field);
        this.slot = slot;
        this.cascades = cascades;
        this.removesOrphans = removesOrphans;
        this.orderings = List.copyOf(orderings);
    }

    @Override
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
        return Doors.links().present(holder(object));
    }

    @Override
    public Object holder(Object object) {
        return Objects.requireNonNull(get(object), () -> this + " is null; initialize it with Links.empty()");
    }

    @Override
    public boolean cascades() {
        return cascades;
    }

    /** Whether an element that is taken out is removed. */
    boolean removesOrphans() {
        return removesOrphans;
    }

    /** The order in which the elements are read; none for that of their keys. */
    public List<SortKey> orderings() {
        return orderings;
    }

    public void connect(LinkAttribute newOtherEnd) {
        otherEnd = newOtherEnd;
    }
}
