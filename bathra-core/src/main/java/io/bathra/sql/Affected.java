package io.bathra.sql;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The rows that a statement updates or deletes.
 *
 * @param table their table, with its alias
 * @param alias what the table goes by
 * @param found the rows themselves, where they were found as such; null where they are told by a list alone
 * @param listed the list that they are on
 */
record Affected(String table, String alias, @Nullable FoundRows found, FoundRows.Listed listed) {
    /** Rows that were found. */
    static Affected found(FoundRows rows) {
        return new Affected(rows.table(), rows.alias(), rows, rows.among(rows.keys()));
    }

    /** Rows some of whose columns are on a list. */
    static Affected listed(String table, String alias, List<String> columns, SqlText list) {
        return new Affected(table, alias, null, new FoundRows.Listed(columns, list, false));
    }

    /** What is asked of the rows, where it can be asked without joining other tables; else that they are on the list. */
    SqlText condition() {
        return found != null && found.joins().isEmpty()
                ? found.all()
                : new SqlText(listed.condition(), listed.list().params());
    }

    /** Whether nothing but the rows themselves is looked at for them. */
    boolean areOwn() {
        return found != null && found.areOwn();
    }
}
