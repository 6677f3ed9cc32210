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
    private final Supplier<String> withoutValues;
    private final Supplier<String> fix;
    private @Nullable String text;

    /**
     * @param words what it is executed for, among them no values
     * @param fix the call that would make one statement of several such
     */
    public Cause(Supplier<String> words, Supplier<String> fix) {
        this(words, words, fix);
    }

    /**
     * @param words what it is executed for
     * @param withoutValues the same without the values that are among the words
     * @param fix the call that would make one statement of several such
     */
    public Cause(Supplier<String> words, Supplier<String> withoutValues, Supplier<String> fix) {
        this.words = words;
        this.withoutValues = withoutValues;
        this.fix = fix;
    }

    /** What something is executed for, in words that may leave the process: no values are among them. */
    public static String withoutValues(CharSequence cause) {
        return cause instanceof Cause known ? known.withoutValues.get() : cause.toString();
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
