package io.bathra.answer;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Where a page ends: the values of all orderings, and the key, of its last row. As text it can go into a link and come
 * back; it is not encrypted, and what comes back is bound like any other value.
 *
 * @param order the orderings that it was made for
 * @param values in their order, as text; null for a missing one
 */
public record Mark(String order, List<@Nullable String> values) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param order the orderings that it was made for
     * @param values in their order, as text; null for a missing one
     */
    public Mark {
        values = Collections.unmodifiableList(new ArrayList<>(values));
    }

    /**
     * {@return the mark that {@link #toString} has written}
     *
     * @param text the text
     * @throws IllegalArgumentException when it is none
     */
    public static Mark parse(String text) {
        List<@Nullable String> parts = new ArrayList<>();
        try {
            String plain = new String(Base64.getUrlDecoder().decode(text), StandardCharsets.UTF_8);
            int at = 0;
            while (at < plain.length()) {
                int colon = plain.indexOf(':', at);
                int length = Integer.parseInt(plain.substring(at, colon));
                int from = colon + 1;
                at = from + Math.max(0, length);
                parts.add(length < 0 ? null : plain.substring(from, at));
            }
        } catch (RuntimeException e) {
            throw new IllegalArgumentException("'" + text + "' is no mark of a page", e);
        }
        String order = parts.isEmpty() ? null : parts.get(0);
        if (order == null) {
            throw new IllegalArgumentException("'" + text + "' is no mark of a page");
        }
        return new Mark(order, parts.subList(1, parts.size()));
    }

    /** The mark in letters and digits that may stand in a URL. */
    @Override
    public String toString() {
        StringBuilder text = new StringBuilder();
        append(text, order);
        values.forEach(value -> append(text, value));
        return Base64.getUrlEncoder()
                .withoutPadding()
                .encodeToString(text.toString().getBytes(StandardCharsets.UTF_8));
    }

    private static void append(StringBuilder text, @Nullable String value) {
        text.append(value == null ? -1 : value.length()).append(':').append(value == null ? "" : value);
    }
}
