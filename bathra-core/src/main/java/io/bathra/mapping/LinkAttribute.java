package io.bathra.mapping;

import io.bathra.access.Doors;
import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.attr.Naming;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A to-one association: a foreign key in the table, a {@link io.bathra.link.Link} in the field. */
public final class LinkAttribute extends StoredAttribute {
    private final @Nullable String columnName;
    private final Naming naming;
    private List<StoredColumn> columns = List.of();
    private @Nullable ModelEntity<?> target;
    private @Nullable OtherSide otherSide;
    private final Ends ends;

    /**
     * How a link is kept.
     *
     * @param onDelete what happens to its row when the target is deleted
     * @param enforcer who sees to that
     * @param cascades whether a new target is stored along with its owner
     * @param unique whether no two rows lead to the same target
     * @param deferrable whether its foreign key may be checked late
     */
    public record Ends(DeleteRule onDelete, Enforcer enforcer, boolean cascades, boolean unique, boolean deferrable) {
        public static final Ends PLAIN = of(DeleteRule.RESTRICT);
        /** A row that goes with its target. */
        public static final Ends OWNED = of(DeleteRule.CASCADE);

        public static Ends of(DeleteRule onDelete) {
            return new Ends(onDelete, Enforcer.DATABASE, true, false, false);
        }
    }

    public LinkAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            @Nullable String columnName,
            Naming naming,
            boolean required,
            Ends ends) {
        super(entity, name, field, slot, required);
        this.ends = ends;
        this.columnName = columnName;
        this.naming = naming;
    }

    /** The entity that it leads to. */
    @Override
    public ModelEntity<?> target() {
        return Objects.requireNonNull(target);
    }

    public boolean isConnected() {
        return target != null;
    }

    /** The other side of the association, where it is declared. */
    public @Nullable OtherSide otherSide() {
        return otherSide;
    }

    /** What happens to its row when the target is deleted. */
    public DeleteRule onDelete() {
        return ends.onDelete();
    }

    /** Who carries that out. */
    public Enforcer enforcer() {
        return ends.enforcer();
    }

    /** What the foreign key says of that. */
    public DeleteRule ruleInDatabase() {
        return ends.enforcer() == Enforcer.DATABASE ? ends.onDelete() : DeleteRule.RESTRICT;
    }

    /** Whether a row that leads nowhere any more is to be removed. */
    public boolean removesOrphans() {
        return otherSide instanceof LinksAttribute many && many.removesOrphans();
    }

    @Override
    public boolean isDeferrable() {
        return ends.deferrable();
    }

    /** Whether a new target is stored along with its owner. */
    public boolean cascades() {
        return ends.cascades();
    }

    /** Whether no two rows lead to the same target, so that the association is one-to-one. */
    public boolean isUnique() {
        return ends.unique();
    }

    @Override
    public boolean isLink() {
        return true;
    }

    @Override
    public @Nullable Object kept(@Nullable Object value) {
        return value;
    }

    @Override
    public boolean same(@Nullable Object kept, @Nullable Object value) {
        return Objects.equals(kept, value);
    }

    @Override
    public @Nullable Object storedOf(Object object) {
        Object holder = holder(object);
        Object there = Doors.link().target(holder);
        return there == null ? Doors.link().unreadKey(holder) : target().keyOf(there);
    }

    @Override
    public List<Object> present(Object object) {
        Object there = Doors.link().target(holder(object));
        return there == null ? List.of() : List.of(there);
    }

    @Override
    public Shape shape() {
        return target().keyShape();
    }

    @Override
    public List<StoredColumn> columns() {
        return columns;
    }

    /** The holder in the field of this object. */
    public Object holder(Object object) {
        return Objects.requireNonNull(get(object), () -> this + " is null; initialize it with Link.empty()");
    }

    /** Entities refer to one another, so the model connects them when all are made. */
    public void connect(ModelEntity<?> newTarget) {
        target = newTarget;
    }

    public void connect(OtherSide newOtherSide) {
        otherSide = newOtherSide;
    }

    /** Names the columns, once those of the target's key are known. */
    public void nameColumns() {
        List<StoredColumn> keyColumns = target().keyColumns();
        List<StoredColumn> all = new ArrayList<>();
        for (int part = 0; part < keyColumns.size(); part++) {
            String name = keyColumns.size() == 1
                    ? Objects.requireNonNullElseGet(columnName, () -> naming.inSql(name() + "Id"))
                    : Objects.requireNonNullElseGet(columnName, () -> naming.inSql(name())) + "_"
                            + keyColumns.get(part).name();
            StoredColumn key = keyColumns.get(part);
            all.add(new StoredColumn(this, part, "", name, key.gate(), required(), required()));
        }
        columns = List.copyOf(all);
    }
}
