package io.bathra.jdbc;

import io.bathra.sql.Place;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** The readers of selected values, each made once for all selects of its shape. Thread-safe. */
final class ValueReaders {
    /** An application asks for fewer shapes; one that makes them up as it goes has readers made anew now and then. */
    private static final int REMEMBERED = 1_000;

    private final Database database;
    private final Map<List<Place>, ValueReader> readers = new ConcurrentHashMap<>();

    ValueReaders(Database database) {
        this.database = database;
    }

    ValueReader of(List<Place> values) {
        ValueReader known = readers.get(values);
        if (known == null) {
            known = new ValueReader(database, values);
            if (readers.size() >= REMEMBERED) {
                readers.clear();
            }
            readers.put(values, known);
        }
        return known;
    }
}
