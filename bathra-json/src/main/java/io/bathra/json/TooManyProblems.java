package io.bathra.json;

import io.bathra.form.Filling;

/** Ends the reading of a text that is wrong in more places than anybody would mend. */
final class TooManyProblems extends RuntimeException {
    private static final long serialVersionUID = 1;

    private static final int MOST = 100;

    private TooManyProblems() {
        super(null, null, false, false);
    }

    static void check(Filling filling) {
        if (filling.problems().size() >= MOST) {
            throw new TooManyProblems();
        }
    }
}
