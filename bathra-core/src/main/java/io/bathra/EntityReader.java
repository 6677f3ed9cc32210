package io.bathra;

import io.bathra.jdbc.Transaction;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import io.bathra.model.StoredColumn;
import io.bathra.sql.SqlText;
import io.bathra.track.Cohort;
import io.bathra.track.Entry;
import io.bathra.track.Tracker;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Makes tracked objects of rows: one object per row, those of one query a cohort. */
final class EntityReader {
    private final Transaction transaction;
    private final Tracker tracker;

    EntityReader(Transaction transaction, Tracker tracker) {
        this.transaction = transaction;
        this.tracker = tracker;
    }

    /** Reads the rows of a select over the stored attributes of an entity. */
    <E> List<Entry<E>> read(String cause, ModelEntity<E> entity, SqlText select) {
        List<Entry<E>> entries = new ArrayList<>();
        Cohort cohort = new Cohort();
        transaction.query(cause, select, result -> {
            Entry<E> entry = entry(entity, row(transaction, entity, result));
            cohort.add(entry);
            entries.add(entry);
        });
        return entries;
    }

    /** The values of one row by slot. */
    static @Nullable Object[] row(Transaction transaction, ModelEntity<?> entity, ResultSet result)
            throws SQLException {
        List<StoredAttribute> stored = entity.stored();
        @Nullable Object[] row = new Object[stored.size()];
        int index = 1;
        for (StoredAttribute attribute : stored) {
            List<StoredColumn> columns = attribute.columns();
            if (columns.size() == 1) {
                row[attribute.slot()] =
                        transaction.read(result, index++, columns.get(0).type());
                continue;
            }
            List<@Nullable Object> parts = new ArrayList<>(columns.size());
            for (StoredColumn column : columns) {
                parts.add(transaction.read(result, index++, column.type()));
            }
            row[attribute.slot()] = attribute.shape().assemble(parts);
        }
        return row;
    }

    @SuppressWarnings("unchecked") // an entity's keys lead to entries of that entity
    private <E> Entry<E> entry(ModelEntity<E> entity, @Nullable Object[] row) {
        Entry<?> known = tracker.entry(entity, Objects.requireNonNull(entity.keyIn(row)));
        if (known == null) {
            return tracker.stored(entity, entity.instantiate(), row);
        }
        tracker.refresh(known, row);
        return (Entry<E>) known;
    }
}
