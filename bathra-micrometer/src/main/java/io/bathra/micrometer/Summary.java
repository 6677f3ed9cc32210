package io.bathra.micrometer;

import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * What a statement does, and to which table, in few words: {@code SELECT port_call}.
 *
 * @param operation the first word, in capitals
 * @param collection the table that is named first; null where there is none
 */
record Summary(String operation, @Nullable String collection) {
    /** Of a statement in SQL. */
    static Summary of(String sql) {
        String[] words = sql.strip().split("[\\s(]+", -1);
        String operation = words[0].toUpperCase(Locale.ROOT);
        if (operation.equals("WITH")) {
            operation = "SELECT";
        }
        for (int i = 0; i + 1 < words.length; i++) {
            String word = words[i].toLowerCase(Locale.ROOT);
            boolean names = word.equals("from") || word.equals("into") || word.equals("update") || word.equals("table");
            if (names && !words[i + 1].isEmpty() && !words[i + 1].equalsIgnoreCase("select")) {
                return new Summary(operation, plain(words[i + 1]));
            }
        }
        return new Summary(operation, null);
    }

    private static String plain(String name) {
        return name.replaceAll("[\"`;,)]", "");
    }

    @Override
    public String toString() {
        return collection == null ? operation : operation + " " + collection;
    }
}
