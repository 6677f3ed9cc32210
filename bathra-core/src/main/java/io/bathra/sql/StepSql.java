package io.bathra.sql;

import java.util.List;

/**
 * A statement that is executed for a step, and what it does to those who work with the table meanwhile.
 *
 * @param options what may be appended so that others are disturbed less, the gentlest first; a product refuses what it
 *     cannot do that way before it does anything
 * @param lock what it holds while it runs, in the product's own words
 * @param reversible whether a rollback takes it back
 */
public record StepSql(String sql, List<String> options, String lock, Work work, boolean reversible, Role role) {
    /** So many rows are asked for, of those of which there must be none. */
    public static final int MOST_ROWS = 1_000;

    public StepSql {
        options = List.copyOf(options);
    }

    /** How much it has to look at. */
    public enum Work {
        /** The catalogue alone, however many rows there are. */
        NOTHING,
        /** All rows are read. */
        SCAN,
        /** All rows are written, or copied. */
        REWRITE
    }

    /** What it is to its step. */
    public enum Role {
        /** A part of the work. */
        PLAIN,
        /** A part of the work that must not stand in a transaction. */
        ALONE,
        /** Rows that are written some at a time: executed again until it concerns none any more. */
        PORTIONS,
        /** The step brings its transaction along, which begins here. */
        BEGIN,
        /** That transaction ends here. */
        COMMIT,
        /** A question for rows of which there must be none: what is wrong with them, and then what tells them. */
        NO_ROWS,
        /** A question for texts that are executed before the step's transaction ends, since they get lost on the way. */
        KEPT
    }

    /** Whether it is executed until it concerns no row any more. */
    public boolean isRepeated() {
        return role == Role.PORTIONS;
    }

    /** Whether it has to stand outside of a transaction that somebody else has begun. */
    public boolean isAlone() {
        return role == Role.ALONE || role == Role.BEGIN || role == Role.COMMIT;
    }
}
