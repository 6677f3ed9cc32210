package io.bathra.trace;

/** What a step does to its rows. */
public enum Operation {
    /** A row comes. */
    INSERT("insert"),
    /** A row that is there already stays as it is. */
    INSERT_MISSING("insert missing"),
    /** A row changes. */
    UPDATE("update"),
    /** Rows go. */
    DELETE("delete");

    private final String words;

    Operation(String words) {
        this.words = words;
    }

    /** {@return whether it makes rows} */
    public boolean inserts() {
        return this == INSERT || this == INSERT_MISSING;
    }

    /** The SQL keyword, in small letters. */
    @Override
    public String toString() {
        return words;
    }
}
