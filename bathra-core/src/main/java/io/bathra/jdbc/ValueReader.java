package io.bathra.jdbc;

import io.bathra.sql.Place;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Reads the values of a select, made once for all selects of its shape. */
public final class ValueReader {
    private final int size;
    private final Piece.Whole whole;

    ValueReader(Database database, List<Place> values) {
        List<Piece> pieces = new ArrayList<>();
        for (Place place : values) {
            ColumnReader reader = database.reader(place.type());
            int index = pieces.size();
            pieces.add(
                    place.column() == null
                            ? (result, from, row) -> row[index] = reader.read(result, from + index)
                            : (result, from, row) -> row[index] = place.shown(reader.read(result, from + index)));
        }
        size = pieces.size();
        whole = Piece.Whole.forMany(pieces);
    }

    /** The values of the current row. */
    public @Nullable Object[] row(ResultSet result) throws SQLException {
        @Nullable Object[] row = new Object[size];
        whole.read(result, 1, row);
        return row;
    }
}
