package io.bathra.bulk;

import io.bathra.attr.Accessor;
import io.bathra.attr.Attr;
import io.bathra.error.BathraException;
import io.bathra.model.Attribute;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import java.util.ArrayList;
import java.util.List;

/**
 * The attributes that rows which are there are given.
 *
 * @param <E> the entity
 */
public final class Overwrite<E> {
    private final List<Accessor> accessors;

    private Overwrite(List<Accessor> accessors) {
        this.accessors = List.copyOf(accessors);
    }

    /** These attributes; all others stay as they are. */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> Overwrite<E> overwrite(Attr<? super E, ?> first, Attr<? super E, ?>... more) {
        List<Accessor> accessors = new ArrayList<>(List.of(Accessor.of(first)));
        for (Attr<? super E, ?> attr : more) {
            accessors.add(Accessor.of(attr));
        }
        return new Overwrite<>(accessors);
    }

    /** All attributes that the rows give, but those that tell which row is meant. */
    public static <E> Overwrite<E> overwriteAll() {
        return new Overwrite<>(List.of());
    }

    /** The attributes, among those that the rows give. */
    List<StoredAttribute> among(ModelEntity<?> entity, List<StoredAttribute> given, List<StoredAttribute> key) {
        List<StoredAttribute> overwritten = new ArrayList<>();
        if (accessors.isEmpty()) {
            for (StoredAttribute attribute : given) {
                boolean stamp = entity.insertStamps().contains(attribute)
                        || entity.updateStamps().contains(attribute);
                if (!attribute.isKey() && !key.contains(attribute) && !attribute.isManaged() && !stamp) {
                    overwritten.add(attribute);
                }
            }
            return overwritten;
        }
        for (Accessor accessor : accessors) {
            Attribute attribute = entity.attribute(accessor);
            if (!(attribute instanceof StoredAttribute stored)) {
                throw new BathraException(attribute + " has no column, so it cannot be overwritten; leave it out");
            }
            if (stored.isKey() || stored.isManaged() || key.contains(stored)) {
                throw new BathraException(
                        attribute + " tells which row is meant, or is kept by the library, so it is not"
                                + " overwritten; leave it out");
            }
            if (!given.contains(stored)) {
                throw new BathraException(attribute
                        + " is to be overwritten, but the rows give no value for it; leave it out, or give it");
            }
            overwritten.add(stored);
        }
        return overwritten;
    }
}
