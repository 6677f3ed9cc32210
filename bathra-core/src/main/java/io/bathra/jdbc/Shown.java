package io.bathra.jdbc;

import io.bathra.sql.SqlText;
import io.bathra.sql.WriteForm;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** A statement as it stands in trace, log and errors. Its text is made when somebody reads it, since few are read. */
final class Shown {
    /** More placeholders in a row than a reader wants to see. */
    private static final String MANY = "?, ?, ?, ?, ?, ?, ?, ?, ?";

    private static final Pattern LONG_LIST = Pattern.compile("\\?(, \\?){8,}");

    private final String sql;
    private final @Nullable String table;
    private final boolean plain;

    /** How many rows it is for, where their placeholders are shown once. */
    private final @Nullable WriteForm form;

    private final int rows;

    private Shown(String sql, @Nullable String table, boolean plain, @Nullable WriteForm form, int rows) {
        this.sql = sql;
        this.table = table;
        this.plain = plain;
        this.form = form;
        this.rows = rows;
    }

    static Shown of(SqlText text) {
        return new Shown(text.sql(), null, text.plain(), null, 1);
    }

    /** One of Bathra's own. */
    static Shown own(String sql, @Nullable String table) {
        return new Shown(sql, table, false, null, 1);
    }

    /** One of Bathra's own, that writes some rows to a table. */
    static Shown of(WriteForm form, int rows, String sql) {
        return new Shown(sql, form.table(), false, form, rows);
    }

    /** One that the user has written, or that may tell of something that he has. */
    static Shown plain(String sql) {
        return new Shown(sql, null, true, null, 1);
    }

    /** Its text, in which one of a thousand placeholders does not bury the rest. */
    String sql() {
        if (form != null && rows > 1) {
            return form.sql().apply(1) + " × " + rows;
        }
        return form != null || !sql.contains(MANY)
                ? sql
                : LONG_LIST.matcher(sql).replaceAll("?, … ?");
    }

    /** The statement itself. */
    String text() {
        return sql;
    }

    /** The table that it writes to, for an error that does not name it; null where it is not known. */
    @Nullable
    String table() {
        return table;
    }

    /** Whether the user has written it, so that nobody knows all that it touches. */
    boolean plain() {
        return plain;
    }
}
