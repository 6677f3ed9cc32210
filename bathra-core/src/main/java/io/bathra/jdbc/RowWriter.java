package io.bathra.jdbc;

import io.bathra.error.UniqueViolation;
import io.bathra.sql.WriteForm;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Gives rows to the database in the form that its dialect has chosen. */
public final class RowWriter {
    private final Transaction transaction;
    private final Database database;
    private final Binding binding;

    public RowWriter(Transaction transaction) {
        this.transaction = transaction;
        this.database = transaction.database();
        this.binding = new Binding(database);
    }

    /**
     * Writes rows, in as many statements as the form needs.
     *
     * @param rows their values by slot
     * @return how many rows the database has written
     */
    public long write(CharSequence cause, WriteForm form, List<@Nullable Object[]> rows) {
        WriteForm otherwise = form.otherwise();
        if (otherwise != null && !transaction.copies()) {
            return write(cause, otherwise, rows);
        }
        long written = 0;
        for (int from = 0; from < rows.size(); from += form.chunk()) {
            List<@Nullable Object[]> chunk = chunk(form, rows, from);
            String sql = form.sql().apply(chunk.size());
            if (form.binding() == WriteForm.Binding.COPY) {
                try (Copying copying = transaction.copying(cause, sql, form.table(), form.parameters())) {
                    chunk.forEach(copying::write);
                    written += copying.end();
                }
                continue;
            }
            written += run(cause, sql, form, chunk, statement -> {
                transaction.markWritten();
                return switch (form.binding()) {
                    case BATCH -> batch(statement, form, chunk);
                    case MULTI_ROW -> multiRow(statement, form, chunk);
                    case ARRAYS -> arrays(statement, form, chunk);
                    case COPY -> throw new IllegalStateException("copied rows need no placeholders");
                };
            });
        }
        return written;
    }

    /** The word for the way in which a form gives rows to the database, or the form that takes its place. */
    public String path(WriteForm form) {
        WriteForm otherwise = form.otherwise();
        return (otherwise != null && !transaction.copies() ? otherwise : form)
                .binding()
                .toString();
    }

    /**
     * Writes rows by statements that answer with rows.
     *
     * @param rows their values by slot
     * @param handler takes each row of the answers
     */
    public void write(
            CharSequence cause, WriteForm form, List<@Nullable Object[]> rows, Transaction.RowHandler handler) {
        for (int from = 0; from < rows.size(); from += form.chunk()) {
            List<@Nullable Object[]> chunk = chunk(form, rows, from);
            String sql = form.sql().apply(chunk.size());
            run(cause, sql, form, chunk, statement -> {
                transaction.markWritten();
                if (form.binding() == WriteForm.Binding.ARRAYS) {
                    binding.arrays(statement, 1, form.parameters(), chunk);
                } else {
                    bindRows(statement, form, chunk);
                }
                return Statements.handOver(statement, handler);
            });
        }
    }

    /** The rows of one statement, from an index on. */
    private static List<@Nullable Object[]> chunk(WriteForm form, List<@Nullable Object[]> rows, int from) {
        return rows.size() <= form.chunk() ? rows : rows.subList(from, Math.min(rows.size(), from + form.chunk()));
    }

    private long run(
            CharSequence cause, String sql, WriteForm form, List<@Nullable Object[]> rows, Statements.Use use) {
        try {
            return transaction
                    .statements()
                    .run(
                            cause,
                            sql,
                            Shown.of(form, rows.size(), sql),
                            form.binding().toString(),
                            use);
        } catch (UniqueViolation e) {
            throw Duplicates.named(transaction, e, form, rows);
        }
    }

    private long batch(PreparedStatement statement, WriteForm form, List<@Nullable Object[]> rows) throws SQLException {
        if (rows.size() == 1) {
            binding.row(statement, 1, form.parameters(), rows.get(0));
            return database.update(statement);
        }
        for (Object[] row : rows) {
            binding.row(statement, 1, form.parameters(), row);
            statement.addBatch();
        }
        long written = 0;
        for (int count : statement.executeBatch()) {
            written += count == Statement.SUCCESS_NO_INFO ? 1 : count;
        }
        return written;
    }

    private long multiRow(PreparedStatement statement, WriteForm form, List<@Nullable Object[]> rows)
            throws SQLException {
        bindRows(statement, form, rows);
        return database.update(statement);
    }

    private void bindRows(PreparedStatement statement, WriteForm form, List<@Nullable Object[]> rows)
            throws SQLException {
        int index = 1;
        for (Object[] row : rows) {
            index = binding.row(statement, index, form.parameters(), row);
        }
    }

    private long arrays(PreparedStatement statement, WriteForm form, List<@Nullable Object[]> rows)
            throws SQLException {
        binding.arrays(statement, 1, form.parameters(), rows);
        return database.update(statement);
    }
}
