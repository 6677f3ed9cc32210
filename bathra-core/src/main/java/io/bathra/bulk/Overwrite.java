package io.bathra.bulk;

import io.bathra.attr.Attr;
import io.bathra.error.BathraException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import java.util.ArrayList;
import java.util.List;

/**
 * The attributes that rows which are there are given.
 *
 * @param <E> the entity
 */
public final class Overwrite<E> {
    private final Names names;

    private Overwrite(Names names) {
        this.names = names;
    }

    /** These attributes; all others stay as they are. */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> Overwrite<E> overwrite(Attr<? super E, ?> first, Attr<? super E, ?>... more) {
        return new Overwrite<>(Names.of(first, List.of(more)));
    }

    /** The same for tools, which learn names at run time. */
    public static <E> Overwrite<E> named(List<String> attributes) {
        return new Overwrite<>(Names.of(attributes));
    }

    /** All attributes that the rows give, but those that tell which row is meant. */
    public static <E> Overwrite<E> overwriteAll() {
        return new Overwrite<>(Names.of(List.of()));
    }

    /** The attributes, among those that the rows give. */
    List<StoredAttribute> among(ModelEntity<?> entity, List<StoredAttribute> given, List<StoredAttribute> key) {
        List<StoredAttribute> overwritten = new ArrayList<>();
        List<Attribute> named = names.in(entity);
        if (named.isEmpty()) {
            for (StoredAttribute attribute : given) {
                boolean stamp = entity.insertStamps().contains(attribute)
                        || entity.updateStamps().contains(attribute);
                if (!attribute.isKey() && !key.contains(attribute) && !attribute.isManaged() && !stamp) {
                    overwritten.add(attribute);
                }
            }
            return overwritten;
        }
        for (Attribute attribute : named) {
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
