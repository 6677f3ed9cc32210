package io.bathra.sql;

import io.bathra.attr.Accessor;
import io.bathra.error.BathraException;
import io.bathra.model.Attribute;
import io.bathra.model.ColumnAttribute;
import io.bathra.model.ColumnType;
import io.bathra.model.LinkAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.model.Shape;
import io.bathra.model.StoredColumn;
import io.bathra.query.Condition;
import io.bathra.query.Ordering;
import io.bathra.query.Path;
import io.bathra.query.Query;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
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
    record Place(String sql, StoredColumn column, boolean nullable) {
        ColumnType type() {
            return column.type();
        }

        /** What the column keeps of a value that a condition compares with. */
        Object stored(Object value) {
            return column.attribute() instanceof ColumnAttribute plain
                            && plain.columns().size() == 1
                    ? plain.toStored(value)
                    : value;
        }
    }

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
        String sql = writer.head() + writer.joins + where + order + dialect.slice(query.limit(), query.offset());
        return new Select(new SqlText(sql, writer.params), writer.reads);
    }

    /** Counts the rows that fulfil the query's conditions. */
    public static Select count(Dialect dialect, ModelEntity<?> entity, Query<?> query) {
        SelectWriter writer = new SelectWriter(dialect, entity);
        String where = writer.where(query.conditions());
        String sql = "select count(*)" + writer.from() + writer.joins + where;
        return new Select(new SqlText(sql, writer.params), writer.reads);
    }

    /**
     * Selects the whole rows in which an attribute, or the whole key, has one of these values, ordered by key.
     *
     * @param columns the columns of the attribute or key
     * @param shape how its values lie in them
     */
    public static SqlText rowsWith(
            Dialect dialect, ModelEntity<?> entity, List<StoredColumn> columns, Shape shape, List<?> values) {
        SelectWriter writer = new SelectWriter(dialect, entity);
        List<String> names =
                columns.stream().map(column -> writer.column(ROOT, column)).toList();
        String where = values.size() == 1
                ? names.stream().map(name -> name + " = ?").collect(Collectors.joining(" and "))
                : names.size() == 1
                        ? dialect.oneOf(names.get(0), columns.get(0).type(), values, writer.params)
                        : dialect.oneOf(names, shape.types(), parts(shape, values), writer.params);
        if (values.size() == 1) {
            writer.params.addAll(equal(shape, values.get(0)));
        }
        String order = columns.equals(entity.keyColumns()) ? "" : " order by " + writer.keyOrder();
        return new SqlText(writer.head() + " where " + where + order, writer.params);
    }

    /** What is bound to compare each column of a shape with its part of a value. */
    public static List<SqlText.Param> equal(Shape shape, Object value) {
        List<SqlText.Param> params = new ArrayList<>();
        for (int part = 0; part < shape.types().size(); part++) {
            params.add(new SqlText.Value(shape.types().get(part), shape.part(value, part)));
        }
        return params;
    }

    private static List<List<Object>> parts(Shape shape, List<?> values) {
        List<List<Object>> tuples = new ArrayList<>();
        for (Object value : values) {
            List<Object> tuple = new ArrayList<>();
            for (int part = 0; part < shape.types().size(); part++) {
                tuple.add(Objects.requireNonNull(shape.part(value, part)));
            }
            tuples.add(tuple);
        }
        return tuples;
    }

    private String keyOrder() {
        return entity.keyColumns().stream().map(column -> column(ROOT, column)).collect(Collectors.joining(", "));
    }

    private String head() {
        return "select "
                + entity.columns().stream().map(column -> column(ROOT, column)).collect(Collectors.joining(", "))
                + from();
    }

    private String from() {
        return " from " + dialect.quote(entity.table()) + " " + ROOT;
    }

    private String column(String alias, StoredColumn column) {
        return alias + "." + dialect.quote(column.name());
    }

    private String where(List<? extends Condition<?>> conditions) {
        return conditions.isEmpty()
                ? ""
                : " where " + new ConditionWriter(dialect, this::place, params).all(conditions);
    }

    private String order(Query<?> query) {
        List<String> terms = new ArrayList<>();
        Set<String> columns = new HashSet<>();
        for (Ordering<?> ordering : query.orderings()) {
            Place place = place(ordering.path());
            columns.add(place.sql());
            terms.add(place.sql()
                    + (ordering.descending() ? " desc" : "")
                    + (place.nullable() ? dialect.nullsSmallest(ordering.descending()) : ""));
        }
        boolean total = entity.keyColumns().stream().allMatch(column -> columns.contains(column(ROOT, column)));
        boolean ordered = !terms.isEmpty() || query.limit().isPresent() || query.offset() > 0;
        if (ordered && !total) {
            terms.add(keyOrder());
        }
        return terms.isEmpty() ? "" : " order by " + String.join(", ", terms);
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
            if (i == steps.size() - 2) {
                Attribute end = link.target().attribute(steps.get(i + 1));
                for (StoredColumn column : link.columns()) {
                    StoredColumn key = link.target().keyColumns().get(column.part());
                    if (key.attribute() == end
                            && end instanceof ColumnAttribute
                            && key.attribute().columns().size() == 1) {
                        return new Place(column(alias, column), key, nullable);
                    }
                }
            }
            alias = join(steps.subList(0, i + 1), alias, link, nullable);
            at = link.target();
        }
        Attribute attribute = at.attribute(steps.get(steps.size() - 1));
        if (!(attribute instanceof ColumnAttribute plain) || plain.columns().size() > 1) {
            throw new BathraException(path + " does not lie in one column; name an attribute of its other end too");
        }
        StoredColumn column = plain.columns().get(0);
        return new Place(column(alias, column), column, nullable || !column.required());
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
                    .append(link.columns().stream()
                            .map(column ->
                                    column(alias, link.target().keyColumns().get(column.part())) + " = "
                                            + column(from, column))
                            .collect(Collectors.joining(" and ")));
            return alias;
        });
    }
}
