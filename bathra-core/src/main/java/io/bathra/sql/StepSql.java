package io.bathra.sql;

/**
 * A statement that is executed for a step, and what it does to those who work with the table meanwhile.
 *
 * @param lock what it holds while it runs, in the product's own words
 * @param reversible whether a rollback takes it back
 * @param alone whether it must not be executed within a transaction
 * @param repeated whether it is executed again until it concerns no row any more
 */
public record StepSql(String sql, String lock, Work work, boolean reversible, boolean alone, boolean repeated) {
    /** How much it has to look at. */
    public enum Work {
        /** The catalogue alone, however many rows there are. */
        NOTHING,
        /** All rows are read. */
        SCAN,
        /** All rows are written, or copied. */
        REWRITE
    }
}
