package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.mapping.Gate;
import io.bathra.sql.Place;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.DateTimeException;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Reads the values of a select, made once for all selects of its shape. */
public final class ValueReader {
    private final List<Gate> gates;
    private final List<Piece> pieces = new ArrayList<>();
    private final Piece.Whole whole;

    ValueReader(Database database, List<Place> values) {
        gates = values.stream().map(Place::gate).toList();
        for (Place place : values) {
            ColumnReader reader = database.reader(place.gate());
            int index = pieces.size();
            pieces.add(
                    place.isPlain()
                            ? (ResultSet result, int from, @Nullable Object[] row) ->
                                    row[index] = reader.read(result, from + index)
                            : (ResultSet result, int from, @Nullable Object[] row) ->
                                    row[index] = place.shown(reader.read(result, from + index)));
        }
        whole = Piece.Whole.forMany(pieces);
    }

    /** The values of the current row. */
    public @Nullable Object[] row(ResultSet result) throws SQLException {
        @Nullable Object[] row = new Object[pieces.size()];
        try {
            whole.read(result, 1, row);
        } catch (BathraException | DateTimeException e) {
            throw unreadable(result, row, e);
        }
        return row;
    }

    /** One by one, the failing one tells what is wrong. */
    private BathraException unreadable(ResultSet result, @Nullable Object[] row, RuntimeException failure)
            throws SQLException {
        for (int i = 0; i < pieces.size(); i++) {
            try {
                pieces.get(i).read(result, 1, row);
            } catch (BathraException | DateTimeException e) {
                return new BathraException(gates.get(i) + " of a row cannot be read: " + e.getMessage(), e);
            }
        }
        return new BathraException("a row cannot be read: " + failure.getMessage(), failure);
    }
}
