package io.bathra.examples.harbour;

/** A CSV file, or a line of it, that cannot be understood. The message names file, line, value and what is expected. */
public final class BadLineException extends RuntimeException {
    BadLineException(String file, long line, String reason) {
        super(file + ", line " + line + ": " + reason);
    }

    BadLineException(String file, String reason) {
        super(file + ": " + reason);
    }
}
