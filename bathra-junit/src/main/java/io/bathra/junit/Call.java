package io.bathra.junit;

import java.util.Locale;
import java.util.Set;

/**
 * Something that is asked of a database.
 *
 * @param sql the statement; empty where there is none
 */
record Call(Kind kind, String sql) {
    enum Kind {
        CONNECTION,
        STATEMENT,
        COMMIT,
        ROLLBACK,
        /** Savepoints, settings, and what a library asks a session about itself. */
        CONTROL
    }

    private static final Set<String> CONTROLLING = Set.of("begin", "start", "savepoint", "release", "set", "pragma");

    /** What a session is asked about itself. */
    private static final Set<String> QUESTIONS = Set.of(
            "select @@",
            "call lock_timeout()",
            "select contains_uncommitted",
            "select setting_value",
            "select exists (select 1 from pg_locks");

    static final Call CONNECTING = new Call(Kind.CONNECTION, "");
    static final Call COMMITTING = new Call(Kind.COMMIT, "");
    static final Call ROLLING_BACK = new Call(Kind.ROLLBACK, "");

    /** A statement, or what it does to the transaction. */
    static Call of(String sql) {
        String text = sql.strip().toLowerCase(Locale.ROOT);
        int end = 0;
        while (end < text.length() && Character.isLetter(text.charAt(end))) {
            end++;
        }
        String word = text.substring(0, end);
        if (word.equals("commit") || word.equals("end")) {
            return new Call(Kind.COMMIT, sql);
        }
        if (word.equals("rollback")) {
            return new Call(text.contains(" to ") ? Kind.CONTROL : Kind.ROLLBACK, sql);
        }
        boolean control = CONTROLLING.contains(word) || QUESTIONS.stream().anyMatch(text::startsWith);
        return new Call(control ? Kind.CONTROL : Kind.STATEMENT, sql);
    }
}
