package io.bathra.jdbc;

import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.Shape;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.sql.SelectWriter;
import io.bathra.sql.SqlText;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Reads rows by their keys, in as few statements as the number of keys allows. */
public final class KeyedRows {
    private static final int CHUNK = 8_000;

    private KeyedRows() {}

    /** The values of one row by slot. */
    public static @Nullable Object[] row(Transaction transaction, ModelEntity<?> entity, ResultSet result)
            throws SQLException {
        return transaction.rowReader(entity).row(result, 1);
    }

    /** The value of an attribute whose columns begin at an index. */
    public static @Nullable Object value(Transaction transaction, StoredAttribute attribute, ResultSet result, int from)
            throws SQLException {
        List<StoredColumn> columns = attribute.columns();
        if (columns.size() == 1) {
            Object value = transaction.read(result, from, columns.get(0).gate());
            return attribute.isOneValue() ? value : attribute.shape().assemble(asList(value));
        }
        List<@Nullable Object> parts = new ArrayList<>(columns.size());
        for (StoredColumn column : columns) {
            parts.add(transaction.read(result, from + column.part(), column.gate()));
        }
        return attribute.shape().assemble(parts);
    }

    private static List<@Nullable Object> asList(@Nullable Object value) {
        List<@Nullable Object> list = new ArrayList<>(1);
        list.add(value);
        return list;
    }

    /**
     * Reads the rows with these keys as they are now, in as few statements as their number allows.
     *
     * @param locking what follows the select
     */
    public static void readAgain(
            Transaction transaction,
            CharSequence cause,
            ModelEntity<?> entity,
            List<Object> keys,
            String locking,
            Consumer<@Nullable Object[]> use) {
        for (List<Object> some : chunks(keys, entity.keyColumns().size())) {
            SqlText select = transaction.database().dialect().selects().rows(entity, some);
            transaction.query(cause, select.locking(locking), result -> use.accept(row(transaction, entity, result)));
        }
    }

    /** Asks for the rows with these keys, which must be {@linkplain #areFew few}, behind what a trip writes. */
    public static void askAgain(
            Transaction transaction,
            Trip trip,
            CharSequence cause,
            ModelEntity<?> entity,
            List<Object> keys,
            Consumer<@Nullable Object[]> use) {
        SqlText select = transaction.database().dialect().selects().rows(entity, keys);
        Asked asked = new Asked(cause, select, result -> use.accept(row(transaction, entity, result)));
        trip.ask(asked, null, () -> {});
    }

    /**
     * Reads the rows in which some columns together have one of these values.
     *
     * @param shape how the values lie in the columns
     * @param locking what follows the select
     */
    public static void read(
            Transaction transaction,
            CharSequence cause,
            ModelEntity<?> entity,
            List<StoredColumn> columns,
            Shape shape,
            Collection<Object> values,
            String locking,
            Consumer<@Nullable Object[]> use) {
        for (List<Object> some : chunks(values, columns.size())) {
            SqlText select = SelectWriter.rowsWith(transaction.database().dialect(), entity, columns, shape, some);
            transaction.query(cause, select.locking(locking), result -> use.accept(row(transaction, entity, result)));
        }
    }

    /** Whether keys fit into one statement. */
    public static boolean areFew(Collection<?> keys, int columns) {
        return keys.size() <= CHUNK / columns;
    }

    /** Keys in portions that one statement takes. */
    public static List<List<Object>> chunks(Collection<Object> keys, int columns) {
        int chunk = CHUNK / columns;
        List<Object> all = keys instanceof List<Object> list ? list : new ArrayList<>(keys);
        if (all.size() <= chunk) {
            return all.isEmpty() ? List.of() : List.of(all); // nearly always
        }
        List<List<Object>> chunks = new ArrayList<>();
        for (int from = 0; from < all.size(); from += chunk) {
            chunks.add(all.subList(from, Math.min(all.size(), from + chunk)));
        }
        return chunks;
    }
}
