package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.DateTimeException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Reads the rows of an entity. */
public final class RowReader {
    private final ModelEntity<?> entity;
    private final int slots;
    private final Piece.Whole whole;

    private RowReader(ModelEntity<?> entity, Piece.Whole whole) {
        this.entity = entity;
        this.slots = entity.stored().size();
        this.whole = whole;
    }

    /** The reader for all statements in which the columns stand in their order. */
    static RowReader inOrder(Database database, ModelEntity<?> entity) {
        int[] places = IntStream.range(0, entity.columnsWithRow().size()).toArray();
        return new RowReader(entity, Piece.Whole.forMany(pieces(database, entity, places)));
    }

    /**
     * A reader for one statement in which the columns stand elsewhere.
     *
     * @param places where each of them stands, counted from the first one
     */
    static RowReader at(Database database, ModelEntity<?> entity, int[] places) {
        return new RowReader(entity, Piece.Whole.forOne(pieces(database, entity, places)));
    }

    private record OneColumn(ColumnReader reader, int place, int slot) implements Piece {
        @Override
        public void read(ResultSet result, int from, @Nullable Object[] row) throws SQLException {
            row[slot] = reader.read(result, from + place);
        }
    }

    private record SeveralColumns(StoredAttribute attribute, List<ColumnReader> readers, int[] places)
            implements Piece {
        @Override
        public void read(ResultSet result, int from, @Nullable Object[] row) throws SQLException {
            List<@Nullable Object> parts = new ArrayList<>(places.length);
            for (int i = 0; i < places.length; i++) {
                parts.add(readers.get(i).read(result, from + places[i]));
            }
            row[attribute.slot()] = attribute.shape().assemble(parts);
        }
    }

    private static List<Piece> pieces(Database database, ModelEntity<?> entity, int[] places) {
        List<Piece> pieces = new ArrayList<>();
        int next = 0;
        for (StoredAttribute attribute : entity.withRow()) {
            List<ColumnReader> readers = new ArrayList<>();
            for (StoredColumn column : attribute.columns()) {
                readers.add(database.reader(column.gate()));
            }
            int after = next + readers.size();
            pieces.add(
                    attribute.isOneValue()
                            ? new OneColumn(readers.get(0), places[next], attribute.slot())
                            : new SeveralColumns(attribute, readers, Arrays.copyOfRange(places, next, after)));
            next = after;
        }
        return pieces;
    }

    /**
     * The values of the current row by slot.
     *
     * @param from where the entity's columns begin
     */
    public @Nullable Object[] row(ResultSet result, int from) throws SQLException {
        @Nullable Object[] row = new Object[slots];
        try {
            whole.read(result, from, row);
        } catch (BathraException | DateTimeException e) {
            throw unreadable(row, e);
        }
        return row;
    }

    /** Tells which row it is, as far as it has been read. */
    private BathraException unreadable(@Nullable Object[] row, RuntimeException failure) {
        Object key = entity.isView() ? null : entity.keyIn(row);
        return new BathraException(
                (key == null ? "a row of " + entity.name() : entity.describe(key)) + " cannot be read: "
                        + failure.getMessage(),
                failure);
    }
}
