package io.bathra.history;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;

/**
 * The word that somebody may have meant: the one that the fewest changes of single letters lead to (the distance of
 * Levenshtein, 1965), if these are few.
 */
public final class Nearest {
    private Nearest() {}

    public static Optional<String> to(String word, Collection<String> known) {
        return known.stream()
                .filter(one -> distance(word, one) <= Math.max(1, (Math.min(word.length(), one.length()) + 2) / 3))
                .min(Comparator.comparingInt(one -> distance(word, one)));
    }

    private static int distance(String a, String b) {
        String left = a.toLowerCase(Locale.ROOT);
        String right = b.toLowerCase(Locale.ROOT);
        int[] before = new int[right.length() + 1];
        for (int j = 0; j <= right.length(); j++) {
            before[j] = j;
        }
        for (int i = 1; i <= left.length(); i++) {
            int[] now = new int[right.length() + 1];
            now[0] = i;
            for (int j = 1; j <= right.length(); j++) {
                int other = left.charAt(i - 1) == right.charAt(j - 1) ? 0 : 1;
                now[j] = Math.min(before[j - 1] + other, 1 + Math.min(before[j], now[j - 1]));
            }
            before = now;
        }
        return before[right.length()];
    }
}
