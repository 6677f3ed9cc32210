package io.bathra.sql;

import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Follows the words of a statement, to tell whether a semicolon ends it: within the body of a trigger or a procedure it
 * ends an inner one.
 */
final class Compound {
    private static final Set<String> WITH_BODY = Set.of("trigger", "procedure", "function", "event", "package");

    /** What else can be created, by names that may be any of these words. */
    private static final Set<String> NAMED = Set.of(
            "table", "view", "index", "sequence", "schema", "database", "user", "role", "type", "domain", "alias");

    /** What {@code end} stands in front of, where it does not end a block. */
    private static final Set<String> LOOPS = Set.of("if", "loop", "while", "repeat", "for");

    /** Whether what comes next may be the kind of thing that is created. */
    private boolean kindIsOpen;

    private boolean hasBody;
    private int depth;
    private @Nullable String before;

    /** Takes the next word of a statement, all of which have come so far. */
    void word(String word, List<String> words) {
        kindIsOpen |= words.isEmpty() && word.equals("create");
        hasBody |= (kindIsOpen && WITH_BODY.contains(word)) || (words.isEmpty() && word.equals("begin"));
        kindIsOpen &= !NAMED.contains(word);
        if (hasBody) {
            boolean ended = "end".equals(before);
            if (ended && LOOPS.contains(word)) {
                depth++; // the end before was one of these, which were not counted
            } else if (word.equals("begin") || (word.equals("case") && !ended)) {
                depth++;
            } else if (word.equals("end")) {
                depth--;
            }
        }
        before = word;
    }

    /** Whether a semicolon here ends the whole. */
    boolean isWhole() {
        return depth <= 0;
    }
}
