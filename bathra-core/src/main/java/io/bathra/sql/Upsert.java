package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Rows that are inserted, or written over rows that are there.
 *
 * @param entity whose rows they are
 * @param columns what a new row is given
 * @param key the columns that tell whether a row is there: those of a unique constraint, or of the primary key
 * @param overwritten the columns that a row which is there is given, when any of them differs
 * @param version the column that counts updates; null for none
 * @param stamps the columns that an update sets beside
 */
public record Upsert(
        ModelEntity<?> entity,
        List<StoredColumn> columns,
        List<StoredColumn> key,
        List<StoredColumn> overwritten,
        @Nullable StoredColumn version,
        List<StoredColumn> stamps) {
    public Upsert {
        columns = List.copyOf(columns);
        key = List.copyOf(key);
        overwritten = List.copyOf(overwritten);
        stamps = List.copyOf(stamps);
    }

    /**
     * What a statement that does both is like.
     *
     * @param form how rows are given to it
     * @param answer how it tells what it has done
     */
    public record Form(WriteForm form, Answer answer) {}

    /** Selects the greatest key, where a new row has a greater one. */
    public static SqlText greatestKey(Dialect dialect, ModelEntity<?> entity) {
        return new SqlText(
                "select coalesce(max(" + key(dialect, entity) + "), 0) from " + table(dialect, entity), List.of());
    }

    /** Counts the rows whose keys are greater than one. */
    public static SqlText countAbove(Dialect dialect, ModelEntity<?> entity, long key) {
        return new SqlText(
                "select count(*) from " + table(dialect, entity) + " where " + key(dialect, entity) + " > ?",
                List.of(new SqlText.Value(ColumnType.number(), key)));
    }

    private static String key(Dialect dialect, ModelEntity<?> entity) {
        return dialect.quote(entity.keyColumns().get(0).name());
    }

    private static String table(Dialect dialect, ModelEntity<?> entity) {
        return dialect.qualified(entity.table());
    }

    /** How a statement tells what it has done; rows that were as they should be are left out of its answer. */
    public enum Answer {
        /** With one row: how many it has inserted, and how many it has written. */
        COUNTS,
        /** For each row its key, so that one with a key drawn before was inserted. */
        KEY,
        /**
         * By the number of rows that it has written. Nobody else writes meanwhile, and new keys are greater than all
         * before, so those that it has inserted can be counted.
         */
        WRITTEN
    }

    /** The assignments of an update. */
    String sets(Names names, String there, String given) {
        List<String> sets = new ArrayList<>();
        List<StoredColumn> taken = new ArrayList<>(overwritten);
        taken.addAll(stamps);
        taken.forEach(column -> sets.add(names.quote(column.name()) + " = " + value(names, given, column)));
        if (version != null) {
            String name = names.quote(version.name());
            sets.add(name + " = " + there + "." + name + " + 1");
        }
        return String.join(", ", sets);
    }

    /** The overwritten columns of a row, as one value. */
    String overwritten(Names names, String source) {
        return overwritten.stream()
                .map(column -> value(names, source, column))
                .collect(Collectors.joining(", ", "(", ")"));
    }

    /** That a row has the key of one that is given. */
    String sameKey(Names names, String there, String given) {
        return key.stream()
                .map(column -> value(names, there, column) + " = " + value(names, given, column))
                .collect(Collectors.joining(" and "));
    }

    /** The given rows may go by aliases, since they have no table. */
    private static String value(Names names, String source, StoredColumn column) {
        return source + "." + (source.equals("s") ? column.alias() : names.quote(column.name()));
    }
}
