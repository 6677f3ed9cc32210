package io.bathra.cli;

/** What the tool tells the shell. */
final class ExitCode {
    static final int DONE = 0;
    static final int FAILED = 1;
    static final int NOT_UNDERSTOOD = 2;

    /** Done, but there is something to look at: differences, rejected lines. */
    static final int LOOK = 3;

    /** What shells expect after Ctrl-C. */
    static final int INTERRUPTED = 130;

    private ExitCode() {}
}
