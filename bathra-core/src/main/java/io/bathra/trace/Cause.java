package io.bathra.trace;

import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Why something was executed, in words that are made when somebody reads them: few are ever read. */
public final class Cause implements CharSequence {
    private final Supplier<String> words;
    private @Nullable String text;

    public Cause(Supplier<String> words) {
        this.words = words;
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
