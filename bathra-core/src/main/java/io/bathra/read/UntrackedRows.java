package io.bathra.read;

import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import java.sql.ResultSet;
import java.sql.SQLException;
import org.jspecify.annotations.Nullable;

/** Makes objects of rows that no unit knows, in portions that share what they lead to. */
final class UntrackedRows<E> {
    private static final int PORTION = 1_000;

    private final Mapping model;
    private final Transaction transaction;
    private final ModelEntity<E> entity;
    private @Nullable EntityReader reader;
    private int made;

    UntrackedRows(Mapping model, Transaction transaction, ModelEntity<E> entity) {
        this.model = model;
        this.transaction = transaction;
        this.entity = entity;
    }

    /** The object of a result's row, which holds the entity's columns in their order. */
    E next(ResultSet result) throws SQLException {
        return of(KeyedRows.row(transaction, entity, result));
    }

    /** The object of a row. */
    E of(@Nullable Object[] row) {
        if (reader == null || made++ % PORTION == 0) {
            reader = EntityReader.untracked(model, transaction);
        }
        return reader.object(entity, row);
    }
}
