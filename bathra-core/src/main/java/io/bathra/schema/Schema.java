package io.bathra.schema;

import io.bathra.model.KeySource;
import io.bathra.model.LinkAttribute;
import io.bathra.model.Model;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The tables that a model asks for, as a value.
 *
 * @param tables in the order of the model's entities
 */
public record Schema(List<Table> tables) {
    public Schema {
        tables = List.copyOf(tables);
    }

    /** The schema of a model. */
    public static Schema of(Model model) {
        return new Schema(model.entities().stream().map(Schema::table).toList());
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

    private static Table table(ModelEntity<?> entity) {
        String table = entity.table();
        List<Column> columns = new ArrayList<>();
        List<UniqueConstraint> uniques = new ArrayList<>();
        List<ForeignKey> foreignKeys = new ArrayList<>();
        List<Index> indexes = new ArrayList<>();
        for (StoredAttribute attribute : entity.stored()) {
            String column = attribute.column();
            boolean key = attribute.slot() == 0;
            boolean generated = key && entity.keySource() == KeySource.GENERATED;
            columns.add(new Column(column, attribute.type(), attribute.required(), generated));
            if (attribute.unique() && !key) {
                uniques.add(new UniqueConstraint(ConstraintNames.of(table, column, "unique"), List.of(column)));
            }
            if (attribute instanceof LinkAttribute link) {
                foreignKeys.add(new ForeignKey(
                        ConstraintNames.of(table, column, "fk"),
                        column,
                        link.target().table(),
                        link.target().key().column()));
                if (!attribute.unique()) {
                    indexes.add(new Index(ConstraintNames.of(table, column, "index"), List.of(column)));
                }
            }
        }
        return new Table(
                table,
                columns,
                ConstraintNames.of(table, entity.key().column(), "pk"),
                entity.key().column(),
                uniques,
                foreignKeys,
                indexes);
    }
}
