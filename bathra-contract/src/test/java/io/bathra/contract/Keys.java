package io.bathra.contract;

import io.bathra.Store;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

/**
 * The keys of the rows that a test begins with, by their numbers from 1 on in the order of keys. Where several servers
 * draw them, keys come in steps.
 */
final class Keys {
    private static final Pattern PLACE = Pattern.compile("\\{(\\w+) (\\d+)}");

    private final Map<String, List<Long>> keys = new HashMap<>();

    private Keys() {}

    /** The keys of the rows that tables have now. */
    static Keys in(Store store, String... tables) {
        Keys keys = new Keys();
        for (String table : tables) {
            keys.keys.put(
                    table,
                    store.sql("select id from " + table + " order by id")
                            .as(Long.class)
                            .list());
        }
        return keys;
    }

    /** The key of a table's row. */
    long of(String table, long number) {
        return keys.get(table).get((int) number - 1);
    }

    /** A text with keys in the place of {@code {table number}}. */
    String in(String text) {
        return PLACE.matcher(text).replaceAll(place -> "" + of(place.group(1), Long.parseLong(place.group(2))));
    }
}
