package io.bathra.sql;

import io.bathra.attr.Accessor;
import io.bathra.error.BathraException;
import io.bathra.model.Attribute;
import io.bathra.model.ColumnAttribute;
import io.bathra.model.ColumnType;
import io.bathra.model.LinkAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import io.bathra.query.Condition;
import io.bathra.query.Condition.Absence;
import io.bathra.query.Condition.All;
import io.bathra.query.Condition.AnyOf;
import io.bathra.query.Condition.Comparison;
import io.bathra.query.Condition.Like;
import io.bathra.query.Condition.Membership;
import io.bathra.query.Condition.Negation;
import io.bathra.query.Ordering;
import io.bathra.query.Path;
import io.bathra.query.Query;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Turns a query into a select. Links on a path become joins, each once; the key of a link's target needs none. */
public final class SelectWriter {
    private static final String ROOT = "t";

    private final Dialect dialect;
    private final ModelEntity<?> entity;
    private final Map<List<Accessor>, String> aliases = new LinkedHashMap<>();
    private final Set<ModelEntity<?>> reads = new LinkedHashSet<>();
    private final StringBuilder joins = new StringBuilder();
    private final List<SqlText.Param> params = new ArrayList<>();

    /** A select, and the entities whose tables it reads. */
    public record Select(SqlText text, Set<ModelEntity<?>> reads) {}

    /** A column in the statement, and whether it can be null there. */
    private record Place(String sql, ColumnType type, boolean nullable) {}

    private SelectWriter(Dialect dialect, ModelEntity<?> entity) {
        this.dialect = dialect;
        this.entity = entity;
        reads.add(entity);
    }

    /** Selects whole rows: the entity's stored attributes in their order. */
    public static Select rows(Dialect dialect, ModelEntity<?> entity, Query<?> query) {
        SelectWriter writer = new SelectWriter(dialect, entity);
        String where = writer.where(query.conditions());
        String order = writer.order(query);
        StringBuilder sql = new StringBuilder(writer.head())
                .append(writer.joins)
                .append(where)
                .append(order);
        if (query.limit().isPresent()) {
            sql.append(" limit ").append(query.limit().getAsInt());
        }
        if (query.offset() > 0) {
            sql.append(" offset ").append(query.offset());
        }
        return new Select(new SqlText(sql.toString(), writer.params), writer.reads);
    }

    /** Counts the rows that fulfil the query's conditions. */
    public static Select count(Dialect dialect, ModelEntity<?> entity, Query<?> query) {
        SelectWriter writer = new SelectWriter(dialect, entity);
        String where = writer.where(query.conditions());
        String sql = "select count(*)" + writer.from() + writer.joins + where;
        return new Select(new SqlText(sql, writer.params), writer.reads);
    }

    /** Selects the whole rows in which one column has one of these values, ordered by key. */
    public static SqlText rowsWith(Dialect dialect, ModelEntity<?> entity, StoredAttribute column, List<?> values) {
        SelectWriter writer = new SelectWriter(dialect, entity);
        String name = writer.column(ROOT, column);
        String where = values.size() == 1 ? name + " = ?" : dialect.oneOf(name, column.type(), values, writer.params);
        if (values.size() == 1) {
            writer.params.add(new SqlText.Value(column.type(), values.get(0)));
        }
        String order = column == entity.key() ? "" : " order by " + writer.column(ROOT, entity.key());
        return new SqlText(writer.head() + " where " + where + order, writer.params);
    }

    private String head() {
        return "select "
                + entity.stored().stream().map(column -> column(ROOT, column)).collect(Collectors.joining(", "))
                + from();
    }

    private String from() {
        return " from " + dialect.quote(entity.table()) + " " + ROOT;
    }

    private String column(String alias, StoredAttribute column) {
        return alias + "." + dialect.quote(column.column());
    }

    private String where(List<? extends Condition<?>> conditions) {
        return conditions.isEmpty() ? "" : " where " + all(conditions);
    }

    private String order(Query<?> query) {
        List<String> terms = new ArrayList<>();
        for (Ordering<?> ordering : query.orderings()) {
            Place place = place(ordering.path());
            terms.add(place.sql()
                    + (ordering.descending() ? " desc" : "")
                    + (place.nullable() ? dialect.nullsSmallest(ordering.descending()) : ""));
        }
        String key = column(ROOT, entity.key());
        boolean total = terms.contains(key) || terms.contains(key + " desc");
        boolean ordered = !terms.isEmpty() || query.limit().isPresent() || query.offset() > 0;
        if (ordered && !total) {
            terms.add(key);
        }
        return terms.isEmpty() ? "" : " order by " + String.join(", ", terms);
    }

    // ---- conditions

    private String all(List<? extends Condition<?>> conditions) {
        return conditions.isEmpty()
                ? "1 = 1"
                : conditions.stream().map(this::condition).collect(Collectors.joining(" and "));
    }

    private String condition(Condition<?> condition) {
        if (condition instanceof Comparison<?> comparison) {
            Place place = place(comparison.path());
            params.add(new SqlText.Value(place.type(), comparison.value()));
            return place.sql() + " " + comparison.operator().sql() + " ?";
        } else if (condition instanceof Membership<?> membership) {
            Place place = place(membership.path());
            return membership.values().isEmpty()
                    ? "1 = 0"
                    : dialect.oneOf(place.sql(), place.type(), membership.values(), params);
        } else if (condition instanceof Absence<?> absence) {
            return place(absence.path()).sql() + " is null";
        } else if (condition instanceof Like<?> like) {
            Place place = place(like.path());
            return dialect.like(place.sql(), place.type(), like.kind(), like.part(), params);
        } else if (condition instanceof All<?> all) {
            return "(" + all(all.conditions()) + ")";
        } else if (condition instanceof AnyOf<?> any) {
            return any.conditions().isEmpty()
                    ? "1 = 0"
                    : any.conditions().stream().map(this::condition).collect(Collectors.joining(" or ", "(", ")"));
        } else if (condition instanceof Negation<?> negation) {
            return negation.condition() instanceof Absence<?> absence
                    ? place(absence.path()).sql() + " is not null"
                    : "not (" + condition(negation.condition()) + ")";
        }
        throw new IllegalStateException("no SQL for " + condition);
    }

    // ---- paths

    private Place place(Path path) {
        ModelEntity<?> at = entity;
        String alias = ROOT;
        boolean nullable = false;
        List<Accessor> steps = path.steps();
        for (int i = 0; i < steps.size() - 1; i++) {
            LinkAttribute link = link(at, steps.get(i), path);
            nullable |= !link.required();
            boolean last = i == steps.size() - 2;
            if (last
                    && link.target().attribute(steps.get(i + 1))
                            == link.target().key()) {
                return new Place(column(alias, link), link.type(), nullable);
            }
            alias = join(steps.subList(0, i + 1), alias, link, nullable);
            at = link.target();
        }
        Attribute attribute = at.attribute(steps.get(steps.size() - 1));
        if (!(attribute instanceof ColumnAttribute column)) {
            throw new BathraException(path + " is an association; name an attribute of its other end too");
        }
        return new Place(column(alias, column), column.type(), nullable || !column.required());
    }

    private static LinkAttribute link(ModelEntity<?> entity, Accessor accessor, Path path) {
        if (entity.attribute(accessor) instanceof LinkAttribute link) {
            return link;
        }
        throw new BathraException(accessor + " in " + path + " is not a link");
    }

    private String join(List<Accessor> way, String from, LinkAttribute link, boolean nullable) {
        return aliases.computeIfAbsent(List.copyOf(way), w -> {
            String alias = ROOT + (aliases.size() + 1);
            reads.add(link.target());
            joins.append(nullable ? " left join " : " join ")
                    .append(dialect.quote(link.target().table()))
                    .append(" ")
                    .append(alias)
                    .append(" on ")
                    .append(column(alias, link.target().key()))
                    .append(" = ")
                    .append(column(from, link));
            return alias;
        });
    }
}
