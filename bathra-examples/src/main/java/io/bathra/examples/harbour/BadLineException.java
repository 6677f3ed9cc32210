package io.bathra.examples.harbour;

/** A line of a CSV file that cannot be understood. The message names file, line, value and what is expected. */
public final class BadLineException extends RuntimeException {
    BadLineException(String file, long line, String reason) {
        super(file + ", line " + line + ": " + reason);
    }
}
