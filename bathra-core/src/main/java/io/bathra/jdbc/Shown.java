package io.bathra.jdbc;

import io.bathra.sql.SqlText;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * A statement as it stands in trace, log and errors.
 *
 * @param sql its text, in which one of a thousand placeholders does not bury the rest
 * @param table the table that it writes to, for an error that does not name it; null where it is not known
 * @param plain whether the user has written it, so that nobody knows all that it touches
 */
record Shown(String sql, @Nullable String table, boolean plain) {
    /** More placeholders in a row than a reader wants to see. */
    private static final String MANY = "?, ?, ?, ?, ?, ?, ?, ?, ?";

    private static final Pattern LONG_LIST = Pattern.compile("\\?(, \\?){8,}");

    static Shown of(SqlText text) {
        return new Shown(shortened(text.sql()), null, text.plain());
    }

    /** One of Bathra's own. */
    static Shown own(String sql, @Nullable String table) {
        return new Shown(shortened(sql), table, false);
    }

    private static String shortened(String sql) {
        return !sql.contains(MANY) ? sql : LONG_LIST.matcher(sql).replaceAll("?, … ?");
    }
}
