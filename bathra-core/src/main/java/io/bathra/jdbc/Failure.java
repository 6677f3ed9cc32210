package io.bathra.jdbc;

import org.jspecify.annotations.Nullable;

/** What an error of a database means. */
enum Failure {
    UNIQUE,
    FOREIGN_KEY,
    NOT_NULL,
    CHECK,
    CONNECTION_LOST,
    DEADLOCK,
    SERIALIZATION,
    LOCK_TIMEOUT,
    STATEMENT_TIMEOUT,
    OTHER;

    /** The meaning of an SQLState. */
    static Failure ofState(@Nullable String sqlState) {
        String state = sqlState == null ? "" : sqlState;
        if (state.startsWith("08")) {
            return CONNECTION_LOST;
        }
        return switch (state) {
            case "23505" -> UNIQUE;
            case "23503", "23506" -> FOREIGN_KEY;
            case "23502" -> NOT_NULL;
            case "23514", "23513" -> CHECK;
            case "40P01" -> DEADLOCK;
            case "40001" -> SERIALIZATION;
            case "55P03" -> LOCK_TIMEOUT;
            case "57014" -> STATEMENT_TIMEOUT;
            default -> OTHER;
        };
    }
}
