package io.bathra.trace;

/** Hears of everything that the units of work, bulk jobs and plain statements of a store execute. */
@FunctionalInterface
public interface TraceListener {
    /**
     * Something has been executed. Called on the thread that did it, which waits meanwhile; what is thrown here would
     * break its work.
     *
     * @param line what it was; its number is its place in its own unit of work
     */
    void executed(TraceLine line);
}
