package io.bathra.model;

import io.bathra.attr.Naming;
import io.bathra.mapping.EntityMaking;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.IntSupplier;

/** The tables of a model that stand behind parts and pivots. */
final class HiddenTables {
    private final Map<String, String> tables;
    private final TableScope faults;
    private final Naming naming;
    private final List<ModelEntity<?>> all = new ArrayList<>();
    private int position;

    /**
     * @param tables the names of all tables, in small letters, with what they are for
     * @param position that of the first
     */
    HiddenTables(Map<String, String> tables, TableScope faults, int position) {
        this.tables = tables;
        this.faults = faults;
        this.naming = faults.naming();
        this.position = position;
    }

    /**
     * Begins the table of an attribute.
     *
     * @param size gives how many values a row has, once that is known
     */
    ModelEntity<HiddenRow> begin(
            String name,
            ModelEntity.Kind kind,
            ModelEntity<?> owner,
            String attribute,
            List<?> options,
            IntSupplier size) {
        String table = options.stream()
                .filter(Options.TableName.class::isInstance)
                .map(option -> ((Options.TableName) option).table())
                .findFirst()
                .orElseGet(() -> naming.inSql(decapitalized(owner.name()) + capitalized(attribute)));
        TableScope place = faults.of(name);
        if (ModelAssembly.isTooLong(table)) {
            place.fault("its table '" + table + "' is longer than " + ModelAssembly.LONGEST_NAME
                    + " bytes, which not every database takes; give it a shorter one with table(...)");
        }
        String other = tables.putIfAbsent(table.toLowerCase(Locale.ROOT), name);
        if (other != null) {
            place.fault("its table '" + table + "' is that of " + other
                    + " too; give one of them another name with table(...)");
        }
        ModelEntity<HiddenRow> rows = EntityMaking.begin(
                HiddenRow.class, name, kind, () -> new HiddenRow(size.getAsInt()), table, position++);
        all.add(rows);
        return rows;
    }

    List<ModelEntity<?>> all() {
        return all;
    }

    static void nameColumns(LinkAttribute link, TableScope scope) {
        link.nameColumns();
        link.columns().forEach(column -> scope.claimColumn(column.name(), link.name()));
    }

    static String decapitalized(String name) {
        return Character.toLowerCase(name.charAt(0)) + name.substring(1);
    }

    private static String capitalized(String name) {
        return Character.toUpperCase(name.charAt(0)) + name.substring(1);
    }
}
