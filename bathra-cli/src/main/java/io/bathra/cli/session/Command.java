package io.bathra.cli.session;

import io.bathra.cli.session.Session.Next;

/**
 * A command of a session.
 *
 * @param name without the colon
 * @param takes what follows it; empty for nothing
 * @param brief what it does, in a line
 * @param more what else there is to know
 */
record Command(String name, String takes, String brief, String more, Action action) {
    /** Does it. */
    @FunctionalInterface
    interface Action {
        /**
         * @param text what follows the name
         */
        Next on(String text);
    }

    /** Whether a file is named after it. */
    boolean takesFile() {
        return takes.startsWith("FILE");
    }

    @Override
    public String toString() {
        return ":" + name + (takes.isEmpty() ? "" : " " + takes);
    }
}
