package io.bathra.text;

import org.jspecify.annotations.Nullable;

/**
 * Why something was executed, and what would do with fewer statements where it was executed again and again. The words
 * are made when somebody reads them, since few are ever read.
 */
public abstract class Cause implements CharSequence {
    /** What can be said of statements of which nothing is known. */
    static final String ANY_FIX = "do for all at once what is done for one after the other";

    private @Nullable String text;

    /** What it is executed for, in words. */
    protected abstract String words();

    /** The same without values, where there are any among the words. */
    protected String withoutValues() {
        return words();
    }

    /** The call that would make one statement of several such. */
    protected abstract String fix();

    /** One whose words are known. */
    public static Cause of(String words, String fix) {
        return new Cause() {
            @Override
            protected String words() {
                return words;
            }

            @Override
            protected String fix() {
                return fix;
            }
        };
    }

    /** What something is executed for, in words that may leave the process: no values are among them. */
    public static String withoutValues(CharSequence cause) {
        return cause instanceof Cause known ? known.withoutValues() : cause.toString();
    }

    /** What would make one statement of several that were executed for this. */
    public static String fix(CharSequence cause) {
        return cause instanceof Cause known ? known.fix() : ANY_FIX;
    }

    @Override
    public final int length() {
        return toString().length();
    }

    @Override
    public final char charAt(int index) {
        return toString().charAt(index);
    }

    @Override
    public final CharSequence subSequence(int start, int end) {
        return toString().subSequence(start, end);
    }

    @Override
    public final String toString() {
        String known = text;
        if (known == null) {
            known = words();
            text = known;
        }
        return known;
    }
}
