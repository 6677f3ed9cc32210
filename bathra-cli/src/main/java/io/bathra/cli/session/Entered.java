package io.bathra.cli.session;

import org.jspecify.annotations.Nullable;

/**
 * What came of an entry in Java. Immutable.
 *
 * @param printed what there is to show of it
 * @param failure what it has thrown; null for nothing
 * @param trace the failure with its way through the entries and the model; null for none
 */
record Entered(
        End end,
        Printed printed,
        @Nullable Throwable failure,
        @Nullable String trace) {
    enum End {
        DONE,
        /** It is no Java, or the compiler refuses it. */
        REFUSED,
        /** It threw something. */
        FAILED,
        /** It was stopped within its own code. */
        STOPPED,
        /** It was stopped wherever it was, maybe within the library. */
        CUT_OFF,
        /** It was stopped, and goes on by itself. */
        LEFT_BEHIND
    }

    static Entered done(Printed printed) {
        return new Entered(End.DONE, printed, null, null);
    }

    static Entered refused(String why) {
        return new Entered(End.REFUSED, Printed.of(Printed.Look.BAD, why), null, null);
    }
}
