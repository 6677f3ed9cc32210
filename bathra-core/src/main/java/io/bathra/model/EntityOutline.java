package io.bathra.model;

import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * An entity as the model has understood it, what was declared and what convention added, for tools: what its table
 * holds, and how it belongs with others. Immutable.
 *
 * @param type the entity's class; of no use for what stands behind parts and pivots
 * @param name the class's simple name; for parts and pivots, the attribute that they are behind: {@code
 * Vessel.certificates}
 * @param table the table's or view's name, unquoted
 * @param kind what its rows are to the domain
 * @param key the attributes of the key, one or more
 * @param columns all columns, those of the key first; those of foreign keys among them
 * @param links associations whose foreign key lies in this table; of a pivot, first the one to the side that declares
 * it
 * @param toManys associations to many, whose foreign keys the other ends hold
 * @param pivots associations to many over a table of pairs
 * @param parts collections that live and die with the entity
 * @param unique the attributes of each unique constraint, without the primary key
 */
public record EntityOutline(
        Class<?> type,
        String name,
        String table,
        Kind kind,
        List<String> key,
        List<Column> columns,
        List<LinkTo> links,
        List<ToMany> toManys,
        List<Pivot> pivots,
        List<Parts> parts,
        List<List<String>> unique) {
    /** What the rows of a table are to the domain. */
    public enum Kind {
        /** Objects of a class. */
        ENTITY,
        /** Objects of a class that are only read. */
        VIEW,
        /** Parts, which the domain sees in a collection of their owner alone. */
        PARTS,
        /** Pairs of a pivot. */
        PIVOT
    }

    /**
     * A column.
     *
     * @param attribute the attribute that it belongs to
     * @param label the attribute and the way into it: {@code dimensions.beam}
     * @param name unquoted
     * @param type what it keeps, in words
     * @param required whether it is NOT NULL
     * @param wanted whether there must be a value here when the inlined value around it is there
     * @param key whether it is a part of the primary key
     * @param secret whether its values are kept out of messages, traces and logs
     */
    public record Column(
            String attribute,
            String label,
            String name,
            String type,
            boolean required,
            boolean wanted,
            boolean key,
            boolean secret) {}

    /**
     * An association whose foreign key lies in this table.
     *
     * @param target the name of the entity at the other end
     * @param key whether it is a part of the primary key
     * @param owner whether it leads from parts to their owner
     */
    public record LinkTo(
            String attribute,
            String target,
            boolean required,
            boolean key,
            boolean owner,
            DeleteRule onDelete,
            Enforcer enforcedBy) {}

    /**
     * An association to many whose foreign keys the other ends hold.
     *
     * @param target the name of the entity at the other end
     * @param otherEnd the link there
     */
    public record ToMany(String attribute, String target, String otherEnd) {}

    /**
     * An association to many over a table of pairs.
     *
     * @param target the name of the entity at the other end
     * @param table that of the pairs
     */
    public record Pivot(String attribute, String target, String table) {}

    /** A collection that lives and dies with the entity, in a table of its own. */
    public record Parts(String attribute, String table) {}

    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param type the entity's class; of no use for what stands behind parts and pivots
     * @param name the class's simple name; for parts and pivots, the attribute that they are behind: {@code
     *     Vessel.certificates}
     * @param table the table's or view's name, unquoted
     * @param kind what its rows are to the domain
     * @param key the attributes of the key, one or more
     * @param columns all columns, those of the key first; those of foreign keys among them
     * @param links associations whose foreign key lies in this table; of a pivot, first the one to the side that
     *     declares it
     * @param toManys associations to many, whose foreign keys the other ends hold
     * @param pivots associations to many over a table of pairs
     * @param parts collections that live and die with the entity
     * @param unique the attributes of each unique constraint, without the primary key
     */
    public EntityOutline {
        key = List.copyOf(key);
        columns = List.copyOf(columns);
        links = List.copyOf(links);
        toManys = List.copyOf(toManys);
        pivots = List.copyOf(pivots);
        parts = List.copyOf(parts);
        unique = List.copyOf(unique);
    }

    static EntityOutline of(ModelEntity<?> entity) {
        return new EntityOutline(
                entity.type(),
                entity.name(),
                entity.table(),
                Kind.valueOf(entity.kind().name()),
                names(entity.keyAttributes()),
                entity.columns().stream().map(EntityOutline::column).toList(),
                entity.links().stream().map(EntityOutline::link).toList(),
                entity.toManys().stream()
                        .map(many -> new ToMany(
                                many.name(),
                                many.target().name(),
                                many.otherEnd().name()))
                        .toList(),
                entity.pivots().stream()
                        .map(pivot -> new Pivot(
                                pivot.name(),
                                pivot.target().name(),
                                pivot.pivot().rows().table()))
                        .toList(),
                entity.parts().stream()
                        .map(parts ->
                                new Parts(parts.name(), parts.parts().rows().table()))
                        .toList(),
                entity.uniqueKeys().stream()
                        .filter(key -> !key.primary())
                        .map(UniqueKey::attributes)
                        .map(EntityOutline::names)
                        .toList());
    }

    private static List<String> names(List<StoredAttribute> attributes) {
        return attributes.stream().map(Attribute::name).toList();
    }

    private static Column column(StoredColumn column) {
        return new Column(
                column.attribute().name(),
                column.label(),
                column.name(),
                column.type().words(),
                column.required(),
                column.wanted(),
                column.attribute().isKey(),
                column.attribute().isSecret());
    }

    private static LinkTo link(LinkAttribute link) {
        boolean owner = link.entity().kind() == ModelEntity.Kind.PARTS
                && link.target().parts().stream().map(PartsAttribute::parts).anyMatch(parts -> parts.owner() == link);
        return new LinkTo(
                link.name(),
                link.target().name(),
                link.required(),
                link.isKey(),
                owner,
                link.onDelete(),
                link.enforcer());
    }

    /**
     * {@return the link of an attribute, if it is one}
     *
     * @param attribute the attribute, by its accessor
     */
    public Optional<LinkTo> link(String attribute) {
        return links.stream().filter(link -> link.attribute().equals(attribute)).findFirst();
    }

    /**
     * {@return the attributes each of which tells a row by itself: those that are unique alone, then the key when it
     * is one attribute}
     */
    public List<String> tellingAlone() {
        List<String> telling = new ArrayList<>();
        unique.stream().filter(one -> one.size() == 1).forEach(one -> telling.add(0, one.get(0)));
        if (key.size() == 1) {
            telling.add(key.get(0));
        }
        return telling;
    }

    /** The name. */
    @Override
    public String toString() {
        return name;
    }
}
