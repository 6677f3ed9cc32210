package io.bathra.page;

import java.util.Locale;
import java.util.Set;

/** Lays a statement out, so that people can read it: clauses on lines of their own, what is inside brackets left alone. */
final class SqlLayout {
    private static final Set<String> CLAUSES = Set.of(
            "from",
            "where",
            "group",
            "having",
            "order",
            "limit",
            "offset",
            "fetch",
            "values",
            "set",
            "union",
            "returning",
            "left",
            "join",
            "inner",
            "for",
            "using",
            "when",
            "and",
            "or");

    /** Those that go a step to the right. */
    private static final Set<String> INSIDE = Set.of("and", "or", "left", "join", "inner", "when");

    private final String sql;
    private final StringBuilder laid = new StringBuilder();

    private SqlLayout(String sql) {
        this.sql = sql;
    }

    static String of(String sql) {
        SqlLayout layout = new SqlLayout(sql);
        layout.lay();
        return layout.laid.toString();
    }

    private void lay() {
        int depth = 0;
        String before = "";
        for (int at = 0; at < sql.length(); ) {
            char one = sql.charAt(at);
            if (one == '\'' || one == '"' || one == '`') {
                at = quoted(at, one);
            } else if (Character.isLetter(one)) {
                int end = at;
                while (end < sql.length() && (Character.isLetterOrDigit(sql.charAt(end)) || sql.charAt(end) == '_')) {
                    end++;
                }
                String word = sql.substring(at, end).toLowerCase(Locale.ROOT);
                if (depth == 0 && begins(word, before)) {
                    newLine(word);
                }
                laid.append(sql, at, end);
                before = word;
                at = end;
            } else {
                depth += one == '(' ? 1 : one == ')' ? -1 : 0;
                laid.append(one);
                at++;
            }
        }
    }

    /** What belongs to the word before it stays with that. */
    private boolean begins(String word, String before) {
        boolean second = (word.equals("join") && (before.equals("left") || before.equals("inner")))
                || (word.equals("set") && before.equals("update"))
                || (word.equals("from") && before.equals("delete"))
                || (word.equals("and") && before.equals("between"));
        return laid.length() > 0 && CLAUSES.contains(word) && !second;
    }

    private void newLine(String word) {
        while (laid.length() > 0 && laid.charAt(laid.length() - 1) == ' ') {
            laid.setLength(laid.length() - 1);
        }
        laid.append(INSIDE.contains(word) ? "\n  " : "\n");
    }

    private int quoted(int from, char quote) {
        int end = sql.indexOf(quote, from + 1);
        int next = end < 0 ? sql.length() : end + 1;
        laid.append(sql, from, next);
        return next;
    }
}
