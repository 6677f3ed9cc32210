package io.bathra.schema;

import io.bathra.mapping.CheckRule;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.IndexRule;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import io.bathra.question.SearchCondition;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * The tables that a model asks for, as a value.
 *
 * @param tables in the order of the model's entities, without views; tables that keys are drawn from come after them
 */
public record Schema(List<Table> tables) {
    /** The longest name of a table on any of the databases. */
    private static final int LONGEST_NAME = 256;

    /** The columns of the table for commit tokens. */
    public static final String TOKEN = "token";

    public static final String TOKEN_TIME = "made_at";

    private static final int TOKEN_LENGTH = 36;

    /** The key of a pivot's rows, where they have one of their own. */
    private static final String PIVOT_KEY = "id";

    public Schema {
        tables = List.copyOf(tables);
    }

    /** The schema of a model. */
    public static Schema of(Mapping model) {
        Map<String, Table> keyTables = new LinkedHashMap<>();
        List<Table> tables = new ArrayList<>();
        for (ModelEntity<?> entity : model.tables()) {
            if (entity.isView()) {
                continue;
            }
            tables.add(table(entity));
            if (entity.keySource() instanceof KeyTable keyTable) {
                keyTables.putIfAbsent(keyTable.name(), keyTable(keyTable.name()));
            }
        }
        tables.addAll(keyTables.values());
        if (model.commitTokens() != null) {
            tables.add(tokenTable(model.commitTokens()));
        }
        return new Schema(tables);
    }

    /** The tables, each after those that its foreign keys refer to, as far as they do not form a ring. */
    public static List<Table> inDependencyOrder(List<Table> tables) {
        Map<String, Table> open = new LinkedHashMap<>();
        tables.forEach(table -> open.put(table.name(), table));
        List<Table> ordered = new ArrayList<>();
        while (!open.isEmpty()) {
            Table next = open.values().stream()
                    .filter(table -> table.foreignKeys().stream()
                            .allMatch(key ->
                                    key.targetTable().equals(table.name()) || !open.containsKey(key.targetTable())))
                    .findFirst()
                    .orElseGet(() -> open.values().iterator().next());
            open.remove(next.name());
            ordered.add(next);
        }
        return ordered;
    }

    /** The name of the sequence that draws a table's keys, where the database needs one of its own. */
    public static String sequence(String table) {
        return ConstraintNames.of(table, List.of(), "seq");
    }

    private static Table keyTable(String name) {
        Column owner = new Column(KeyTable.OWNER, ColumnType.text(LONGEST_NAME), true, false, null);
        Column next = new Column(KeyTable.NEXT_KEY, ColumnType.number(), true, false, null);
        return ofKeyAndColumns(name, owner, next);
    }

    /** The commit tokens of units of work, and when they were made. */
    private static Table tokenTable(String name) {
        ColumnType instant = ColumnType.of(Instant.class).orElseThrow();
        return ofKeyAndColumns(
                name,
                new Column(TOKEN, ColumnType.text(TOKEN_LENGTH), true, false, null),
                new Column(TOKEN_TIME, instant, true, false, null));
    }

    private static Table ofKeyAndColumns(String name, Column... columns) {
        List<String> key = List.of(columns[0].name());
        return new Table(
                name,
                List.of(columns),
                ConstraintNames.of(name, key, "pk"),
                key,
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                KeySource.ASSIGNED);
    }

    private static Table table(ModelEntity<?> entity) {
        String table = entity.table();
        boolean ownKey = entity.pivot() != null && entity.pivot().ownKey();
        boolean generated = entity.keySource() == KeySource.GENERATED;
        List<Column> columns = new ArrayList<>();
        if (ownKey) {
            columns.add(new Column(PIVOT_KEY, ColumnType.number(), true, true, null));
        }
        for (StoredColumn column : entity.columns()) {
            columns.add(new Column(
                    column.name(),
                    column.type(),
                    column.required(),
                    generated && column.attribute().isKey(),
                    column.attribute().databaseMade()));
        }
        List<String> pair = names(entity.keyAttributes());
        List<String> keyColumns = ownKey ? List.of(PIVOT_KEY) : pair;
        List<UniqueConstraint> uniques = new ArrayList<>();
        if (ownKey) {
            uniques.add(new UniqueConstraint(ConstraintNames.of(table, pair, "unique"), pair, false));
        }
        for (UniqueKey unique : entity.uniqueKeys()) {
            if (!unique.primary()) {
                List<String> names = names(unique.attributes());
                uniques.add(new UniqueConstraint(
                        Objects.requireNonNullElseGet(unique.name(), () -> ConstraintNames.of(table, names, "unique")),
                        names,
                        unique.isDeferrable()));
            }
        }
        List<ForeignKey> foreignKeys = new ArrayList<>();
        List<Index> indexes = new ArrayList<>();
        for (LinkAttribute link : entity.links()) {
            List<String> names = names(List.of(link));
            if (link.target().isView()) {
                continue; // nothing can refer to a view
            }
            foreignKeys.add(new ForeignKey(
                    ConstraintNames.of(table, names, "fk"),
                    names,
                    link.target().table(),
                    names(link.target().keyAttributes()),
                    link.ruleInDatabase(),
                    link.isDeferrable()));
            boolean indexed = startsWith(keyColumns, names)
                    || uniques.stream().anyMatch(unique -> startsWith(unique.columns(), names));
            if (!indexed) {
                indexes.add(new Index(ConstraintNames.of(table, names, "index"), names));
            }
        }
        for (IndexRule index : entity.indexes()) {
            List<String> names = names(index.attributes());
            if (indexes.stream().noneMatch(other -> other.columns().equals(names))) {
                String name =
                        Objects.requireNonNullElseGet(index.name(), () -> ConstraintNames.of(table, names, "index"));
                indexes.add(new Index(name, names));
            }
        }
        return new Table(
                table,
                columns,
                ConstraintNames.of(table, keyColumns, "pk"),
                keyColumns,
                uniques,
                foreignKeys,
                indexes,
                checks(entity),
                ownKey ? KeySource.GENERATED : entity.keySource());
    }

    private static List<Check> checks(ModelEntity<?> entity) {
        Map<String, Check> checks = new LinkedHashMap<>();
        for (CheckRule rule : entity.checks()) {
            SearchCondition condition = rule.condition();
            List<String> columns = Check.columns(entity, condition).stream()
                    .map(StoredColumn::name)
                    .toList();
            String name = Objects.requireNonNullElseGet(
                    rule.name(), () -> ConstraintNames.of(entity.table(), columns, "check"));
            for (int i = 2; rule.name() == null && checks.containsKey(name); i++) {
                name = ConstraintNames.of(entity.table(), columns, "check" + i);
            }
            checks.put(name, new Check(name, entity, condition));
        }
        return List.copyOf(checks.values());
    }

    /** An index serves whoever asks for its first columns. */
    private static boolean startsWith(List<String> index, List<String> columns) {
        return index.size() >= columns.size()
                && index.subList(0, columns.size()).equals(columns);
    }

    private static List<String> names(List<? extends StoredAttribute> attributes) {
        return attributes.stream()
                .flatMap(attribute -> attribute.columns().stream())
                .map(StoredColumn::name)
                .toList();
    }
}
