package io.bathra.plan;

import java.util.Locale;

/** What a step does to its rows. */
public enum Operation {
    INSERT,
    UPDATE,
    DELETE;

    /** The SQL keyword, in small letters. */
    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
