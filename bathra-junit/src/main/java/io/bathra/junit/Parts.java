package io.bathra.junit;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The statements of a text of several: behind one another, or in a block. A store sends them so when they need not wait
 * for one another.
 */
final class Parts {
    private static final String BLOCK = "begin not atomic ";
    private static final String END = "end";

    /** What makes a part fail that has not concerned as many rows as it should. */
    private static final Pattern GUARD = Pattern.compile(
            "with u as \\((.*) returning 1\\) select case when count\\(\\*\\) = .* from u", Pattern.DOTALL);

    /** What is done around the statements of a block, and tells nothing. */
    private static final Pattern AROUND = Pattern.compile("(set @bathra_part = \\d+|if row_count\\(\\) .*|end if)");

    private final boolean block;
    private final List<String> raw;

    private Parts(boolean block, List<String> raw) {
        this.block = block;
        this.raw = raw;
    }

    static Parts of(String sql) {
        String text = sql.strip();
        boolean block = text.regionMatches(true, 0, BLOCK, 0, BLOCK.length());
        if (!block && text.indexOf(';') < 0) {
            return new Parts(false, List.of(sql));
        }
        String inside = block ? text.substring(BLOCK.length(), text.length() - END.length()) : text;
        return new Parts(block, split(inside));
    }

    private static List<String> split(String text) {
        List<String> parts = new ArrayList<>();
        int from = 0;
        char quote = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"' || c == '`') {
                quote = c;
            } else if (c == ';') {
                add(parts, text.substring(from, i));
                from = i + 1;
            }
        }
        add(parts, text.substring(from));
        return parts;
    }

    private static void add(List<String> parts, String part) {
        if (!part.isBlank()) {
            parts.add(part.strip());
        }
    }

    /** The calls that they are, without what is around them; with the place of each. */
    List<Placed> calls() {
        List<Placed> calls = new ArrayList<>();
        for (int i = 0; i < raw.size(); i++) {
            String part = raw.get(i);
            if (raw.size() > 1 && AROUND.matcher(part.toLowerCase(Locale.ROOT)).matches()) {
                continue;
            }
            Matcher guard = GUARD.matcher(part);
            calls.add(new Placed(i, Call.of(guard.matches() ? guard.group(1) : part)));
        }
        return calls;
    }

    /**
     * A call in a text.
     *
     * @param place how many statements of the text are before it
     */
    record Placed(int place, Call call) {}

    /** The text with something else, or nothing, in place of a part and all behind it. */
    String instead(int place, String other) {
        List<String> all = new ArrayList<>(raw.subList(0, place));
        if (!other.isEmpty()) {
            all.add(other);
        }
        String text = String.join("; ", all);
        return block ? BLOCK + text + "; " + END : text;
    }

    /** How many placeholders there are before a part. */
    int placeholdersBefore(int place) {
        int count = 0;
        for (String part : raw.subList(0, place)) {
            count += (int) part.chars().filter(c -> c == '?').count();
        }
        return count;
    }
}
