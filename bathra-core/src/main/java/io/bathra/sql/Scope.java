package io.bathra.sql;

import io.bathra.access.Accessor;
import io.bathra.error.BathraException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * The tables of a select or subquery: an entity's own, and those that links on paths lead to, which are joined, each
 * once; the key of a link's target needs none.
 */
final class Scope {
    private final Dialect dialect;
    private final ModelEntity<?> entity;
    private final String alias;
    private final Set<ModelEntity<?>> reads;
    private final Map<List<Accessor>, String> aliases = new LinkedHashMap<>();
    private final StringBuilder joins = new StringBuilder();

    /** For the rows of parts: the part itself, inside which paths begin. */
    private final @Nullable ColumnAttribute part;

    private final @Nullable Overlay overlay;

    /** How many steps of a path lead here. */
    private final int skipped;

    /**
     * @param reads where to note which tables are read
     * @param overlay what stands in for some of them; null for nothing
     */
    Scope(
            Dialect dialect,
            ModelEntity<?> entity,
            String alias,
            Set<ModelEntity<?>> reads,
            @Nullable ColumnAttribute part,
            @Nullable Overlay overlay) {
        this(dialect, entity, alias, reads, part, overlay, 0);
    }

    private Scope(
            Dialect dialect,
            ModelEntity<?> entity,
            String alias,
            Set<ModelEntity<?>> reads,
            @Nullable ColumnAttribute part,
            @Nullable Overlay overlay,
            int skipped) {
        this.skipped = skipped;
        this.dialect = dialect;
        this.overlay = overlay;
        this.entity = entity;
        this.alias = alias;
        this.reads = reads;
        this.part = part;
        reads.add(entity);
    }

    /** The target of a link, for paths that all begin with the link. */
    Scope behind(LinkAttribute link) {
        return new Scope(dialect, link.target(), alias + "_l", reads, null, overlay, 1);
    }

    private List<Accessor> steps(Path path) {
        return path.steps().subList(skipped, path.steps().size());
    }

    /** The entity that it begins with. */
    ModelEntity<?> entity() {
        return entity;
    }

    Set<ModelEntity<?>> reads() {
        return reads;
    }

    private String table(ModelEntity<?> of) {
        return overlay != null && overlay.covers(of) ? overlay.name(of) : dialect.qualified(of.table());
    }

    /** The tables. Complete once all paths have been asked for. */
    String from() {
        return " from " + tables();
    }

    /** The tables that are joined with the first one. */
    String joins() {
        return joins.toString();
    }

    /** The tables, without the keyword before them. */
    String tables() {
        return table(entity) + " " + alias + joins;
    }

    String column(StoredColumn column) {
        return column(alias, column);
    }

    private String column(String of, StoredColumn column) {
        return of + "." + dialect.quote(column.name());
    }

    /** Which pending row it is. */
    String number() {
        return alias + "." + Overlay.NUMBER;
    }

    /** The element of a collection of simple parts. */
    Place element() {
        if (part == null || part.isInline()) {
            throw new BathraException("element(...) is for collections of single values, inside any(...), no(...) and"
                    + " all(...); here, name an attribute of " + entity.name());
        }
        return Place.of(column(part.columns().get(0)), part.columns().get(0), true);
    }

    Place place(Path path) {
        ModelEntity<?> at = entity;
        String of = alias;
        boolean nullable = overlay != null; // what is pending need not keep to any constraint
        List<Accessor> steps = steps(path);
        int i = 0;
        while (i < steps.size() - 1 && step(at, steps.get(i)) instanceof LinkAttribute link) {
            nullable |= !link.required();
            List<StoredColumn> own = OwnColumns.behind(link, steps.subList(i + 1, steps.size()));
            if (own != null && own.size() == 1) {
                return Place.of(column(of, own.get(0)), own.get(0), nullable);
            }
            of = join(steps.subList(0, i + 1), of, link, nullable);
            at = link.target();
            i++;
        }
        StoredColumn column = column(at, steps.subList(i, steps.size()), path);
        return Place.of(column(of, column), column, nullable || !column.required());
    }

    /**
     * The columns of a link, which hold the key of what it leads to.
     *
     * @return null where they lie in the row at the other end
     */
    @Nullable
    LinkColumns link(Path path) {
        ModelEntity<?> at = entity;
        String of = alias;
        List<Accessor> steps = steps(path);
        boolean nullable = overlay != null;
        for (int i = 0; step(at, steps.get(i)) instanceof LinkAttribute link; i++) {
            nullable |= !link.required();
            List<Accessor> rest = steps.subList(i + 1, steps.size());
            List<StoredColumn> own = rest.isEmpty() ? link.columns() : OwnColumns.behind(link, rest);
            if (own != null) {
                String holder = of;
                return new LinkColumns(
                        target(link, rest),
                        own.stream()
                                .map(column -> Place.of(column(holder, column), column, true))
                                .toList());
            }
            of = join(steps.subList(0, i + 1), of, link, nullable);
            at = link.target();
        }
        return null;
    }

    /**
     * The columns of a link.
     *
     * @param target what the link leads to
     */
    record LinkColumns(ModelEntity<?> target, List<Place> places) {}

    private static ModelEntity<?> target(LinkAttribute link, List<Accessor> rest) {
        return rest.isEmpty()
                ? link.target()
                : target((LinkAttribute) link.target().attribute(rest.get(0)), rest.subList(1, rest.size()));
    }

    /** The attribute of a step; in a row of parts, the links inside a part are attributes of the row. */
    private Attribute step(ModelEntity<?> at, Accessor step) {
        if (at == entity && part != null) {
            return entity.links().stream()
                    .filter(link -> link.name().endsWith(step.beanProperty()))
                    .<Attribute>map(link -> link)
                    .findFirst()
                    .orElse(part);
        }
        return at.attribute(step);
    }

    private StoredColumn column(ModelEntity<?> at, List<Accessor> way, Path path) {
        if (at == entity && part != null) {
            StoredColumn inside = part.inside(way);
            if (inside == null) {
                throw new BathraException(path + " names no single column of " + part + "; name one of "
                        + part.columns().stream().map(StoredColumn::label).toList());
            }
            return inside;
        }
        if (!(at.attribute(way.get(0)) instanceof ColumnAttribute)) {
            throw new BathraException(path + " does not lie in one column; name an attribute of its other end too");
        }
        return at.column(way);
    }

    private String join(List<Accessor> way, String from, LinkAttribute link, boolean nullable) {
        return aliases.computeIfAbsent(List.copyOf(way), w -> {
            String joined = alias + (aliases.size() + 1);
            reads.add(link.target());
            String on = link.columns().stream()
                    .map(column -> column(joined, link.target().keyColumns().get(column.part())) + " = "
                            + column(from, column))
                    .collect(Collectors.joining(" and "));
            joins.append(nullable ? " left join " : " join ")
                    .append(table(link.target()))
                    .append(" ")
                    .append(joined)
                    .append(" on ")
                    .append(on);
            return joined;
        });
    }

    /** All columns of the entity at the end of a way over links; rows that lead nowhere stay. */
    String columnsAlong(List<Accessor> way) {
        ModelEntity<?> at = entity;
        String of = alias;
        for (int i = 0; i < way.size(); i++) {
            LinkAttribute link = (LinkAttribute) at.attribute(way.get(i));
            of = join(way.subList(0, i + 1), of, link, true);
            at = link.target();
        }
        String end = of;
        return at.columnsWithRow().stream().map(column -> column(end, column)).collect(Collectors.joining(", "));
    }

    // ---- collections

    /**
     * The elements of a collection in a subquery, and what ties them to their owner out here.
     *
     * @param inner columns in there
     * @param outer the columns of the owner's key
     */
    record Within(Scope scope, List<String> inner, List<String> outer) {
        String tie() {
            return IntStream.range(0, inner.size())
                    .mapToObj(i -> inner.get(i) + " = " + outer.get(i))
                    .collect(Collectors.joining(" and "));
        }
    }

    /** Goes into a collection, by way of links if need be. */
    Within into(Path collection) {
        List<Accessor> steps = steps(collection);
        ModelEntity<?> owner = entity;
        String of = alias;
        boolean nullable = overlay != null;
        for (int i = 0; i < steps.size() - 1; i++) {
            if (!(step(owner, steps.get(i)) instanceof LinkAttribute link)) {
                throw new BathraException(
                        collection + " goes over something else than links that are columns of their rows");
            }
            nullable |= !link.required();
            of = join(steps.subList(0, i + 1), of, link, nullable);
            owner = link.target();
        }
        Attribute attribute = owner.attribute(steps.get(steps.size() - 1));
        if (attribute instanceof LinksAttribute many) {
            Scope inner = inner(many.target(), null);
            return within(inner, owner, of, many.otherEnd(), inner.alias);
        } else if (attribute instanceof InverseAttribute back) {
            Scope inner = inner(back.otherEnd().entity(), null);
            return within(inner, owner, of, back.otherEnd(), inner.alias);
        } else if (attribute instanceof PartsAttribute parts) {
            Scope inner = inner(parts.parts().rows(), parts.parts().element());
            return within(inner, owner, of, parts.parts().owner(), inner.alias);
        } else if (attribute instanceof PivotAttribute pivot) {
            Scope inner = inner(pivot.target(), null);
            String pairs = inner.alias + "p";
            ModelEntity<?> rows = pivot.pivot().rows();
            reads.add(rows);
            String on = pivot.far().columns().stream()
                    .map(column -> inner.column(pivot.target().keyColumns().get(column.part())) + " = "
                            + column(pairs, column))
                    .collect(Collectors.joining(" and "));
            inner.joins
                    .append(" join ")
                    .append(table(rows))
                    .append(" ")
                    .append(pairs)
                    .append(" on ")
                    .append(on);
            return within(inner, owner, of, pivot.near(), pairs);
        }
        throw new BathraException(
                collection + " is no collection of links or parts; name one for any(...), no(...) or all(...)");
    }

    private Scope inner(ModelEntity<?> target, @Nullable ColumnAttribute innerPart) {
        return new Scope(dialect, target, alias + "_e", reads, innerPart, overlay);
    }

    /** A foreign key of a row in the collection leads to its owner. */
    private Within within(Scope inner, ModelEntity<?> owner, String ownerAlias, LinkAttribute link, String linkAlias) {
        List<String> there = new ArrayList<>();
        List<String> here = new ArrayList<>();
        for (StoredColumn column : link.columns()) {
            there.add(column(linkAlias, column));
            here.add(column(ownerAlias, owner.keyColumns().get(column.part())));
        }
        return new Within(inner, there, here);
    }
}
