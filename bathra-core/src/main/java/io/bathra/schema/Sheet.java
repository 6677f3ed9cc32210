package io.bathra.schema;

import io.bathra.mapping.KeySource;
import io.bathra.question.SearchCondition;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/**
 * What a table is for in the words of a model: an entity's rows, or what stands behind parts or a pivot.
 *
 * @param name the entity's name; of parts and pivots, the attribute that they are behind: {@code Vessel.remarks}
 * @param table the table's name, unquoted
 * @param fields the fields, those of the key first
 * @param keyFields how many belong to the key
 * @param keySource where the keys come from
 * @param primaryKey the name of the primary key's constraint
 */
public record Sheet(
        Kind kind,
        String name,
        String table,
        List<Field> fields,
        int keyFields,
        KeySource keySource,
        String primaryKey,
        List<Unique> uniques,
        List<Listed> indexes,
        List<Held> checks) {
    /** What its rows are to the domain. */
    public enum Kind {
        ENTITY,
        PARTS,
        PIVOT
    }

    /** Fields no two rows may have the same values of. */
    public record Unique(String name, List<String> fields, boolean deferrable) {
        public Unique {
            fields = List.copyOf(fields);
        }
    }

    /** Fields by which rows are looked for. */
    public record Listed(String name, List<String> fields) {
        public Listed {
            fields = List.copyOf(fields);
        }
    }

    /** A condition that every row is held to; its paths name fields of the sheet, and its values are {@link Literal}s. */
    public record Held(String name, SearchCondition condition) {}

    public Sheet {
        fields = List.copyOf(fields);
        uniques = List.copyOf(uniques);
        indexes = List.copyOf(indexes);
        checks = List.copyOf(checks);
    }

    /** The field of a name. */
    public Optional<Field> field(String name) {
        return fields.stream().filter(field -> field.name().equals(name)).findFirst();
    }

    /** The fields of the key. */
    public List<Field> key() {
        return fields.subList(0, keyFields);
    }

    /** The columns of the key. */
    public List<String> keyColumns() {
        return Field.columns(key());
    }

    /** The columns of fields, by their names. */
    public List<String> columns(List<String> names) {
        return Field.columns(names.stream()
                .map(one -> field(one).orElseThrow(() -> new IllegalStateException(name + " has no field " + one)))
                .toList());
    }

    /** The fields that a condition speaks of, each once. */
    public static List<String> fieldsOf(SearchCondition condition) {
        return condition.paths().stream().map(FieldPath::name).distinct().toList();
    }

    public Sheet withFields(List<Field> newFields, int newKeyFields) {
        return new Sheet(kind, name, table, newFields, newKeyFields, keySource, primaryKey, uniques, indexes, checks);
    }

    public Sheet withFields(List<Field> newFields) {
        return withFields(newFields, keyFields);
    }

    public Sheet withKeySource(KeySource source) {
        return new Sheet(kind, name, table, fields, keyFields, source, primaryKey, uniques, indexes, checks);
    }

    public Sheet withUniques(List<Unique> newUniques) {
        return new Sheet(kind, name, table, fields, keyFields, keySource, primaryKey, newUniques, indexes, checks);
    }

    public Sheet withIndexes(List<Listed> newIndexes) {
        return new Sheet(kind, name, table, fields, keyFields, keySource, primaryKey, uniques, newIndexes, checks);
    }

    public Sheet withChecks(List<Held> newChecks) {
        return new Sheet(kind, name, table, fields, keyFields, keySource, primaryKey, uniques, indexes, newChecks);
    }

    public Sheet withPrimaryKey(String constraint) {
        return new Sheet(kind, name, table, fields, keyFields, keySource, constraint, uniques, indexes, checks);
    }

    /** The same under another name; constraints keep theirs. */
    public Sheet named(String newName, String newTable) {
        return new Sheet(kind, newName, newTable, fields, keyFields, keySource, primaryKey, uniques, indexes, checks);
    }

    /** The same with the names that convention gives to all constraints. */
    public Sheet conventional() {
        List<Field> named = new ArrayList<>();
        for (Field field : fields) {
            named.add(
                    field instanceof Field.OfLink link
                            ? link.with(
                                    ConstraintNames.of(table, link.columns(), "fk"),
                                    ConstraintNames.of(table, link.columns(), "index"))
                            : field);
        }
        List<Unique> newUniques = uniques.stream()
                .map(one -> new Unique(
                        ConstraintNames.of(table, columns(one.fields()), "unique"), one.fields(), one.deferrable()))
                .toList();
        List<Listed> newIndexes = indexes.stream()
                .map(one -> new Listed(ConstraintNames.of(table, columns(one.fields()), "index"), one.fields()))
                .toList();
        Map<String, Held> newChecks = new LinkedHashMap<>();
        for (Held one : checks) {
            List<String> columns = columns(fieldsOf(one.condition()));
            String newName = ConstraintNames.of(table, columns, "check");
            for (int i = 2; newChecks.containsKey(newName); i++) {
                newName = ConstraintNames.of(table, columns, "check" + i);
            }
            newChecks.put(newName, new Held(newName, one.condition()));
        }
        return new Sheet(
                kind,
                name,
                table,
                named,
                keyFields,
                keySource,
                ConstraintNames.of(table, keyColumns(), "pk"),
                newUniques,
                newIndexes,
                List.copyOf(newChecks.values()));
    }

    /**
     * The same with names of constraints that follow those of tables and columns, as far as they did before.
     *
     * @param before the sheet with the same constraints in the same order, before names were changed
     */
    public Sheet namedAfter(Sheet before) {
        Sheet then = before.conventional();
        Sheet now = conventional();
        List<Field> named = new ArrayList<>();
        for (int i = 0; i < fields.size(); i++) {
            named.add(
                    fields.get(i) instanceof Field.OfLink link
                                    && then.fields.get(i) instanceof Field.OfLink convention
                                    && now.fields.get(i) instanceof Field.OfLink next
                            ? link.with(
                                    followed(link.constraint(), convention.constraint(), next.constraint()),
                                    followed(link.index(), convention.index(), next.index()))
                            : fields.get(i));
        }
        List<Unique> newUniques = new ArrayList<>();
        for (int i = 0; i < uniques.size(); i++) {
            Unique one = uniques.get(i);
            String newName = followed(
                    one.name(), then.uniques.get(i).name(), now.uniques.get(i).name());
            newUniques.add(new Unique(newName, one.fields(), one.deferrable()));
        }
        List<Listed> newIndexes = new ArrayList<>();
        for (int i = 0; i < indexes.size(); i++) {
            Listed one = indexes.get(i);
            String newName = followed(
                    one.name(), then.indexes.get(i).name(), now.indexes.get(i).name());
            newIndexes.add(new Listed(newName, one.fields()));
        }
        List<Held> newChecks = new ArrayList<>();
        for (int i = 0; i < checks.size(); i++) {
            Held one = checks.get(i);
            String newName = followed(
                    one.name(), then.checks.get(i).name(), now.checks.get(i).name());
            newChecks.add(new Held(newName, one.condition()));
        }
        return new Sheet(
                kind,
                name,
                table,
                named,
                keyFields,
                keySource,
                followed(primaryKey, then.primaryKey, now.primaryKey),
                newUniques,
                newIndexes,
                newChecks);
    }

    /** The same with a name of the primary key that follows the key's columns, as far as it did before. */
    public Sheet namedKeyAfter(Sheet before) {
        String convention = ConstraintNames.of(before.table, before.keyColumns(), "pk");
        String newName = followed(primaryKey, convention, ConstraintNames.of(table, keyColumns(), "pk"));
        return new Sheet(kind, name, table, fields, keyFields, keySource, newName, uniques, indexes, checks);
    }

    private static String followed(String name, String convention, String now) {
        return Objects.equals(name, convention) ? now : name;
    }
}
