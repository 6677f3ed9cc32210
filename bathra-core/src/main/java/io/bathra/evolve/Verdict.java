package io.bathra.evolve;

import java.util.Locale;

/**
 * What a step means for a program of the release before, which is still running.
 *
 * @param step what it does, in a few words
 * @param why what breaks, and how a break is avoided; empty where nothing does
 */
public record Verdict(String step, Fate reads, Fate inserts, Fate updates, String why) {
    /** Whether it goes on. */
    public enum Fate {
        /** It goes on as before. */
        GOES_ON,
        /** It goes on, unless it does what is not allowed any more. */
        MAY_BREAK,
        /** It fails. */
        BREAKS;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT).replace('_', ' ');
        }
    }

    /** {@return whether the program goes on in any case} */
    public boolean isHarmless() {
        return reads == Fate.GOES_ON && inserts == Fate.GOES_ON && updates == Fate.GOES_ON;
    }
}
