package io.bathra.jdbc;

import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import io.bathra.model.StoredColumn;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Reads the rows of an entity. Made once for an entity. */
public final class RowReader {
    private final int slots;
    private final StoredAttribute[] attributes;

    /** One for each column, in their order. */
    private final ColumnReader[] columns;

    /** Where each column stands, counted from the first one. */
    private final int[] places;

    RowReader(Database database, ModelEntity<?> entity) {
        slots = entity.stored().size();
        attributes = entity.withRow().toArray(StoredAttribute[]::new);
        List<ColumnReader> readers = new ArrayList<>();
        for (StoredAttribute attribute : attributes) {
            for (StoredColumn column : attribute.columns()) {
                readers.add(database.reader(column.type()));
            }
        }
        columns = readers.toArray(ColumnReader[]::new);
        places = IntStream.range(0, columns.length).toArray();
    }

    private RowReader(RowReader other, int[] places) {
        slots = other.slots;
        attributes = other.attributes;
        columns = other.columns;
        this.places = places;
    }

    /** The same for a statement in which the columns stand elsewhere, counted from the first one. */
    public RowReader at(int[] otherPlaces) {
        return new RowReader(this, otherPlaces.clone());
    }

    /**
     * The values of the current row by slot.
     *
     * @param from where the entity's columns begin
     */
    public @Nullable Object[] row(ResultSet result, int from) throws SQLException {
        @Nullable Object[] row = new Object[slots];
        int next = 0;
        for (StoredAttribute attribute : attributes) {
            if (attribute.isOneValue()) {
                row[attribute.slot()] = columns[next].read(result, from + places[next]);
                next++;
                continue;
            }
            int width = attribute.columns().size();
            List<@Nullable Object> parts = new ArrayList<>(width);
            for (int i = 0; i < width; i++) {
                parts.add(columns[next].read(result, from + places[next]));
                next++;
            }
            row[attribute.slot()] = attribute.shape().assemble(parts);
        }
        return row;
    }
}
