package io.bathra.mapping;

import io.bathra.link.Link;
import java.util.AbstractMap.SimpleEntry;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A collection that lives and dies with its owner: a list, set or map in the field, a table with a row for each part.
 */
public final class PartsAttribute extends Attribute {
    /** What the parts are kept in. */
    public enum Kind {
        LIST,
        SET,
        MAP
    }

    /**
     * The table behind it.
     *
     * @param rows its rows
     * @param owner the link to the owner
     * @param order the column that keeps the order of a list; null otherwise
     * @param key the key of a map; null otherwise
     * @param element the part, without its links
     */
    public record Parts(
            ModelEntity<HiddenRow> rows,
            LinkAttribute owner,
            @Nullable ColumnAttribute order,
            @Nullable ColumnAttribute key,
            ColumnAttribute element) {
        /** The links inside the parts. */
        public List<LinkAttribute> memberLinks() {
            return rows.links().stream().filter(link -> link != owner).toList();
        }
    }

    private final Kind kind;
    private final boolean fixed;
    private boolean simple;
    private @Nullable Parts parts;

    /**
     * @param fixed whether the field always holds the same collection
     */
    public PartsAttribute(ModelEntity<?> entity, String name, FieldAccess field, Kind kind, boolean fixed) {
        super(entity, name, field);
        this.kind = kind;
        this.fixed = fixed;
    }

    public Kind kind() {
        return kind;
    }

    public Parts parts() {
        return Objects.requireNonNull(parts);
    }

    public void connect(Parts newParts) {
        parts = newParts;
        simple = !newParts.element().isInline();
    }

    /** What is inside parts is taken for secret when anything in them is. */
    @Override
    public boolean isSecret() {
        return parts().rows().stored().stream().anyMatch(StoredAttribute::isSecret);
    }

    /** The parts of an owner as they are now: elements, or the entries of a map. */
    public List<@Nullable Object> now(Object owner) {
        Object value = get(owner);
        if (value == null) {
            return List.of();
        }
        return new ArrayList<>(value instanceof Map<?, ?> map ? map.entrySet() : (Collection<?>) value);
    }

    /** A row for one of the {@link #now} parts. */
    public HiddenRow row(Object owner, @Nullable Object part, @Nullable Long position) {
        HiddenRow row = parts().rows().instantiate();
        setOwner(row, owner);
        put(row, part, position);
        return row;
    }

    /** Gives a row its owner. */
    public void setOwner(HiddenRow row, Object owner) {
        row.set(parts().owner().slot(), Link.to(owner));
    }

    /** Gives a row another part. */
    public void put(HiddenRow row, @Nullable Object part, @Nullable Long position) {
        Map.Entry<?, ?> entry = part instanceof Map.Entry<?, ?> one && kind == Kind.MAP ? one : null;
        row.set(parts().element().slot(), entry == null ? part : entry.getValue());
        if (parts().key() != null && entry != null) {
            row.set(parts().key().slot(), entry.getKey());
        }
        if (parts().order() != null) {
            row.set(parts().order().slot(), position);
        }
    }

    /** The element in a row; of a map's entry, the value. */
    public @Nullable Object element(HiddenRow row) {
        return row.get(parts().element().slot());
    }

    /** The element in one of the {@link #now} parts. */
    public @Nullable Object elementOf(@Nullable Object part) {
        return kind == Kind.MAP && part instanceof Map.Entry<?, ?> entry ? entry.getValue() : part;
    }

    /** Whether a row holds this very part, so that no closer look is needed. */
    public boolean holds(HiddenRow row, @Nullable Object part) {
        ColumnAttribute key = parts().key();
        boolean sameKey = key == null
                || (part instanceof Map.Entry<?, ?> entry && Objects.equals(row.get(key.slot()), entry.getKey()));
        Object held = element(row);
        Object given = elementOf(part);
        return sameKey && (held == given || (simple && Objects.equals(held, given)));
    }

    /** The part in a row, as {@link #now} would give it. */
    public @Nullable Object part(HiddenRow row) {
        ColumnAttribute key = parts().key();
        return key == null ? element(row) : new SimpleEntry<>(row.get(key.slot()), element(row));
    }

    /** Where a row stands in a list; null elsewhere. */
    public @Nullable Long position(HiddenRow row) {
        ColumnAttribute order = parts().order();
        return order == null ? null : (Long) row.get(order.slot());
    }

    /**
     * Makes the collection hold exactly the parts of these rows, in their order; it stays the same, unless it takes
     * nothing.
     */
    public void fill(Object owner, List<HiddenRow> rows) {
        Object held = get(owner);
        if (held != null) {
            try {
                pour(rows, held);
                return;
            } catch (UnsupportedOperationException e) {
                if (fixed) {
                    throw e;
                } // a constant takes nothing: another collection stands in its place
            }
        }
        Object fresh = kind == Kind.MAP
                ? new LinkedHashMap<>()
                : kind == Kind.LIST ? new ArrayList<>() : new LinkedHashSet<>();
        pour(rows, fresh);
        set(owner, fresh);
    }

    @SuppressWarnings("unchecked") // the model has checked the field's type
    private void pour(List<HiddenRow> rows, Object held) {
        if (kind == Kind.MAP) {
            Map<@Nullable Object, @Nullable Object> map = (Map<@Nullable Object, @Nullable Object>) held;
            map.clear();
            int key = Objects.requireNonNull(parts().key()).slot();
            for (HiddenRow row : rows) {
                map.put(row.get(key), element(row));
            }
            return;
        }
        Collection<@Nullable Object> collection = (Collection<@Nullable Object>) held;
        collection.clear();
        for (HiddenRow row : rows) {
            collection.add(element(row));
        }
    }

    /** That the collection can be filled is tried on an empty object of its owner. */
    public void tryCollection(Object owner) {
        Object held = get(owner);
        if (fixed && held == null) {
            throw new IllegalStateException(name() + " is final and null; initialize it with an empty collection");
        }
        if (fixed && held instanceof Map<?, ?> map) {
            map.clear();
        } else if (fixed && held instanceof Collection<?> collection) {
            collection.clear();
        }
    }
}
