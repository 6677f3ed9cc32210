package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.Shape;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.SearchCondition;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Selects whole rows and values by keys. */
public final class SelectWriter {
    private static final String ROOT = "t";
    private static final String PAIR = "p";

    private final Dialect dialect;
    private final ModelEntity<?> entity;
    private final Scope scope;
    private final List<SqlText.Param> params = new ArrayList<>();

    SelectWriter(Dialect dialect, ModelEntity<?> entity) {
        this.dialect = dialect;
        this.entity = entity;
        this.scope = new Scope(dialect, entity, ROOT, new LinkedHashSet<>(), null, null);
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

    /** Selects the whole row with a key, in as few words as possible, since a database may read them each time. */
    static SqlText rowByKey(Dialect dialect, ModelEntity<?> entity, Object key) {
        String sql = "select "
                + entity.columnsWithRow().stream()
                        .map(column -> dialect.quote(column.name()))
                        .collect(Collectors.joining(", "))
                + " from " + dialect.qualified(entity.table()) + " where "
                + entity.keyColumns().stream()
                        .map(column -> dialect.quote(column.name()) + " = ?")
                        .collect(Collectors.joining(" and "));
        return new SqlText(sql, equal(entity.keyShape(), key));
    }

    /**
     * Selects the whole rows at the many end of an association, for owners with these keys, in the declared order, as
     * far as they fulfil conditions.
     */
    public static Select elements(
            Dialect dialect, LinksAttribute many, List<?> owners, List<SearchCondition> conditions) {
        SelectWriter writer = new SelectWriter(dialect, many.target());
        LinkAttribute link = many.otherEnd();
        String where = writer.oneOf(ROOT, link.columns(), link.shape(), owners) + writer.and(conditions);
        List<String> terms = new ArrayList<>();
        TermWriter termWriter = new TermWriter(dialect, ConditionWriter.places(writer.scope), writer.params);
        many.orderings().forEach(ordering -> terms.add(QueryWriter.ordered(dialect, termWriter, ordering)));
        terms.add(writer.keyOrder());
        return writer.select(writer.head() + where + " order by " + String.join(", ", terms));
    }

    private String and(List<SearchCondition> conditions) {
        return conditions.isEmpty()
                ? ""
                : " and " + ConditionWriter.in(dialect, scope, params).all(conditions);
    }

    private Select select(String sql) {
        return new Select(new SqlText(sql, params), scope.reads(), List.of());
    }

    /**
     * Selects the whole rows that owners with these keys are paired with, as far as they fulfil conditions, in the order
     * of the pivot; behind each the key of its owner, and its position where the pivot keeps one.
     */
    public static Select pairs(
            Dialect dialect, PivotAttribute pivot, List<?> owners, List<SearchCondition> conditions) {
        SelectWriter writer = new SelectWriter(dialect, pivot.target());
        writer.scope.reads().add(pivot.pivot().rows());
        List<StoredColumn> extra = new ArrayList<>(pivot.near().columns());
        String order = writer.keyOrder();
        if (pivot.order() != null) {
            extra.addAll(pivot.order().columns());
            String position = writer.column(PAIR, pivot.order().columns().get(0));
            order = "case when " + position + " is null then 1 else 0 end, " + position + ", " + order;
        }
        String columns = writer.rowColumns() + ", "
                + extra.stream().map(column -> writer.column(PAIR, column)).collect(Collectors.joining(", "));
        String on = pivot.far().columns().stream()
                .map(column -> writer.column(ROOT, pivot.target().keyColumns().get(column.part())) + " = "
                        + writer.column(PAIR, column))
                .collect(Collectors.joining(" and "));
        String where =
                writer.oneOf(PAIR, pivot.near().columns(), pivot.near().shape(), owners) + writer.and(conditions);
        return writer.select("select " + columns + writer.from() + " join "
                + dialect.qualified(pivot.pivot().rows().table()) + " " + PAIR + " on " + on + where + " order by "
                + order);
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
        List<StoredColumn> columns = new ArrayList<>(entity.keyColumns());
        columns.addAll(attribute.columns());
        return columnsWhere(dialect, entity, columns, entity.keyColumns(), entity.keyShape(), keys);
    }

    /**
     * Selects some columns of the rows in which others together have one of these values.
     *
     * @param selected what to read
     * @param columns the columns of an attribute, or of several
     * @param shape how the values lie in them
     */
    public static SqlText columnsWhere(
            Dialect dialect,
            ModelEntity<?> entity,
            List<StoredColumn> selected,
            List<StoredColumn> columns,
            Shape shape,
            List<?> values) {
        SelectWriter writer = new SelectWriter(dialect, entity);
        String where = writer.oneOf(ROOT, columns, shape, values);
        String names =
                selected.stream().map(column -> writer.column(ROOT, column)).collect(Collectors.joining(", "));
        return new SqlText("select " + names + writer.from() + where, writer.params);
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
        return columns.size() == 1
                ? dialect.expressions()
                        .oneOf(columns.get(0), shape.gates().get(0).type(), values, params)
                : dialect.expressions().oneOf(columns, types(shape), parts(shape, values), params);
    }

    /** What is bound to compare each column of a shape with its part of a value. */
    private static List<SqlText.Param> equal(Shape shape, Object value) {
        List<SqlText.Param> params = new ArrayList<>();
        List<Gate> gates = shape.gates();
        for (int part = 0; part < gates.size(); part++) {
            params.add(new SqlText.Value(gates.get(part).type(), part(shape, value, part)));
        }
        return params;
    }

    /** A part of a value, or the hole for it. */
    private static @Nullable Object part(Shape shape, Object value, int part) {
        return value instanceof Hole hole
                ? new Hole(hole.index(), whole -> Objects.requireNonNull(shape.part(whole, part)))
                : shape.part(value, part);
    }

    private static List<ColumnType> types(Shape shape) {
        return shape.gates().stream().map(Gate::type).toList();
    }

    private static List<List<Object>> parts(Shape shape, List<?> values) {
        List<List<Object>> tuples = new ArrayList<>();
        int width = shape.gates().size();
        for (Object value : values) {
            List<Object> tuple = new ArrayList<>();
            for (int part = 0; part < width; part++) {
                tuple.add(Objects.requireNonNull(part(shape, value, part)));
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
        return scope.from();
    }

    private String column(String alias, StoredColumn column) {
        return alias + "." + dialect.quote(column.name());
    }
}
