package io.bathra.mapping;

import io.bathra.access.Accessor;
import io.bathra.error.BathraException;
import java.util.Collection;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Finds the attributes of an entity by accessors and names. */
final class AttributeNames {
    private final ModelEntity<?> entity;
    private final Map<String, Attribute> attributes = new LinkedHashMap<>();

    AttributeNames(ModelEntity<?> entity) {
        this.entity = entity;
    }

    void add(List<Attribute> all) {
        all.forEach(attribute -> attributes.put(attribute.name(), attribute));
    }

    Collection<Attribute> all() {
        return Collections.unmodifiableCollection(attributes.values());
    }

    Attribute named(Accessor accessor) {
        Attribute found = attributes.get(accessor.property());
        if (found == null) {
            found = attributes.get(accessor.beanProperty());
        }
        if (found == null || !accessor.owner().isAssignableFrom(entity.type())) {
            throw new BathraException(
                    accessor + " names no attribute of " + entity + "; it has " + attributes.keySet());
        }
        return found;
    }

    Attribute named(String name) {
        Attribute found = attributes.get(name);
        if (found == null) {
            throw new BathraException(
                    "'" + name + "' names no attribute of " + entity + "; it has " + attributes.keySet());
        }
        return found;
    }

    Optional<Attribute> ifAny(String name) {
        return Optional.ofNullable(attributes.get(name));
    }

    StoredColumn column(List<Accessor> way) {
        Attribute attribute = named(way.get(0));
        List<Accessor> inside = way.subList(1, way.size());
        @Nullable StoredColumn found = null;
        if (attribute instanceof ColumnAttribute column && column.isInline()) {
            found = column.inside(inside);
        } else if (attribute instanceof StoredAttribute stored
                && inside.isEmpty()
                && stored.columns().size() == 1) {
            found = stored.columns().get(0);
        }
        if (found == null) {
            throw new BathraException(way + " names no single column of " + entity + "; name one of "
                    + entity.columns().stream().map(StoredColumn::label).toList());
        }
        return found;
    }
}
