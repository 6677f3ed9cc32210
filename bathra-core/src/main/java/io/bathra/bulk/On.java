package io.bathra.bulk;

import io.bathra.attr.Attr;
import io.bathra.error.BathraException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * The attributes that tell whether a row is there: those of a unique constraint, or of the primary key.
 *
 * @param <E> the entity
 */
public final class On<E> {
    static {
        Door.leave();
    }

    private final Names names;

    private On(Names names) {
        this.names = names;
    }

    /**
     * {@return one attribute, or several that are unique together}
     *
     * @param <E> the entity
     * @param first the first one
     * @param more further ones
     */
    @SafeVarargs
    @SuppressWarnings("varargs") // the array is only read
    public static <E> On<E> on(Attr<? super E, ?> first, Attr<? super E, ?>... more) {
        return new On<>(Names.of(first, List.of(more)));
    }

    /**
     * {@return the same for tools, which learn names at run time}
     *
     * @param <E> the entity
     * @param attributes the attributes, by their accessors
     */
    public static <E> On<E> named(List<String> attributes) {
        return new On<>(Names.of(attributes));
    }

    /**
     * The unique key of these attributes.
     *
     * @throws BathraException when the model has none
     */
    UniqueKey keyOf(ModelEntity<?> entity) {
        Set<Attribute> wanted = Set.copyOf(names.in(entity));
        return entity.uniqueKeys().stream()
                .filter(key -> Set.<Attribute>copyOf(key.attributes()).equals(wanted))
                .findFirst()
                .orElseThrow(() -> new BathraException("no unique constraint of " + entity.name()
                        + " is on exactly " + names(List.copyOf(wanted)) + "; it has "
                        + entity.uniqueKeys().stream()
                                .map(key -> names(key.attributes()))
                                .collect(Collectors.joining(", "))
                        + "; name the attributes of one of these, or declare unique(...)"));
    }

    static String names(List<? extends Attribute> attributes) {
        return attributes.stream().map(Attribute::name).sorted().collect(Collectors.joining("+"));
    }

    /** The single attribute; its entity need not be known. */
    StoredAttribute single(ModelEntity<?> entity) {
        UniqueKey key = keyOf(entity);
        if (key.attributes().size() != 1) {
            throw new BathraException(names(key.attributes()) + " of " + entity.name()
                    + " are several attributes; name one that is unique by itself");
        }
        return key.attributes().get(0);
    }
}
