package io.bathra.sql;

import io.bathra.attr.Accessor;
import io.bathra.error.BathraException;
import io.bathra.model.Attribute;
import io.bathra.model.ColumnAttribute;
import io.bathra.model.ColumnType;
import io.bathra.model.LinkAttribute;
import io.bathra.model.LinksAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.model.PivotAttribute;
import io.bathra.model.Shape;
import io.bathra.model.StoredAttribute;
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
    private static final String PAIR = "p";

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
            return column.toStored(value);
        }
    }

    SelectWriter(Dialect dialect, ModelEntity<?> entity) {
        this.dialect = dialect;
        this.entity = entity;
        reads.add(entity);
    }

    /** Selects whole rows: the entity's stored attributes in their order. */
    public static Select rows(Dialect dialect, ModelEntity<?> entity, Query<?> query) {
        SelectWriter writer = new SelectWriter(dialect, entity);
        String where = writer.where(query.conditions());
        String order = writer.order(query);
        String sql = writer.head()
                + writer.joins
                + where
                + order
                + dialect.slice(query.limit(), query.offset())
                + (query.locking() == null ? "" : dialect.locking(query.locking(), ROOT));
        return new Select(new SqlText(sql, writer.params), writer.reads);
    }

    /** Selects the keys of the rows that fulfil the query's conditions. */
    public static Select keys(Dialect dialect, ModelEntity<?> entity, Query<?> query) {
        SelectWriter writer = new SelectWriter(dialect, entity);
        String where = writer.where(query.conditions());
        String keys = entity.keyColumns().stream()
                .map(column -> writer.column(ROOT, column))
                .collect(Collectors.joining(", "));
        return new Select(
                new SqlText("select " + keys + writer.from() + writer.joins + where, writer.params), writer.reads);
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
        String where = writer.oneOf(ROOT, columns, shape, values);
        String order = columns.equals(entity.keyColumns()) ? "" : " order by " + writer.keyOrder();
        return new SqlText(writer.head() + where + order, writer.params);
    }

    /** Selects the whole rows at the many end of an association, for owners with these keys, in the declared order. */
    public static SqlText elements(Dialect dialect, LinksAttribute many, List<?> owners) {
        SelectWriter writer = new SelectWriter(dialect, many.target());
        LinkAttribute link = many.otherEnd();
        List<String> terms = new ArrayList<>();
        many.orderings().forEach(ordering -> terms.add(writer.term(ordering)));
        terms.add(writer.keyOrder());
        String where = writer.oneOf(ROOT, link.columns(), link.shape(), owners);
        return new SqlText(
                writer.head() + writer.joins + where + " order by " + String.join(", ", terms), writer.params);
    }

    /**
     * Selects the whole rows that owners with these keys are paired with; behind each the key of its owner, and its
     * position where the pivot keeps one.
     */
    public static SqlText pairs(Dialect dialect, PivotAttribute pivot, List<?> owners) {
        SelectWriter writer = new SelectWriter(dialect, pivot.target());
        List<StoredColumn> extra = new ArrayList<>(pivot.near().columns());
        if (pivot.order() != null) {
            extra.addAll(pivot.order().columns());
        }
        String columns = writer.rowColumns() + ", "
                + extra.stream().map(column -> writer.column(PAIR, column)).collect(Collectors.joining(", "));
        String on = pivot.far().columns().stream()
                .map(column -> writer.column(ROOT, pivot.target().keyColumns().get(column.part())) + " = "
                        + writer.column(PAIR, column))
                .collect(Collectors.joining(" and "));
        String where = writer.oneOf(PAIR, pivot.near().columns(), pivot.near().shape(), owners);
        return new SqlText(
                "select " + columns + writer.from() + " join "
                        + dialect.qualified(pivot.pivot().rows().table()) + " " + PAIR + " on " + on + where
                        + " order by " + writer.keyOrder(),
                writer.params);
    }

    /** Selects the greatest position of a pivot's rows for each of these owners; in front of it the owner's key. */
    public static SqlText lastPositions(Dialect dialect, PivotAttribute.Pivot pivot, List<?> owners) {
        SelectWriter writer = new SelectWriter(dialect, pivot.rows());
        StoredColumn order = Objects.requireNonNull(pivot.order()).columns().get(0);
        String key = pivot.near().columns().stream()
                .map(column -> writer.column(ROOT, column))
                .collect(Collectors.joining(", "));
        String where = writer.oneOf(ROOT, pivot.near().columns(), pivot.near().shape(), owners);
        return new SqlText(
                "select " + key + ", max(" + writer.column(ROOT, order) + ")" + writer.from() + where + " group by "
                        + key,
                writer.params);
    }

    /** Selects the keys of some rows and one attribute that is not read with them. */
    public static SqlText later(Dialect dialect, StoredAttribute attribute, List<?> keys) {
        ModelEntity<?> entity = attribute.entity();
        SelectWriter writer = new SelectWriter(dialect, entity);
        List<StoredColumn> columns = new ArrayList<>(entity.keyColumns());
        columns.addAll(attribute.columns());
        String where = writer.oneOf(ROOT, entity.keyColumns(), entity.keyShape(), keys);
        return new SqlText(
                "select "
                        + columns.stream()
                                .map(column -> writer.column(ROOT, column))
                                .collect(Collectors.joining(", "))
                        + writer.from() + where,
                writer.params);
    }

    private String oneOf(String alias, List<StoredColumn> columns, Shape shape, List<?> values) {
        return " where "
                + oneOf(
                        dialect,
                        columns.stream().map(column -> column(alias, column)).toList(),
                        shape,
                        values,
                        params);
    }

    /** That columns together have one of some values of a shape. */
    static String oneOf(
            Dialect dialect, List<String> columns, Shape shape, List<?> values, List<SqlText.Param> params) {
        if (values.size() == 1) {
            params.addAll(equal(shape, values.get(0)));
            return columns.stream().map(column -> column + " = ?").collect(Collectors.joining(" and "));
        }
        return columns.size() == 1
                ? dialect.oneOf(columns.get(0), shape.types().get(0), values, params)
                : dialect.oneOf(columns, shape.types(), parts(shape, values), params);
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

    String keyOrder() {
        return entity.keyColumns().stream().map(column -> column(ROOT, column)).collect(Collectors.joining(", "));
    }

    String head() {
        return "select " + rowColumns() + from();
    }

    private String rowColumns() {
        return entity.columnsWithRow().stream()
                .map(column -> column(ROOT, column))
                .collect(Collectors.joining(", "));
    }

    private String from() {
        return " from " + dialect.qualified(entity.table()) + " " + ROOT;
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
            columns.add(place(ordering.path()).sql());
            terms.add(term(ordering));
        }
        boolean total = entity.keyColumns().stream().allMatch(column -> columns.contains(column(ROOT, column)));
        boolean ordered = !terms.isEmpty() || query.limit().isPresent() || query.offset() > 0;
        if (ordered && !total) {
            terms.add(keyOrder());
        }
        return terms.isEmpty() ? "" : " order by " + String.join(", ", terms);
    }

    private String term(Ordering<?> ordering) {
        Place place = place(ordering.path());
        return place.sql()
                + (ordering.descending() ? " desc" : "")
                + (place.nullable() ? dialect.nullsSmallest(ordering.descending()) : "");
    }

    // ---- paths

    private Place place(Path path) {
        ModelEntity<?> at = entity;
        String alias = ROOT;
        boolean nullable = false;
        List<Accessor> steps = path.steps();
        int i = 0;
        while (i < steps.size() - 1 && at.attribute(steps.get(i)) instanceof LinkAttribute link) {
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
            i++;
        }
        StoredColumn column = column(at, steps.subList(i, steps.size()), path);
        return new Place(column(alias, column), column, nullable || !column.required());
    }

    private static StoredColumn column(ModelEntity<?> entity, List<Accessor> way, Path path) {
        if (!(entity.attribute(way.get(0)) instanceof ColumnAttribute)) {
            throw new BathraException(path + " does not lie in one column; name an attribute of its other end too");
        }
        return entity.column(way);
    }

    private String join(List<Accessor> way, String from, LinkAttribute link, boolean nullable) {
        return aliases.computeIfAbsent(List.copyOf(way), w -> {
            String alias = ROOT + (aliases.size() + 1);
            reads.add(link.target());
            joins.append(nullable ? " left join " : " join ")
                    .append(dialect.qualified(link.target().table()))
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
