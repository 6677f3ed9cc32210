package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.Path;
import io.bathra.question.SetClause;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Rows that are inserted, or written over rows that are there.
 *
 * @param entity whose rows they are
 * @param columns what a new row is given
 * @param key the columns that tell whether a row is there: those of a unique constraint, or of the primary key
 * @param overwritten the columns that a row which is there is given, when any of them differs
 * @param computed what becomes of overwritten columns that are not simply given their new values
 * @param version the column that counts updates; null for none
 * @param stamps the columns that an update sets beside
 */
public record Upsert(
        ModelEntity<?> entity,
        List<StoredColumn> columns,
        List<StoredColumn> key,
        List<StoredColumn> overwritten,
        Map<StoredColumn, SetClause> computed,
        @Nullable StoredColumn version,
        List<StoredColumn> stamps) {
    public Upsert {
        columns = List.copyOf(columns);
        key = List.copyOf(key);
        overwritten = List.copyOf(overwritten);
        computed = Map.copyOf(computed);
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
         * The same, but where somebody else was in the way, the database has begun anew by itself, and tells nothing of
         * rows that it had inserted until then.
         */
        KEY_UNLESS_BEGUN_ANEW,
        /**
         * By the number of rows that it has written. Nobody else writes meanwhile, and new keys are greater than all
         * before, so those that it has inserted can be counted.
         */
        WRITTEN
    }

    /** Where the values of the given rows stand in a statement. */
    @FunctionalInterface
    interface Source {
        String value(StoredColumn column);
    }

    /** The rows of a table, or of what stands in for one. */
    static Source rowsOf(Names names, String source) {
        return column -> value(names, source, column);
    }

    /** The assignments of an update. */
    String sets(Dialect dialect, Source there, Source given) {
        List<String> sets = new ArrayList<>();
        overwritten.forEach(
                column -> sets.add(dialect.quote(column.name()) + " = " + wanted(dialect, column, there, given)));
        stamps.forEach(column -> sets.add(dialect.quote(column.name()) + " = " + given.value(column)));
        if (version != null) {
            sets.add(dialect.quote(version.name()) + " = " + there.value(version) + " + 1");
        }
        return String.join(", ", sets);
    }

    /** That the overwritten columns of a row which is there are not yet what they are to be. */
    String differs(Dialect dialect, Source there, Source given) {
        String now = overwritten.stream().map(there::value).collect(Collectors.joining(", ", "(", ")"));
        String then = overwritten.stream()
                .map(column -> wanted(dialect, column, there, given))
                .collect(Collectors.joining(", ", "(", ")"));
        return dialect.expressions().differ(now, then);
    }

    private String wanted(Dialect dialect, StoredColumn column, Source there, Source given) {
        SetClause clause = computed.get(column);
        if (clause == null) {
            return given.value(column);
        }
        if (clause.value() == null) {
            return "null";
        }
        TermWriter terms = new TermWriter(dialect, term -> place(term, there, given), null);
        Place target = Place.of(there.value(column), column, !column.required());
        return dialect.expressions()
                .assigned(column.type(), terms.write(clause.value(), target).sql());
    }

    private Place place(Term term, Source there, Source given) {
        boolean isGiven = term instanceof Term.Given;
        Path path = term instanceof Term.Given one ? one.path() : TermWriter.attribute(term);
        StoredColumn column = UpdateWriter.own(entity, path);
        return Place.of((isGiven ? given : there).value(column), column, !column.required());
    }

    /** Updates rows that are there one by one, as far as they are not yet what they are to be. */
    public static WriteForm update(Dialect dialect, Upsert upsert) {
        List<Parameter> parameters = new ArrayList<>();
        Source there = column -> dialect.quote(column.name());
        Source given = column -> {
            parameters.add(Parameter.of(column));
            return dialect.expressions().placeholder(column.type());
        };
        String sets = upsert.sets(dialect, there, given);
        String where = upsert.entity.keyColumns().stream()
                .map(column -> there.value(column) + " = " + given.value(column))
                .collect(Collectors.joining(" and "));
        String sql = (upsert.computed.size() > 1 ? dialect.expressions().assigningAtOnce() : "") + "update "
                + table(dialect, upsert.entity) + " set " + sets + " where " + where + " and "
                + upsert.differs(dialect, there, given);
        return dialect.forms().batched(sql, parameters);
    }

    /** That a row has the key of one that is given. */
    String sameKey(Source there, Source given) {
        return key.stream()
                .map(column -> there.value(column) + " = " + given.value(column))
                .collect(Collectors.joining(" and "));
    }

    /** The given rows may go by aliases, since they have no table. */
    private static String value(Names names, String source, StoredColumn column) {
        return source + "." + (source.equals("s") ? column.alias() : names.quote(column.name()));
    }
}
