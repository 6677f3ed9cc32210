package io.bathra.model;

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
    private @Nullable LinksAttribute otherEnd;

    LinkAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            @Nullable String columnName,
            Naming naming,
            boolean required) {
        super(entity, name, field, slot, required);
        this.columnName = columnName;
        this.naming = naming;
    }

    /** The entity that it leads to. */
    public ModelEntity<?> target() {
        return Objects.requireNonNull(target);
    }

    boolean isConnected() {
        return target != null;
    }

    /** The to-many side of the association, where one is declared. */
    public @Nullable LinksAttribute otherEnd() {
        return otherEnd;
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
    void connect(ModelEntity<?> newTarget) {
        target = newTarget;
    }

    void connect(LinksAttribute newOtherEnd) {
        otherEnd = newOtherEnd;
    }

    /** Names the columns, once those of the target's key are known. */
    void nameColumns() {
        List<StoredColumn> keyColumns = target().keyColumns();
        List<StoredColumn> all = new ArrayList<>();
        for (int part = 0; part < keyColumns.size(); part++) {
            String name = keyColumns.size() == 1
                    ? Objects.requireNonNullElseGet(columnName, () -> naming.inSql(name() + "Id"))
                    : Objects.requireNonNullElseGet(columnName, () -> naming.inSql(name())) + "_"
                            + keyColumns.get(part).name();
            all.add(new StoredColumn(this, part, name, keyColumns.get(part).type()));
        }
        columns = List.copyOf(all);
    }
}
