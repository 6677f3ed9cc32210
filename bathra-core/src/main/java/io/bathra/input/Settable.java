package io.bathra.input;

import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * The attributes of an entity that may be set from outside. Immutable.
 *
 * @param all whatever may be set
 * @param stored those of them with columns
 * @param parts those of them that are collections of parts
 */
public record Settable(
        ModelEntity<?> entity, Set<Attribute> all, List<StoredAttribute> stored, List<PartsAttribute> parts) {
    /** Some attributes. */
    public static Settable of(ModelEntity<?> entity, Collection<? extends Attribute> attributes) {
        List<StoredAttribute> stored = new ArrayList<>();
        List<PartsAttribute> parts = new ArrayList<>();
        for (Attribute attribute : attributes) {
            if (attribute instanceof StoredAttribute one) {
                stored.add(one);
            } else if (attribute instanceof PartsAttribute collection) {
                parts.add(collection);
            }
        }
        return new Settable(entity, new HashSet<>(attributes), stored, parts);
    }
}
