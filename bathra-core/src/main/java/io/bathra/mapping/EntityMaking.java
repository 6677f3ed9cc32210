package io.bathra.mapping;

import java.util.List;
import java.util.function.Supplier;

/**
 * What makes an entity: whoever assembles a model does it step by step, since entities refer to one another. Nobody
 * else changes an entity.
 */
public final class EntityMaking {
    private EntityMaking() {}

    /**
     * An entity of which no more is known.
     *
     * @param name the class's simple name; for parts and pivots, the attribute that they are behind
     * @param position its place in the model's declaration
     */
    public static <E> ModelEntity<E> begin(
            Class<E> type,
            String name,
            ModelEntity.Kind kind,
            Supplier<? extends E> constructor,
            String table,
            int position) {
        return new ModelEntity<>(type, name, kind, constructor, table, position);
    }

    /** Gives an entity its attributes, those of the key first, and its rules; once. */
    public static void complete(
            ModelEntity<?> entity, KeySource source, int keyAttributes, List<Attribute> all, Rules rules) {
        entity.complete(source, keyAttributes, all, rules);
    }

    /** All links of an entity have their columns. */
    public static void columnsAreKnown(ModelEntity<?> entity) {
        entity.columnsAreKnown();
    }

    /** The elements of a pivot are of an entity. */
    public static void pivotLeads(ModelEntity<?> target, PivotAttribute pivot) {
        target.pivotLeadsHere(pivot);
    }

    /** The rows of an entity are those of a pivot. */
    public static void isBehind(ModelEntity<?> rows, PivotAttribute.Pivot pivot) {
        rows.isBehind(pivot);
    }
}
