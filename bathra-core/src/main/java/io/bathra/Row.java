package io.bathra;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import io.bathra.error.BathraException;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.flush.Unit;
import io.bathra.link.Link;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.read.KeyFinder;
import io.bathra.track.Entry;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A handle to a row by its key. It reads nothing and is no entity; what it is told is written by the next flush of its
 * unit of work, and shown by {@code plan()} and {@code changes()}.
 *
 * <pre>{@code
 * work.row(Vessel.class, 7L).set(Vessel::name, "Northern Dawn").link(Vessel::operator, 3L).expectVersion(4);
 * }</pre>
 *
 * <p>Where the unit of work has read the row, the handle changes the entity.
 *
 * @param <E> the entity
 */
public final class Row<E> {
    private final Unit unit;
    private final ModelEntity<E> entity;
    private final Object key;

    Row(Unit unit, ModelEntity<E> entity, Object key) {
        this.unit = unit;
        this.entity = entity;
        this.key = key;
    }

    /**
     * Gives an attribute another value.
     *
     * @param value of the attribute's type; null takes it away
     * @param <V> the attribute's type
     * @param attribute the attribute, by its accessor
     * @return this row
     * @throws IllegalArgumentException when the value is of another type, or the attribute none that can be set
     */
    public <V> Row<E> set(Attr<? super E, V> attribute, @Nullable V value) {
        unit.check();
        Attribute named = entity.attribute(Accessor.of(attribute));
        if (!(named instanceof ColumnAttribute column) || column.isKey() || column == entity.version()) {
            throw new IllegalArgumentException(named
                    + " cannot be set by a handle to the row; a column can, a link with"
                    + " link(...), anything else by way of the entity: require(" + entity.name() + ".class, key)");
        }
        Object stored;
        try {
            stored = value == null ? null : column.toStored(value);
        } catch (BathraException e) {
            throw new IllegalArgumentException(e.getMessage(), e);
        }
        String mismatch = stored != null
                ? column.isInline() ? null : column.shape().mismatch(stored)
                : column.primitive() ? "must be there, since the field is of a primitive type" : null;
        if (mismatch != null) {
            throw new IllegalArgumentException("the value of " + column + " " + mismatch);
        }
        Entry<?> read = read();
        if (read == null) {
            unit.tracker().loose().of(entity, key).set(column, stored);
        } else {
            unit.tracker().loader().give(read, column, stored);
        }
        return this;
    }

    /**
     * Points a link to the row with a key.
     *
     * @param target a key of the link's target; null for none
     * @param link the link, by its accessor
     * @return this row
     * @throws IllegalArgumentException when it is of another type than the target's key
     */
    public Row<E> link(Attr<? super E, ? extends Link<?>> link, @Nullable Object target) {
        unit.check();
        Attribute named = entity.attribute(Accessor.of(link));
        if (!(named instanceof LinkAttribute stored) || stored.isKey()) {
            throw new IllegalArgumentException(
                    named + " has no foreign key in this row that could be set; point the other side here");
        }
        Object key = target == null ? null : KeyFinder.key(stored.target(), target);
        Entry<?> read = read();
        if (read == null) {
            unit.tracker().loose().of(entity, this.key).link(stored, key);
        } else {
            unit.tracker().loader().pointTo(read, stored, key);
        }
        return this;
    }

    /**
     * Makes the flush fail when the row has another version by then. Without it, any version will do.
     *
     * @param version the version that is expected
     * @return this row
     * @throws ConcurrentChangeException when the unit of work has read another version already
     */
    public Row<E> expectVersion(long version) {
        unit.check();
        ColumnAttribute attribute = entity.version();
        if (attribute == null) {
            throw new BathraException(entity.name() + " has no version, so none can be expected");
        }
        Entry<?> read = read();
        Object there = read == null ? null : read.before(attribute);
        if (there instanceof Number number && number.longValue() != version) {
            throw new ConcurrentChangeException(
                    "expect a version of",
                    List.of(read + " (version " + version + " was expected, but it has " + there + " now)"),
                    List.of());
        }
        if (read == null) {
            unit.tracker().loose().of(entity, key).expectVersion(attribute.number(version));
        }
        return this;
    }

    /** Removes the row. */
    public void remove() {
        unit.check();
        Entry<?> read = read();
        if (read == null) {
            unit.tracker().loose().of(entity, key).remove();
        } else {
            unit.tracker().remove(read.object());
        }
    }

    private @Nullable Entry<?> read() {
        return unit.tracker().entry(entity, key);
    }

    /** The row in words: {@code Vessel 7}. */
    @Override
    public String toString() {
        return entity.describe(key);
    }
}
