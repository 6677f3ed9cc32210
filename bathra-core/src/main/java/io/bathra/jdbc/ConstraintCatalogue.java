package io.bathra.jdbc;

import io.bathra.error.ConstraintViolation.Place;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.schema.Check;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Leads from the names that a database uses in its errors back to entities and attributes. */
public final class ConstraintCatalogue {
    private record Known(ModelEntity<?> entity, List<String> attributes) {}

    /** By name, and by table, since two tables may have constraints of one name. */
    private final Map<String, Map<String, Known>> constraints = new HashMap<>();

    private final Map<String, ModelEntity<?>> tables = new HashMap<>();
    private final Set<String> secretTables = new HashSet<>();
    private final Map<String, String> primaryKeys = new HashMap<>();

    /** The names of primary keys that are drawn from a sequence. */
    private final Set<String> drawnKeys = new HashSet<>();

    public ConstraintCatalogue(Mapping model) {
        List<Table> schema = Schema.of(model).tables();
        Iterator<Table> inOrder = schema.iterator();
        for (ModelEntity<?> entity : model.tables()) {
            if (entity.isView()) {
                tables.put(folded(entity.table()), entity);
                continue;
            }
            Table table = inOrder.next();
            tables.put(folded(table.name()), entity);
            if (entity.stored().stream().anyMatch(StoredAttribute::isSecret)) {
                secretTables.add(withoutMarks(table.name()));
            }
            primaryKeys.put(folded(table.name()), table.primaryKey());
            if (entity.keySource() instanceof KeySource.Generated || entity.keySource() instanceof KeySource.Sequence) {
                drawnKeys.add(folded(table.primaryKey()));
            }
            put(table.primaryKey(), entity, table.keyColumns());
            for (UniqueConstraint unique : table.uniques()) {
                put(unique.name(), entity, unique.columns());
            }
            for (Check check : table.checks()) {
                put(check.name(), new Known(entity, check.fields()));
            }
            for (ForeignKey key : table.foreignKeys()) {
                put(key.name(), entity, key.columns());
            }
        }
    }

    private void put(String name, ModelEntity<?> entity, List<String> columns) {
        List<String> attributes =
                columns.stream().map(c -> attribute(entity, c)).distinct().toList();
        put(name, new Known(entity, attributes));
    }

    private void put(String name, Known known) {
        constraints
                .computeIfAbsent(folded(name), n -> new LinkedHashMap<>())
                .put(folded(known.entity().table()), known);
    }

    private static String attribute(ModelEntity<?> entity, String column) {
        return entity.columns().stream()
                .filter(stored -> stored.name().equalsIgnoreCase(column))
                .map(stored -> stored.attribute().name())
                .findFirst()
                .orElse(column);
    }

    private static String folded(String name) {
        return name.toLowerCase(Locale.ROOT);
    }

    /** The names of all known constraints, in small letters. */
    Iterable<String> names() {
        return constraints.keySet();
    }

    /**
     * Whether a statement touches a table that has a secret column; more are taken for secret than are, all plain ones
     * among them, since views and triggers lead anywhere.
     */
    boolean touchesSecrets(Shown statement) {
        return !secretTables.isEmpty()
                && (statement.plain() || secretTables.stream().anyMatch(withoutMarks(statement.sql())::contains));
    }

    /** A name stands in SQL with its quotation marks doubled, or with marks around it. */
    private static String withoutMarks(String text) {
        return folded(text.replace("\"", "").replace("`", ""));
    }

    /** The name of a table's primary key, for a database that calls them all the same. */
    String primaryKey(@Nullable String table) {
        return primaryKeys.getOrDefault(table == null ? "" : folded(table), "PRIMARY");
    }

    /** Whether a place is a primary key that is drawn from a sequence. */
    boolean isDrawnKey(Place place) {
        String name = place.constraint();
        return name != null && drawnKeys.contains(folded(name));
    }

    /**
     * The place of a constraint of this name.
     *
     * @param table where it is, or a text in which that stands; null where it is not known
     */
    Place constraint(String name, @Nullable String table, @Nullable String value) {
        Map<String, Known> named = constraints.getOrDefault(folded(name), Map.of());
        String where = table == null ? "" : folded(table);
        Known known = named.size() == 1 ? named.values().iterator().next() : named.get(where);
        if (known == null) {
            known = named.entrySet().stream()
                    .filter(one -> where.contains(one.getKey()))
                    .max(Comparator.comparingInt(one -> one.getKey().length()))
                    .map(Map.Entry::getValue)
                    .orElse(null);
        }
        return known == null
                ? new Place(null, List.of(), value, name)
                : new Place(known.entity().name(), known.attributes(), value, name);
    }

    /** The place of a column. */
    Place column(@Nullable String table, String column) {
        return columns(table, List.of(column));
    }

    /** The place of several columns of one table. */
    Place columns(@Nullable String table, List<String> columns) {
        ModelEntity<?> entity = table == null ? null : tables.get(folded(table));
        return entity == null
                ? new Place(table, columns, null, null)
                : new Place(
                        entity.name(),
                        columns.stream()
                                .map(column -> attribute(entity, column))
                                .distinct()
                                .toList(),
                        null,
                        null);
    }
}
