package io.bathra.evolve;

import java.util.List;

/**
 * A step, and what is executed for it.
 *
 * @param step what it does, in a few words
 * @param statements in order; none where the product has nothing to do
 */
public record Shown(String step, List<Statement> statements) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param step what it does, in a few words
     * @param statements in order; none where the product has nothing to do
     */
    public Shown {
        statements = List.copyOf(statements);
    }

    /**
     * A statement.
     *
     * @param options what is tried behind it first, the gentlest for others before the rest; none where there is one way
     * @param lock what it holds while it runs, in the product's own words
     * @param work what it has to look at: the catalogue, all rows, or a copy of them
     * @param reversible whether a rollback takes it back
     * @param alone whether it must stand outside a transaction
     * @param repeated whether it is executed until it concerns no row any more
     */
    public record Statement(
            String sql,
            List<String> options,
            String lock,
            Work work,
            boolean reversible,
            boolean alone,
            boolean repeated) {
        /**
         * Checks what it is made of, and copies what could be changed.
         *
         * @param sql the statement
         * @param options what is tried behind it first, the gentlest for others before the rest; none where there is
         *     one way
         * @param lock what it holds while it runs, in the product's own words
         * @param work what it has to look at: the catalogue, all rows, or a copy of them
         * @param reversible whether a rollback takes it back
         * @param alone whether it must stand outside a transaction
         * @param repeated whether it is executed until it concerns no row any more
         */
        public Statement {
            options = List.copyOf(options);
        }
    }

    /** What a statement has to look at. */
    public enum Work {
        /** The catalogue alone, however many rows there are. */
        CATALOGUE,
        /** All rows are read. */
        SCAN,
        /** All rows are written, or copied. */
        REWRITE
    }
}
