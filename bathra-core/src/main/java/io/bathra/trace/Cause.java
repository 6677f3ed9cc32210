package io.bathra.trace;

import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Why something was executed, and what would do with fewer statements where it was executed again and again. The words are made
 * when somebody reads them, since few are ever read.
 */
public final class Cause implements CharSequence {
    /** What can be said of statements of which nothing is known. */
    static final String ANY_MEND = "do for all at once what is done for one after the other";

    private final Supplier<String> words;
    private final Supplier<String> mend;
    private @Nullable String text;

    /**
     * @param words what it is executed for
     * @param mend the call that would make one statement of several such
     */
    public Cause(Supplier<String> words, Supplier<String> mend) {
        this.words = words;
        this.mend = mend;
    }

    /** What would make one statement of several that were executed for this. */
    static String mend(CharSequence cause) {
        return cause instanceof Cause known ? known.mend.get() : ANY_MEND;
    }

    @Override
    public int length() {
        return toString().length();
    }

    @Override
    public char charAt(int index) {
        return toString().charAt(index);
    }

    @Override
    public CharSequence subSequence(int start, int end) {
        return toString().subSequence(start, end);
    }

    @Override
    public String toString() {
        String known = text;
        if (known == null) {
            known = words.get();
            text = known;
        }
        return known;
    }
}
