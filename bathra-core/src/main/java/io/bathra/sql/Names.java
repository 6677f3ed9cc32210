package io.bathra.sql;

import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** How names stand in SQL, and which listed name means which declared one. */
abstract class Names {
    private final @Nullable String schema;

    Names(@Nullable String schema) {
        this.schema = schema;
    }

    /** The schema that the model names; null for the connection's own. */
    public final @Nullable String schema() {
        return schema;
    }

    /** A name as it stands in SQL: quoted only where it must be, so that statements stay readable. */
    public final String quote(String name) {
        String mark = quotationMark();
        return isPlain(name) ? name : mark + name.replace(mark, mark + mark) + mark;
    }

    /** A table or sequence, in the schema that the model names. */
    public final String qualified(String name) {
        return schema == null ? quote(name) : quote(schema) + "." + quote(name);
    }

    /** What a quoted name stands in. */
    String quotationMark() {
        return "\"";
    }

    /** Lower case letters, and behind the first one digits and underscores; no word of SQL. */
    private static boolean isPlain(String name) {
        for (int i = 0; i < name.length(); i++) { // no regular expression: this is done for each name of a statement
            char c = name.charAt(i);
            boolean letter = c >= 'a' && c <= 'z';
            if (!letter && (i == 0 || (c != '_' && (c < '0' || c > '9')))) {
                return false;
            }
        }
        return !name.isEmpty() && !ReservedWords.contains(name);
    }

    /** Whether the database's catalogue means the declared name by the one that it lists. */
    public final boolean sameName(String declared, String listed) {
        // A plain name goes unquoted, so the database folds its case as it likes.
        return isPlain(declared) ? declared.equals(listed.toLowerCase(Locale.ROOT)) : declared.equals(listed);
    }

    final String names(List<String> names) {
        return names.stream().map(this::quote).collect(Collectors.joining(", "));
    }

    /** Whether a name stands in SQL without quotation marks, so that the database folds its case. */
    final boolean goesUnquoted(String name) {
        return isPlain(name);
    }

    static String textLiteral(String text) {
        return "'" + text.replace("'", "''") + "'";
    }
}
