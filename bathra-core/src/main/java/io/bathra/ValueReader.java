package io.bathra;

import io.bathra.jdbc.ColumnReader;
import io.bathra.jdbc.Transaction;
import io.bathra.sql.Place;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Reads the values of a select, made once for all of its rows. */
final class ValueReader {
    private final ColumnReader[] readers;
    private final Place[] places;

    ValueReader(Transaction transaction, List<Place> values) {
        places = values.toArray(Place[]::new);
        readers = new ColumnReader[places.length];
        for (int i = 0; i < readers.length; i++) {
            readers[i] = transaction.reader(places[i].type());
        }
    }

    /** The values of the current row. */
    @Nullable
    Object[] row(ResultSet result) throws SQLException {
        @Nullable Object[] row = new Object[readers.length];
        for (int i = 0; i < row.length; i++) {
            row[i] = places[i].shown(readers[i].read(result, i + 1));
        }
        return row;
    }
}
