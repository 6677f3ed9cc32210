package io.bathra.jdbc;

import io.bathra.catalogue.Catalogue;
import io.bathra.catalogue.DriverWords;
import io.bathra.catalogue.PostgresCatalogue;
import io.bathra.error.BathraException;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.mapping.Years;
import io.bathra.sql.Parameter;
import io.bathra.sql.PostgresDialect;
import io.bathra.sql.Together;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Time;
import java.sql.Timestamp;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.locks.LockSupport;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.postgresql.core.BaseConnection;
import org.postgresql.core.TransactionState;
import org.postgresql.jdbc.PreferQueryMode;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/** PostgreSQL's own driver. */
final class PostgresDatabase extends Database {
    /** A transaction that stood idle, and one that took, longer than the server lets it. */
    private static final Set<String> IDLE_OR_LONG = Set.of("25P03", "25P04");

    private static final Pattern KEY_VALUE = Pattern.compile("\\([^=]*\\)=\\((.*)\\)");

    /** Whether anything was read or written, or is held otherwise, in the transaction that is open. */
    private static final String LOCKS = "select exists (select 1 from pg_locks where pid = pg_backend_pid()"
            + " and (locktype in ('transactionid', 'advisory') or relation >= 16384))";

    private static final Pattern MISSED = Pattern.compile(Together.MISSED + "(\\d+)");

    /** How positions begin. */
    private static final String WAL = "wal-";

    private static final String NOT_SUPPORTED = "0A000";

    /** The SQLState of a text that should have been a number. */
    private static final String NO_NUMBER = "22P02";

    private final Together together = Objects.requireNonNull(dialect().together());
    private final Levels levels = new Levels();
    private final PostgresPooler pooler;

    PostgresDatabase(@Nullable String schema) {
        this(schema, PostgresPooler.none());
    }

    private PostgresDatabase(@Nullable String schema, PostgresPooler pooler) {
        super(new PostgresDialect(schema));
        this.pooler = pooler;
    }

    @Override
    Database at(Connection connection) throws SQLException {
        BaseConnection own = own(connection);
        if (own == null) {
            return this;
        }
        int number = Integer.parseInt(single(connection, "select pg_backend_pid()"));
        if (!connection.getAutoCommit()) {
            connection.rollback();
        }
        return new PostgresDatabase(dialect().schema(), PostgresPooler.seen(own.getBackendPID(), number));
    }

    @Override
    public Database throughPooler() {
        return new PostgresDatabase(dialect().schema(), PostgresPooler.told());
    }

    @Override
    public boolean isThroughPooler() {
        return pooler.isThere();
    }

    @Override
    void ready(AsItCame connection) throws SQLException {
        pooler.ready(connection, own(connection.connection()));
    }

    /**
     * What was written reaches as far as the commit, unless that did not wait for it. Where the next record will
     * begin lies a page's head further now and then, to which no standby comes before there is one.
     */
    @Override
    String position(Connection connection) throws SQLException {
        return WAL
                + single(
                        connection,
                        "select case current_setting('synchronous_commit') when 'off' then pg_current_wal_insert_lsn() else"
                                + " pg_current_wal_lsn() end");
    }

    /** A server that has become the primary meanwhile has come as far as there is. */
    @Override
    boolean comesTo(Connection connection, String position, long millis) throws SQLException {
        if (!position.startsWith(WAL)) {
            return super.comesTo(connection, position, millis);
        }
        String question = "select not pg_is_in_recovery() or pg_last_wal_replay_lsn() >= '"
                + position.substring(WAL.length()) + "'";
        long end = System.nanoTime() + millis * 1_000_000;
        try {
            for (long pause = 500_000; ; pause = Math.min(2 * pause, 10_000_000)) {
                if (single(connection, question).equals("t")) {
                    return true;
                }
                if (System.nanoTime() > end) {
                    return false;
                }
                LockSupport.parkNanos(pause);
            }
        } finally {
            if (!connection.getAutoCommit()) {
                connection.rollback();
            }
        }
    }

    @Override
    Catalogue catalogue(Connection connection) {
        return new PostgresCatalogue(connection, dialect());
    }

    /**
     * The driver knows whether a transaction has begun. Some pools let that happen when they look whether a connection
     * is still alive; only then the server is asked what was done in it.
     */
    @Override
    boolean isUnderWay(Connection connection) throws SQLException {
        BaseConnection own = own(connection);
        TransactionState state = own == null ? TransactionState.IDLE : own.getTransactionState();
        if (state != TransactionState.OPEN) {
            return state == TransactionState.FAILED;
        }
        if (single(connection, LOCKS).equals("t")) {
            return true;
        }
        execute(connection, "rollback");
        return false;
    }

    /** Everything holds until the end of the transaction, also behind a pooler that gives its session to others. */
    @Override
    Begun begin(AsItCame connection, Settings settings) throws SQLException {
        if (settings.readOnly()) {
            connection.readOnly(); // to the driver: it says so when it begins
        }
        connection.autoCommit(false);
        return settings.isOrdinary() ? Begun.PLAIN : new Begun(Limits.NONE, together.opening(settings.opening(false)));
    }

    /**
     * Under READ COMMITTED each statement sees what is committed when it begins, in a transaction or without one. A
     * session's level is asked for once: whoever changes it later has begun a transaction of his own.
     */
    @Override
    boolean readsAlone(AsItCame connection, boolean readOnly) throws SQLException {
        BaseConnection own = own(connection.connection());
        if (own == null) {
            return false;
        }
        if (readOnly) {
            connection.readOnly();
        }
        connection.autoCommit(true);
        return levels.of(own) == Connection.TRANSACTION_READ_COMMITTED;
    }

    @Override
    @Nullable
    Together together(Connection connection) throws SQLException {
        BaseConnection own = own(connection);
        return own != null && own.getQueryExecutor().getPreferQueryMode() != PreferQueryMode.SIMPLE ? together : null;
    }

    private static @Nullable BaseConnection own(Connection connection) throws SQLException {
        return connection.isWrapperFor(BaseConnection.class) ? connection.unwrap(BaseConnection.class) : null;
    }

    /** A value that is no number, which the guard of a part has made to be cast to one. */
    @Override
    int missedPart(SQLException e) {
        Matcher missed = MISSED.matcher(String.valueOf(e.getMessage()));
        return NO_NUMBER.equals(e.getSQLState()) && missed.find() ? Integer.parseInt(missed.group(1)) : 0;
    }

    /** The server tells no number, but the table of a constraint. */
    @Override
    int failedPart(Connection connection, SQLException e, List<Shown> statements) {
        ServerErrorMessage message = e instanceof PSQLException own ? own.getServerErrorMessage() : null;
        String table = message == null ? null : message.getTable();
        int found = 0;
        for (int i = 0; table != null && i < statements.size(); i++) {
            Shown one = statements.get(i);
            if (table.equals(one.table()) && (found == 0 || one != statements.get(found - 1))) {
                if (found > 0) {
                    return 0; // two steps write to it
                }
                found = i + 1;
            }
        }
        return found;
    }

    /** It counts no rows that a rule writes elsewhere. */
    @Override
    boolean isOnlyTogether(SQLException e) {
        return NOT_SUPPORTED.equals(e.getSQLState());
    }

    /** What the server has refused has made the transaction fail; anything else has not left the driver. */
    @Override
    boolean mayHaveExecuted(Connection connection) throws SQLException {
        BaseConnection own = own(connection);
        return own == null || own.getTransactionState() != TransactionState.OPEN;
    }

    @Override
    boolean isUnscathed(Connection connection) throws SQLException {
        BaseConnection own = own(connection);
        return own != null && own.getTransactionState() != TransactionState.FAILED;
    }

    @Override
    void bindArray(PreparedStatement statement, int index, ColumnType type, @Nullable Object[] values)
            throws SQLException {
        @Nullable Object[] elements = type.kind() == Kind.BYTES ? new byte[values.length][] : new Object[values.length];
        for (int i = 0; i < values.length; i++) {
            Object value = values[i];
            elements[i] = value == null ? null : element(type, value);
        }
        statement.setArray(index, statement.getConnection().createArrayOf(elementName(type), elements));
    }

    /** The driver takes times with a zone for those without, until they are asked for. */
    @Override
    @Nullable
    Object readPlain(ResultSet result, int index) throws SQLException {
        Object value = result.getObject(index);
        boolean time = value instanceof Timestamp || value instanceof Time;
        return switch (time ? result.getMetaData().getColumnTypeName(index) : "") {
            case "timestamptz" -> result.getObject(index, OffsetDateTime.class);
            case "timetz" -> result.getObject(index, OffsetTime.class);
            default -> PlainValues.read(result, index, value);
        };
    }

    /** What has no end is no date of Java's, and the driver gives another one for it. */
    @Override
    ColumnReader newReader(ColumnType type) {
        ColumnReader reader = super.newReader(type);
        if (!TextTimes.covers(type) || type.kind() == Kind.TIME) {
            return reader;
        }
        Years years = dialect().abilities().years();
        return (result, index) -> {
            Object value = reader.read(result, index);
            if (value != null && !years.has(value)) {
                throw new BathraException("it holds " + result.getString(index) + ", which is no "
                        + type.javaType().getSimpleName() + " that could have been stored");
            }
            return value;
        };
    }

    @Override
    boolean copies(Connection connection) throws SQLException {
        return PostgresCopy.isPossible(connection);
    }

    @Override
    RowSink sink(Connection connection, String sql, List<Parameter> parameters) throws SQLException {
        return new PostgresCopy(connection, sql, parameters);
    }

    private Object element(ColumnType type, Object value) {
        return switch (type.kind()) {
            // The driver writes an array's elements as text; java.time's own is what PostgreSQL reads.
            case DATE, TIME, DATE_TIME, INSTANT -> PostgresTimes.text(value);
            default -> toJdbc(type, value);
        };
    }

    private static String elementName(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN -> "bool";
            case BYTE, SHORT -> "int2";
            case INTEGER -> "int4";
            case LONG -> "int8";
            case FLOAT -> "float4";
            case DOUBLE -> "float8";
            case CHARACTER, STRING, LONG_TEXT, ENUM -> "text";
            case DECIMAL -> "numeric";
            case DATE -> "date";
            case TIME -> "time";
            case DATE_TIME -> "timestamp";
            case INSTANT -> "timestamptz";
            case UUID -> "uuid";
            case BYTES -> "bytea";
        };
    }

    @Override
    @Nullable
    String explained(SQLException e) {
        if (isOfAnotherServer(e)) {
            return "a server was not reached that PostgreSQL asks for a foreign table (" + DriverWords.of(e)
                    + "); nothing is stored here, but there it may be, since servers commit one after the other";
        }
        String words = pooler.explained(e);
        return words == null ? super.explained(e) : words;
    }

    /** The server has ended the connection: class 57P is an operator's intervention, the others are time limits. */
    @Override
    Failure failure(SQLException e) {
        String state = e.getSQLState();
        if (isOfAnotherServer(e)) {
            return Failure.OTHER;
        }
        boolean ended = state != null && (state.startsWith("57P") || IDLE_OR_LONG.contains(state));
        return ended ? Failure.CONNECTION_LOST : super.failure(e);
    }

    /**
     * Whether the server tells that its own connection to another one is lost. Where ours is lost, the server's last
     * word is FATAL, if it has one. In other languages than English the two cannot be told apart.
     */
    private static boolean isOfAnotherServer(SQLException e) {
        ServerErrorMessage message = e instanceof PSQLException own ? own.getServerErrorMessage() : null;
        String state = String.valueOf(e.getSQLState());
        return message != null
                && "ERROR".equals(message.getSeverity())
                && ((state.startsWith("08") && !state.equals("08P01")) || state.startsWith("57P"));
    }

    /** Two that change the same row of the catalogue at once are told so in words alone. */
    @Override
    public boolean isThereAlready(SQLException e) {
        return super.isThereAlready(e) || String.valueOf(e.getMessage()).contains("tuple concurrently updated");
    }

    /** The transaction goes on from a savepoint. */
    @Override
    boolean endsTransaction(Failure failure) {
        return false;
    }

    @Override
    Place place(SQLException e, @Nullable String table, ConstraintCatalogue constraints) {
        ServerErrorMessage message = e instanceof PSQLException own ? own.getServerErrorMessage() : null;
        if (message == null) {
            return unknownPlace();
        }
        if (failure(e) == Failure.NOT_NULL) {
            return constraints.column(message.getTable(), String.valueOf(message.getColumn()));
        }
        Matcher detail = KEY_VALUE.matcher(String.valueOf(message.getDetail()));
        return constraints.constraint(
                String.valueOf(message.getConstraint()), message.getTable(), detail.find() ? detail.group(1) : null);
    }
}
