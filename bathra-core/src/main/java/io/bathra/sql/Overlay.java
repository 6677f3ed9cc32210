package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Pending rows that stand in for those of their tables while a query is asked: each such table is replaced by its rows
 * without those that are pending, and the pending ones as bound values. So the database itself evaluates everything.
 */
public final class Overlay {
    /** Behind the columns of a table: which pending row it is; empty for those that are stored. */
    static final String NUMBER = "bathra_pending";

    /** Every database binds as many values. */
    private static final int MOST_VALUES = 30_000;

    private final Map<ModelEntity<?>, Table> tables = new LinkedHashMap<>();

    /**
     * A pending row.
     *
     * @param number tells it from others; null for one that is to be looked up by its key
     * @param values by slot
     */
    public record Row(@Nullable Integer number, @Nullable Object[] values) {}

    /**
     * A table with pending rows.
     *
     * @param hidden the keys of stored rows that are not there any more, or stand among the pending ones
     */
    public record Table(ModelEntity<?> entity, List<Object> hidden, List<Row> rows) {}

    public Overlay(Collection<Table> tables) {
        tables.forEach(table -> this.tables.put(table.entity(), table));
    }

    /** Whether the rows of an entity's table are replaced, so that each carries its number behind its columns. */
    public boolean covers(ModelEntity<?> entity) {
        return tables.containsKey(entity);
    }

    /** Whether values are among the pending ones that must not be shown. */
    public boolean hasSecrets() {
        return tables.keySet().stream()
                .flatMap(entity -> entity.stored().stream())
                .anyMatch(StoredAttribute::isSecret);
    }

    /** What a select calls the table. */
    String name(ModelEntity<?> entity) {
        return "pending_" + (new ArrayList<>(tables.keySet()).indexOf(entity) + 1);
    }

    /** What comes in front of a select; its values come in front too. */
    String with(Dialect dialect, List<SqlText.Param> params) {
        List<SqlText.Param> own = new ArrayList<>();
        String with = tables.values().stream()
                .map(table -> name(table.entity()) + "(" + names(dialect, table.entity()) + ", " + NUMBER + ") as ("
                        + rows(dialect, table, own) + ")")
                .collect(Collectors.joining(", ", "with ", " "));
        if (own.size() > MOST_VALUES) {
            throw new BathraException("the pending changes of "
                    + tables.keySet().stream().map(ModelEntity::name).collect(Collectors.joining(", "))
                    + " have " + own.size() + " values, but a statement takes " + MOST_VALUES
                    + "; flush them, or ask with Pending.IGNORE");
        }
        params.addAll(0, own);
        return with;
    }

    private static String names(Dialect dialect, ModelEntity<?> entity) {
        return entity.columns().stream()
                .map(column -> dialect.quote(column.name()))
                .collect(Collectors.joining(", "));
    }

    private static String rows(Dialect dialect, Table table, List<SqlText.Param> params) {
        ModelEntity<?> entity = table.entity();
        String where = "";
        if (!table.hidden().isEmpty()) {
            List<String> key = entity.keyColumns().stream()
                    .map(column -> dialect.quote(column.name()))
                    .toList();
            where = " where not (" + SelectWriter.oneOf(dialect, key, entity.keyShape(), table.hidden(), params) + ")";
        }
        List<String> pending = new ArrayList<>();
        for (Row row : table.rows()) {
            List<String> values = new ArrayList<>();
            for (StoredColumn column : entity.columns()) {
                values.add(dialect.expressions().constant(column.type()));
                params.add(new SqlText.Value(column.type(), column.in(row.values())));
            }
            values.add(
                    row.number() == null
                            ? dialect.expressions().noNumber()
                            : row.number().toString());
            pending.add(String.join(", ", values));
        }
        return "select " + names(dialect, entity) + ", " + dialect.expressions().noNumber() + " from "
                + dialect.qualified(entity.table()) + where
                + dialect.expressions().andRows(pending);
    }
}
