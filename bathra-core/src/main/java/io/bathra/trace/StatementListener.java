package io.bathra.trace;

import org.jspecify.annotations.Nullable;

/**
 * Stands around everything that the units of work, bulk jobs and plain statements of a store execute. Called on the
 * thread that executes, which waits meanwhile. What is thrown here is logged, and disturbs nobody.
 */
@FunctionalInterface
public interface StatementListener {
    /**
     * Something is about to be executed.
     *
     * @param statement what it is, as far as that is known before
     * @return who is told of its end; null for nobody
     */
    @Nullable
    Ending started(Executed statement);

    /** Is told how something has ended. */
    @FunctionalInterface
    interface Ending {
        /**
         * It has come to its end. Statements that were sent together fail together: none of them has had an effect.
         *
         * @param statement what it was, with its time and its rows
         * @param failure why it has failed, as the program gets it, so that its message may name a value that is not
         *     secret; null when it has not
         */
        void ended(Executed statement, @Nullable Throwable failure);
    }
}
