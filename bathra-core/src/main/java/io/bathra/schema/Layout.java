package io.bathra.schema;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.mapping.Mapping;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What a model asks of a database, in the model's own words and without its classes, which change.
 *
 * @param sheets by their names
 * @param commitTokens the table for commit tokens; null for none
 */
public record Layout(Map<String, Sheet> sheets, @Nullable String commitTokens) {
    /** Nothing. */
    public static final Layout EMPTY = new Layout(Map.of(), null);

    public Layout {
        sheets = Collections.unmodifiableMap(new LinkedHashMap<>(sheets));
    }

    /** What a model asks for. */
    public static Layout of(Mapping model) {
        return ModelLayout.of(model);
    }

    /** Some sheets, by their names. */
    public static Layout of(List<Sheet> sheets, @Nullable String commitTokens) {
        Map<String, Sheet> byName = new LinkedHashMap<>();
        sheets.forEach(sheet -> byName.put(sheet.name(), sheet));
        return new Layout(byName, commitTokens);
    }

    public Optional<Sheet> sheet(String name) {
        return Optional.ofNullable(sheets.get(name));
    }

    /** The sheet that a field belongs to, by the longest beginning of the field's full name that names one. */
    public Optional<Sheet> owner(String name) {
        Sheet found = null;
        for (int dot = name.indexOf('.'); dot > 0; dot = name.indexOf('.', dot + 1)) {
            Sheet sheet = sheets.get(name.substring(0, dot));
            found = sheet == null ? found : sheet;
        }
        return Optional.ofNullable(found);
    }

    /** The same with a sheet that is new, or that stands where one of its name stood. */
    public Layout with(Sheet sheet) {
        Map<String, Sheet> changed = new LinkedHashMap<>(sheets);
        changed.put(sheet.name(), sheet);
        return new Layout(changed, commitTokens);
    }

    public Layout without(String name) {
        Map<String, Sheet> changed = new LinkedHashMap<>(sheets);
        changed.remove(name);
        return new Layout(changed, commitTokens);
    }

    /** The same with a sheet in the place of another one. */
    public Layout replacing(String name, Sheet sheet) {
        Map<String, Sheet> changed = new LinkedHashMap<>();
        sheets.forEach((one, old) -> {
            Sheet now = one.equals(name) ? sheet : old;
            changed.put(now.name(), now);
        });
        return new Layout(changed, commitTokens);
    }

    public Layout withCommitTokens(@Nullable String table) {
        return new Layout(sheets, table);
    }

    /** The tables, in the order of the sheets; those that keys are drawn from, and that of the tokens, come after them. */
    public List<Table> tables() {
        Map<String, Table> keyTables = new LinkedHashMap<>();
        List<Table> tables = new ArrayList<>();
        for (Sheet sheet : sheets.values()) {
            tables.add(table(sheet));
            if (sheet.keySource() instanceof KeyTable keyTable) {
                keyTables.putIfAbsent(keyTable.name(), Schema.keyTable(keyTable.name()));
            }
        }
        tables.addAll(keyTables.values());
        if (commitTokens != null) {
            tables.add(Schema.tokenTable(commitTokens));
        }
        return List.copyOf(tables);
    }

    /** The columns of each field of the sheet whose table this is; none for another table. */
    public Map<String, List<Column>> columnsByField(String table) {
        Map<String, List<Column>> all = new LinkedHashMap<>();
        for (Sheet sheet : sheets.values()) {
            for (int i = 0; sheet.table().equals(table) && i < sheet.fields().size(); i++) {
                Field field = sheet.fields().get(i);
                all.put(field.name(), columns(sheet, field, i < sheet.keyFields()));
            }
        }
        return all;
    }

    /** The table of a sheet of this layout. */
    public Table table(Sheet sheet) {
        List<Column> columns = new ArrayList<>();
        List<ForeignKey> foreignKeys = new ArrayList<>();
        Map<String, List<Column>> byField = new LinkedHashMap<>();
        for (int i = 0; i < sheet.fields().size(); i++) {
            Field field = sheet.fields().get(i);
            List<Column> own = columns(sheet, field, i < sheet.keyFields());
            columns.addAll(own);
            byField.put(field.name(), own);
            if (field instanceof Field.OfLink link) {
                Sheet target = target(sheet, link);
                foreignKeys.add(new ForeignKey(
                        link.constraint(),
                        link.columns(),
                        target.table(),
                        target.keyColumns(),
                        link.onDelete(),
                        link.deferrable()));
            }
        }
        List<UniqueConstraint> uniques = sheet.uniques().stream()
                .map(one -> new UniqueConstraint(one.name(), sheet.columns(one.fields()), one.deferrable()))
                .toList();
        List<Check> checks = sheet.checks().stream()
                .map(one -> new Check(one.name(), one.condition(), byField))
                .toList();
        return new Table(
                sheet.table(),
                columns,
                sheet.primaryKey(),
                sheet.keyColumns(),
                uniques,
                foreignKeys,
                indexes(sheet, uniques),
                checks,
                sheet.keySource());
    }

    /** The columns of each link that no other index begins with have one; so has what is declared. */
    private static List<Index> indexes(Sheet sheet, List<UniqueConstraint> uniques) {
        List<Index> indexes = new ArrayList<>();
        for (Field field : sheet.fields()) {
            if (field instanceof Field.OfLink link) {
                boolean indexed = startsWith(sheet.keyColumns(), link.columns())
                        || uniques.stream().anyMatch(unique -> startsWith(unique.columns(), link.columns()));
                if (!indexed) {
                    indexes.add(new Index(link.index(), link.columns()));
                }
            }
        }
        for (Sheet.Listed listed : sheet.indexes()) {
            List<String> columns = sheet.columns(listed.fields());
            if (indexes.stream().noneMatch(other -> other.columns().equals(columns))) {
                indexes.add(new Index(listed.name(), columns));
            }
        }
        return indexes;
    }

    /** An index serves whoever asks for its first columns. */
    private static boolean startsWith(List<String> index, List<String> columns) {
        return index.size() >= columns.size()
                && index.subList(0, columns.size()).equals(columns);
    }

    private Sheet target(Sheet sheet, Field.OfLink link) {
        return sheet(link.to())
                .orElseThrow(
                        () -> new IllegalStateException(sheet.name() + "." + link.name() + " leads to " + link.to()));
    }

    private List<Column> columns(Sheet sheet, Field field, boolean key) {
        if (field instanceof Field.OfColumn one) {
            DatabaseMade made = one.computed() != null
                    ? new DatabaseMade.Computed(one.computed())
                    : one.byDefault() != null ? new DatabaseMade.Default(one.byDefault()) : null;
            boolean generated = key && sheet.keySource() == KeySource.GENERATED;
            return List.of(new Column(one.column(), one.type(), one.required(), generated, made));
        }
        List<ColumnType> types = types(sheet, field);
        List<Column> columns = new ArrayList<>();
        for (int i = 0; i < types.size(); i++) {
            columns.add(new Column(field.columns().get(i), types.get(i), field.required(), false, null));
        }
        return columns;
    }

    /** The types of a field's columns; those of a link are the types of the key that it leads to. */
    private List<ColumnType> types(Sheet sheet, Field field) {
        if (field instanceof Field.OfColumn one) {
            return List.of(one.type());
        }
        List<ColumnType> types = new ArrayList<>();
        Sheet target = target(sheet, (Field.OfLink) field);
        target.key().forEach(one -> types.addAll(types(target, one)));
        return types;
    }
}
