package io.bathra.text;

import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Why something was executed, and what would do with fewer statements where it was executed again and again. The words
 * are made when somebody reads them, since few are ever read.
 */
public final class Cause implements CharSequence {
    /** What can be said of statements of which nothing is known. */
    static final String ANY_FIX = "do for all at once what is done for one after the other";

    private final Supplier<String> words;
    private final Supplier<String> fix;
    private @Nullable String text;

    /**
     * @param words what it is executed for
     * @param fix the call that would make one statement of several such
     */
    public Cause(Supplier<String> words, Supplier<String> fix) {
        this.words = words;
        this.fix = fix;
    }

    /** What would make one statement of several that were executed for this. */
    public static String fix(CharSequence cause) {
        return cause instanceof Cause known ? known.fix.get() : ANY_FIX;
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
