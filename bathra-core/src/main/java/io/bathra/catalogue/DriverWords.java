package io.bathra.catalogue;

import java.sql.SQLException;

/** A driver's message, to be put into a sentence of ours. */
public final class DriverWords {
    private DriverWords() {}

    /** Its first line, without the point at the end. */
    public static String of(SQLException e) {
        String line = String.valueOf(e.getMessage()).lines().findFirst().orElse("");
        return line.endsWith(".") ? line.substring(0, line.length() - 1) : line;
    }
}
