package io.bathra.jdbc;

import io.bathra.catalogue.Catalogue;
import io.bathra.catalogue.SqliteCatalogue;
import io.bathra.error.BathraException;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.mapping.ColumnType;
import io.bathra.sql.SqliteDialect;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.sqlite.SQLiteConnection;
import org.sqlite.SQLiteErrorCode;
import org.sqlite.SQLiteException;

/** The driver of SQLite. Transactions are given as SQL text, since only that can ask for the write lock at once. */
final class SqliteDatabase extends TextualDatabase {
    /** The part of an error's code that tells its kind. */
    private static final int PRIMARY = 0xFF;

    private static final Pattern CHECK = Pattern.compile("CHECK constraint failed: ([^)]+)");
    private static final Pattern COLUMNS = Pattern.compile("failed: ([^.)]+\\.[^)]+)");

    SqliteDatabase(@Nullable String schema) {
        super(new SqliteDialect(schema), new TextTimes('T', "Z"));
    }

    @Override
    Catalogue catalogue(Connection connection) {
        return new SqliteCatalogue(connection, dialect());
    }

    // ---- transactions

    /**
     * With auto-commit off, the driver has begun already. A checkpoint is refused while anything is read or written,
     * and else has nothing to do.
     */
    @Override
    boolean isUnderWay(Connection connection) throws SQLException {
        if (connection.getAutoCommit()
                || !connection.unwrap(SQLiteConnection.class).isFirstStatementExecuted()) {
            return false;
        }
        try {
            execute(connection, "pragma wal_checkpoint");
            return false;
        } catch (SQLException e) {
            if ((e.getErrorCode() & PRIMARY) == SQLiteErrorCode.SQLITE_LOCKED.code) {
                return true;
            }
            throw e;
        }
    }

    @Override
    Begun begin(AsItCame connection, Settings settings) throws SQLException {
        Limits limits = limit(connection, settings);
        connect(connection); // with auto-commit off, the driver would begin on its own
        if (settings.readOnly()) {
            on(connection, "query_only");
        }
        try {
            connection.execute(settings.readOnly() ? "begin" : "begin immediate");
            return new Begun(limits, List.of());
        } catch (SQLException e) {
            if (String.valueOf(e.getMessage()).contains("within a transaction")) {
                throw Loan.underWay();
            }
            throw e;
        }
    }

    /** Foreign keys can be switched on outside a transaction only. */
    @Override
    void connect(AsItCame connection) throws SQLException {
        super.connect(connection);
        on(connection, "foreign_keys");
    }

    private static void on(AsItCame connection, String pragma) throws SQLException {
        if (single(connection.connection(), "pragma " + pragma).equals("0")) {
            connection.set("pragma " + pragma + " = on", "pragma " + pragma + " = off");
        }
    }

    private static Limits limit(AsItCame connection, Settings settings) throws SQLException {
        if (settings.lockMillis() > 0) {
            String before = single(connection.connection(), "pragma busy_timeout");
            connection.set("pragma busy_timeout = " + settings.lockMillis(), "pragma busy_timeout = " + before);
        }
        return settings.statementMillis() > 0 ? stopwatch(connection, settings.statementMillis()) : Limits.NONE;
    }

    @Override
    Limits limitGuest(AsItCame connection, long statementMillis) throws SQLException {
        return stopwatch(connection, statementMillis);
    }

    private static Limits stopwatch(AsItCame connection, long millis) throws SQLException {
        SqliteStopwatch stopwatch = SqliteStopwatch.on(connection.connection(), millis);
        connection.atLast(stopwatch::remove);
        return statement -> stopwatch.start();
    }

    @Override
    void commit(Connection connection) throws SQLException {
        execute(connection, "commit");
    }

    @Override
    void rollback(Connection connection) throws SQLException {
        execute(connection, "rollback");
    }

    /**
     * As a batch of one: behind {@code executeUpdate()} the driver searches the statement by a regular expression for
     * whether there may be generated keys, which takes longer than a short statement itself.
     */
    @Override
    int update(PreparedStatement statement) throws SQLException {
        statement.addBatch();
        return statement.executeBatch()[0];
    }

    /** A statement that writes takes the transaction with it when it is interrupted. */
    @Override
    boolean endsTransaction(Failure failure) {
        return failure == Failure.STATEMENT_TIMEOUT || super.endsTransaction(failure);
    }

    /** Whether connections share a database that is gone with the last of them. */
    static boolean isInMemory(String url) {
        return url.startsWith("jdbc:sqlite:") && url.contains("mode=memory");
    }

    static boolean isOfOneConnection(String url) {
        return url.startsWith("jdbc:sqlite::memory:") || url.equals("jdbc:sqlite:");
    }

    /** The driver would cut a number that is too large. */
    @Override
    ColumnReader newReader(ColumnType type) {
        return switch (type.kind()) {
            case BYTE -> within(type, Byte.MIN_VALUE, Byte.MAX_VALUE);
            case SHORT -> within(type, Short.MIN_VALUE, Short.MAX_VALUE);
            case INTEGER -> within(type, Integer.MIN_VALUE, Integer.MAX_VALUE);
            default -> super.newReader(type);
        };
    }

    private ColumnReader within(ColumnType type, long least, long most) {
        ColumnReader plain = super.newReader(type);
        return (result, index) -> {
            long value = result.getLong(index);
            if (value < least || value > most) {
                throw new BathraException("a row holds " + value + ", which does not fit a "
                        + type.javaType().getSimpleName());
            }
            return plain.read(result, index);
        };
    }

    // ---- errors

    @Override
    public boolean isThereAlready(SQLException e) {
        return String.valueOf(e.getMessage()).contains("already exists");
    }

    @Override
    public boolean isTableMissing(SQLException e) {
        return String.valueOf(e.getMessage()).contains("no such table");
    }

    /** It tells the columns. */
    @Override
    boolean tellsDuplicates() {
        return false;
    }

    @Override
    boolean takesNoWrites(SQLException e) {
        return (e.getErrorCode() & PRIMARY) == SQLiteErrorCode.SQLITE_READONLY.code;
    }

    @Override
    Failure failure(SQLException e) {
        if (!(e instanceof SQLiteException own)) {
            // The driver's own checks carry no code at all.
            boolean closed = String.valueOf(e.getMessage()).contains("closed");
            return closed ? Failure.CONNECTION_LOST : super.failure(e);
        }
        SQLiteErrorCode code = own.getResultCode();
        return switch (code) {
            case SQLITE_CONSTRAINT_UNIQUE, SQLITE_CONSTRAINT_PRIMARYKEY, SQLITE_CONSTRAINT_ROWID -> Failure.UNIQUE;
            case SQLITE_CONSTRAINT_FOREIGNKEY -> Failure.FOREIGN_KEY;
            case SQLITE_CONSTRAINT_NOTNULL -> Failure.NOT_NULL;
            case SQLITE_CONSTRAINT_CHECK -> Failure.CHECK;
            case SQLITE_BUSY, SQLITE_LOCKED -> Failure.LOCK_TIMEOUT;
            case SQLITE_INTERRUPT -> Failure.STATEMENT_TIMEOUT;
            case SQLITE_BUSY_SNAPSHOT -> Failure.SERIALIZATION;
            default -> Failure.OTHER;
        };
    }

    @Override
    Place place(SQLException e, @Nullable String writtenTable, ConstraintCatalogue constraints) {
        String message = String.valueOf(e.getMessage());
        Matcher check = CHECK.matcher(message);
        if (check.find()) {
            return constraints.constraint(check.group(1), writtenTable, null);
        }
        Matcher list = COLUMNS.matcher(message);
        if (!list.find()) {
            return unknownPlace();
        }
        List<String> columns = new ArrayList<>();
        String table = "";
        for (String column : list.group(1).split(", ")) {
            int dot = column.indexOf('.');
            table = column.substring(0, dot);
            columns.add(column.substring(dot + 1));
        }
        return constraints.columns(table, columns);
    }
}
