package io.bathra.ledger;

import io.bathra.error.BathraException;
import io.bathra.flush.Environment;
import io.bathra.jdbc.ColumnReader;
import io.bathra.jdbc.LiveTables;
import io.bathra.jdbc.Settings;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ColumnType;
import io.bathra.sql.SqlText;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** One connection, on which each statement stands for itself unless a statement has begun a transaction. */
final class Session implements AutoCloseable {
    private static final String CAUSE = "change";
    private static final ColumnType TEXT = ColumnType.text(0);
    private static final ColumnType NUMBER = ColumnType.number();
    private static final ColumnType TIME = ColumnType.of(Instant.class).orElseThrow();

    private final Transaction transaction;

    Session(Environment environment) {
        transaction = environment.transaction(environment.recorder(), Settings.ALONE);
    }

    void execute(String sql) {
        transaction.execute(CAUSE, sql);
    }

    /** Executes a statement with values; tells how many rows it has concerned. */
    long update(String sql, @Nullable Object... values) {
        return transaction.execute(CAUSE, text(sql, values));
    }

    /** The answer to a query, each value as a text. */
    List<List<@Nullable String>> rows(String sql, @Nullable Object... values) {
        List<List<@Nullable String>> rows = new ArrayList<>();
        transaction.query(CAUSE, text(sql, values), result -> {
            List<@Nullable String> row = new ArrayList<>();
            for (int i = 1; i <= result.getMetaData().getColumnCount(); i++) {
                row.add(result.getString(i));
            }
            rows.add(row);
        });
        return rows;
    }

    /** The answer to a query, each value of the type of its column. */
    List<List<@Nullable Object>> rows(String sql, List<ColumnType> types) {
        List<ColumnReader> readers = types.stream().map(transaction::reader).toList();
        List<List<@Nullable Object>> rows = new ArrayList<>();
        transaction.query(CAUSE, text(sql, new Object[0]), result -> {
            List<@Nullable Object> row = new ArrayList<>();
            for (int i = 0; i < readers.size(); i++) {
                row.add(readers.get(i).read(result, i + 1));
            }
            rows.add(row);
        });
        return rows;
    }

    /** The only value of the only row of an answer; null for none. */
    @Nullable
    String value(String sql, @Nullable Object... values) {
        List<List<@Nullable String>> rows = rows(sql, values);
        return rows.isEmpty() ? null : rows.get(0).get(0);
    }

    private static SqlText text(String sql, @Nullable Object[] values) {
        List<SqlText.Param> params = new ArrayList<>();
        for (Object value : values) {
            ColumnType type = value instanceof Long ? NUMBER : value instanceof Instant ? TIME : TEXT;
            params.add(new SqlText.Value(type, value));
        }
        return new SqlText(sql, params);
    }

    /** What the database has. */
    LiveTables live() {
        return new LiveTables(transaction);
    }

    /** Whatever was begun is taken back, if the connection is still there. */
    void rollback() {
        quietly(List.of("rollback"));
    }

    /** Executes what is to be done at the end, which must not hide why the end has come. */
    void quietly(List<String> statements) {
        try {
            statements.forEach(this::execute);
        } catch (BathraException e) {
            return; // the connection is gone, and with it what was to be changed back
        }
    }

    @Override
    public void close() {
        transaction.close();
    }
}
