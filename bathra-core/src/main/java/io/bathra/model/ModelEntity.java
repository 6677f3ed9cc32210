package io.bathra.model;

import io.bathra.attr.Accessor;
import io.bathra.error.BathraException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * An entity as the model has understood it: what was declared and what convention added.
 *
 * @param <E> the entity class
 */
public final class ModelEntity<E> {
    private final Class<E> type;
    private final Supplier<? extends E> constructor;
    private final String table;
    private final int position;
    private final Map<String, Attribute> attributes = new LinkedHashMap<>();
    private List<StoredAttribute> stored = List.of();
    private List<LinkAttribute> linkAttributes = List.of();
    private List<LinksAttribute> linksAttributes = List.of();
    private @Nullable ColumnAttribute key;
    private @Nullable KeySource keySource;

    ModelEntity(Class<E> type, Supplier<? extends E> constructor, String table, int position) {
        this.type = type;
        this.constructor = constructor;
        this.table = table;
        this.position = position;
    }

    /** Called once by the model while it is made; the key is the first of the stored attributes. */
    void complete(KeySource source, List<Attribute> all) {
        all.forEach(attribute -> attributes.put(attribute.name(), attribute));
        stored = pick(all, StoredAttribute.class);
        linkAttributes = pick(all, LinkAttribute.class);
        linksAttributes = pick(all, LinksAttribute.class);
        key = (ColumnAttribute) stored.get(0);
        keySource = source;
    }

    private static <A> List<A> pick(List<Attribute> all, Class<A> kind) {
        List<A> picked = new ArrayList<>();
        all.stream().filter(kind::isInstance).map(kind::cast).forEach(picked::add);
        return List.copyOf(picked);
    }

    public Class<E> type() {
        return type;
    }

    /** The class's simple name. */
    public String name() {
        return type.getSimpleName();
    }

    /** The table's name, unquoted. */
    public String table() {
        return table;
    }

    /** Its place in the model's declaration. */
    public int position() {
        return position;
    }

    public ColumnAttribute key() {
        return Objects.requireNonNull(key);
    }

    public KeySource keySource() {
        return Objects.requireNonNull(keySource);
    }

    /** The attributes with a column, in the order of the columns; the key comes first. */
    public List<StoredAttribute> stored() {
        return stored;
    }

    public List<LinkAttribute> links() {
        return linkAttributes;
    }

    public List<LinksAttribute> toManys() {
        return linksAttributes;
    }

    /** A new, empty object. */
    public E instantiate() {
        return Objects.requireNonNull(
                constructor.get(), () -> "the constructor given for " + name() + " returned null");
    }

    /** The key that an object carries: null while a generated key has not been drawn, 0 counting as none. */
    public @Nullable Object keyOf(Object object) {
        Object value = key().get(object);
        boolean unset = key().primitive() && value instanceof Number number && number.longValue() == 0;
        return unset && keySource == KeySource.GENERATED ? null : value;
    }

    /** Takes a drawn key back from an object. */
    public void clearKey(Object object) {
        key().set(object, key().primitive() ? zero() : null);
    }

    private Object zero() {
        return key().type().kind() == ColumnType.Kind.INTEGER ? (Object) 0 : (Object) 0L;
    }

    /**
     * The attribute that an accessor names.
     *
     * @throws BathraException when this entity has none such
     */
    public Attribute attribute(Accessor accessor) {
        Attribute found = attributes.get(accessor.property());
        if (found == null) {
            found = attributes.get(accessor.beanProperty());
        }
        if (found == null || !accessor.owner().isAssignableFrom(type)) {
            throw new BathraException(
                    accessor + " names no attribute of " + name() + "; it has " + attributes.keySet());
        }
        return found;
    }

    /** A row of this entity in words: {@code Vessel 7}. */
    public String describe(@Nullable Object keyValue) {
        return name() + " " + keyValue;
    }

    @Override
    public String toString() {
        return name();
    }
}
