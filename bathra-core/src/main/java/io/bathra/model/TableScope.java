package io.bathra.model;

import io.bathra.attr.Naming;
import io.bathra.mapping.FieldAccess;
import io.bathra.mapping.FieldHandles;
import java.lang.invoke.MethodHandles.Lookup;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What the makers of one table share: the columns that it has so far, how names are made, and where faults go. */
final class TableScope {
    private final String place;
    private final Naming naming;
    private final @Nullable Lookup lookup;
    private final List<String> faults;
    private final Map<String, String> columns = new HashMap<>();

    /**
     * @param place what the table is for, as faults name it: an entity, or an attribute with a table of its own
     */
    TableScope(String place, Naming naming, @Nullable Lookup lookup, List<String> faults) {
        this.place = place;
        this.naming = naming;
        this.lookup = lookup;
        this.faults = faults;
    }

    Naming naming() {
        return naming;
    }

    @Nullable
    Lookup lookup() {
        return lookup;
    }

    /** A scope for another table, with the same names and faults. */
    TableScope of(String otherPlace) {
        return new TableScope(otherPlace, naming, lookup, faults);
    }

    void fault(String attribute, String text) {
        faults.add(place + "." + attribute + ": " + text);
    }

    void fault(String text) {
        faults.add(place + ": " + text);
    }

    /** The way to a field; null, with a fault, when there is none. */
    @Nullable
    FieldAccess open(PersistentField field) {
        try {
            return FieldHandles.to(field.field(), lookup);
        } catch (IllegalAccessException e) {
            fault(field.name(), "cannot be reached: " + e.getMessage());
            return null;
        }
    }

    /** The name that the options give, or else convention. */
    String columnName(String convention, List<?> options) {
        String given = Options.name(options);
        return given == null ? naming.inSql(convention) : given;
    }

    void claimColumn(String column, String attribute) {
        if (ModelAssembly.isTooLong(column)) {
            fault(
                    attribute,
                    "has the column '" + column + "', which is longer than " + ModelAssembly.LONGEST_NAME
                            + " bytes, and not every database takes that; give it a shorter one with name(...)");
        }
        String other = columns.putIfAbsent(column.toLowerCase(Locale.ROOT), attribute);
        if (other != null) {
            fault(
                    attribute,
                    "has the column '" + column + "', which '" + other
                            + "' has too; give one of them another with name(...)");
        }
    }
}
