package io.bathra.mapping;

import io.bathra.access.Doors;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A many-to-many association over a pivot: a {@link io.bathra.link.Links} in the field, a table with a row for each
 * pair.
 */
public final class PivotAttribute extends Attribute implements ToMany {
    /** Room between the positions of an ordered pivot, so that something can be put in. */
    public static final long GAP = 1000;

    private final int slot;
    private final boolean cascades;
    private @Nullable Pivot pivot;
    private boolean declaring;
    private @Nullable PivotAttribute otherSide;

    /**
     * The table behind it.
     *
     * @param rows its rows: a link to each side, and the order where there is one
     * @param near the link to the side that declares the pivot
     * @param far the link to the other side
     * @param order the column that keeps the order; null for none
     * @param ownKey whether the rows have a key of their own besides the pair
     */
    public record Pivot(
            ModelEntity<HiddenRow> rows,
            LinkAttribute near,
            LinkAttribute far,
            @Nullable ColumnAttribute order,
            boolean ownKey) {}

    public PivotAttribute(ModelEntity<?> entity, String name, FieldAccess field, int slot, boolean cascades) {
        super(entity, name, field);
        this.slot = slot;
        this.cascades = cascades;
    }

    @Override
    public int slot() {
        return slot;
    }

    public Pivot pivot() {
        return Objects.requireNonNull(pivot);
    }

    public boolean isConnected() {
        return pivot != null;
    }

    /** Whether the pivot is declared on this side. */
    public boolean isDeclaring() {
        return declaring;
    }

    /** The link from the pivot's rows to this side. */
    public LinkAttribute near() {
        return declaring ? pivot().near() : pivot().far();
    }

    /** The link from the pivot's rows to the elements. */
    public LinkAttribute far() {
        return declaring ? pivot().far() : pivot().near();
    }

    /** The column that keeps the order of the elements on this side; null where there is none. */
    public @Nullable ColumnAttribute order() {
        return declaring ? pivot().order() : null;
    }

    /** The same association in the entity at the other end, where it is declared there too. */
    public @Nullable PivotAttribute otherSide() {
        return otherSide;
    }

    @Override
    public ModelEntity<?> target() {
        return far().target();
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

    public void connect(Pivot newPivot, boolean isDeclaring, @Nullable PivotAttribute newOtherSide) {
        pivot = newPivot;
        declaring = isDeclaring;
        otherSide = newOtherSide;
    }
}
