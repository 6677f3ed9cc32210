package io.bathra.jdbc;

import io.bathra.catalogue.Catalogue;
import io.bathra.catalogue.DriverWords;
import io.bathra.error.BathraException;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.error.SerializationFailure;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Dialect;
import io.bathra.sql.Parameter;
import io.bathra.sql.Together;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/**
 * What one database's driver does in its own way: values in statements and results, and the meaning of its errors. What
 * drivers agree on stands here.
 */
public abstract class Database {
    private static final int FETCHED_AT_ONCE = 1_000;

    /** The SQLState of a write in a read-only transaction. */
    private static final String READ_ONLY = "25006";

    /** The SQLStates of a table that is not there. */
    private static final Set<String> TABLE_MISSING = Set.of("42P01", "42S02", "42S03", "42S04");

    /** The SQLStates of a table, an index, a schema or anything else that is there already. */
    private static final Set<String> THERE_ALREADY = Set.of("42P07", "42P06", "42710", "42S01", "42S11");

    /** The SQLState of a text that would have to be cut. */
    private static final String STRING_TOO_LONG = "22001";

    private final Dialect dialect;
    private final Map<ColumnType, ColumnReader> readers = new ConcurrentHashMap<>();
    private final Map<ModelEntity<?>, RowReader> rowReaders = new ConcurrentHashMap<>();
    private final ValueReaders valueReaders = new ValueReaders(this);
    private final Set<String> apart = ConcurrentHashMap.newKeySet();

    Database(Dialect dialect) {
        this.dialect = dialect;
    }

    /**
     * The database at the other end of a connection.
     *
     * @param schema where the tables are; null for the connection's own
     * @throws BathraException when it is none that Bathra knows
     */
    public static Database of(Connection connection, @Nullable String schema) throws SQLException {
        return named(connection.getMetaData().getDatabaseProductName(), schema).at(connection);
    }

    /** The same with what a connection tells of the way to it. */
    Database at(Connection connection) throws SQLException {
        return this;
    }

    /** The same behind a pooler that gives each transaction to any of its sessions. */
    public Database throughPooler() {
        return this;
    }

    /** Whether sessions are not the connections' own. */
    public boolean isThroughPooler() {
        return false;
    }

    /**
     * Readies a connection that was just taken.
     *
     * @throws BathraException when work would get lost on it
     */
    void ready(AsItCame connection) throws SQLException {}

    /**
     * The database of a name.
     *
     * @param schema where the tables are; null for the connection's own
     * @throws BathraException when it is none that Bathra knows
     */
    public static Database named(String product, @Nullable String schema) {
        return switch (product) {
            case "H2" -> new H2Database(schema);
            case "SQLite" -> new SqliteDatabase(schema);
            case "PostgreSQL" -> new PostgresDatabase(schema);
            case "MariaDB" -> new MariaDbDatabase(schema);
            default ->
                throw new BathraException(
                        "there is no dialect for " + product + "; use H2, SQLite, PostgreSQL or MariaDB");
        };
    }

    public final Dialect dialect() {
        return dialect;
    }

    /** Whether a database behind this URL is gone when its last connection is closed. */
    public static boolean livesWithConnection(String url) {
        return H2Database.isInMemory(url) || SqliteDatabase.isInMemory(url);
    }

    /** Refuses a database that is another, empty one for each connection. */
    static void refuseForgetful(String url) {
        if (SqliteDatabase.isOfOneConnection(url)) {
            throw new BathraException("each connection to " + url + " has an empty database of its own; use"
                    + " jdbc:sqlite:file:NAME?mode=memory&cache=shared, a file, or jdbc:h2:mem:NAME");
        }
    }

    /** What the database has. */
    abstract Catalogue catalogue(Connection connection);

    // ---- transactions

    /**
     * Whether a connection has come in the middle of a transaction in which something was done, as far as its driver
     * tells.
     */
    abstract boolean isUnderWay(Connection connection) throws SQLException;

    /**
     * How a transaction has begun.
     *
     * @param limits what limits its statements one by one
     * @param opening what is to be executed before any other statement, and may go over with it
     */
    record Begun(Limits limits, List<String> opening) {
        static final Begun PLAIN = new Begun(Limits.NONE, List.of());
    }

    /** Begins a transaction on a connection that has none. */
    abstract Begun begin(AsItCame connection, Settings settings) throws SQLException;

    /**
     * Whether queries see the same without a transaction as at the beginning of one, so that none need begin for them;
     * readies the connection for that.
     */
    boolean readsAlone(AsItCame connection, boolean readOnly) throws SQLException {
        return false;
    }

    // ---- statements that are sent together

    /** How a connection takes several statements at once; null where it does not. */
    @Nullable
    Together together(Connection connection) throws SQLException {
        return null;
    }

    /** Rows of a table are not written together with others any more, since the server has refused it. */
    final void takeApart(String table) {
        apart.add(table);
    }

    /** Whether rows of a table have to be written by themselves. */
    final boolean takesApart(String table) {
        return !apart.isEmpty() && apart.contains(table);
    }

    /**
     * The number of the part that has concerned another number of rows than it should; 0 when that is not the error.
     */
    int missedPart(SQLException e) {
        return 0;
    }

    /** Whether the server may have executed the beginning of a text that has failed. */
    boolean mayHaveExecuted(Connection connection) throws SQLException {
        return true;
    }

    /**
     * The number of the statement of a text that has failed, as far as the database tells; 0 where it does not.
     *
     * @param statements the statements that write, in order
     */
    int failedPart(Connection connection, SQLException e, List<Shown> statements) {
        return 0;
    }

    /** Whether statements were refused for no other reason than that they were sent together. */
    boolean isOnlyTogether(SQLException e) {
        return false;
    }

    /** Whether a transaction that was begun by a statement has been ended by another one. */
    boolean isOver(Connection connection) throws SQLException {
        return false;
    }

    /**
     * Whether the server is one of several that all take writes, each of which may lag behind what was committed on
     * another.
     */
    public boolean isOneOfSeveral() {
        return false;
    }

    /** Whether a failure is that of a key which two servers of a cluster have drawn. */
    public final boolean isKeyDrawnTwice(BathraException e) {
        return isOneOfSeveral()
                && e instanceof SerializationFailure
                && e.getCause() instanceof SQLException cause
                && failure(cause) == Failure.UNIQUE;
    }

    /** The same for a model: one of its tables may be of use. */
    public Database servedBy(Mapping model) {
        return this;
    }

    /**
     * Statements that write a row and take it away again, so that a savepoint behind them is kept; none where that is
     * not needed, or no table is there for it.
     */
    List<String> passingRow() {
        return List.of();
    }

    /**
     * Whether a statement has written rows for sure where it says so; asked where {@link #isOneOfSeveral} alone,
     * since one server keeps savepoints whatever was done before.
     */
    boolean writesRows(String sql) {
        return false;
    }

    /** How far the database has come, as a text; null where nobody can tell. */
    @Nullable
    String position(Connection connection) throws SQLException {
        return null;
    }

    /**
     * Waits until a standby has come as far as another server had.
     *
     * @param millis how long at the most
     * @return whether it has
     * @throws BathraException when the position is another product's
     */
    boolean comesTo(Connection connection, String position, long millis) throws SQLException {
        throw new BathraException("the position " + position + " is none of " + dialect.name()
                + "; give one that a commit on this database has told");
    }

    /** Whether it is for sure that no statement of the transaction has failed. */
    boolean isUnscathed(Connection connection) throws SQLException {
        return false;
    }

    /** Readies a connection for statements that stand for themselves. */
    void connect(AsItCame connection) throws SQLException {
        connection.autoCommit(true);
    }

    /**
     * Limits each statement of a guest in somebody else's transaction, by itself: nothing is sent in between. JDBC
     * counts in whole seconds.
     */
    Limits limitGuest(AsItCame connection, long statementMillis) throws SQLException {
        int seconds = seconds(statementMillis);
        return statement -> {
            statement.setQueryTimeout(seconds);
            return Limits.Running.UNLIMITED;
        };
    }

    static int seconds(long millis) {
        return (int) Math.min(Integer.MAX_VALUE, (millis + 999) / 1_000);
    }

    /** What a query answers with in its only column of its only row. */
    static String single(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(sql)) {
            result.next();
            return String.valueOf(result.getString(1));
        }
    }

    // ---- streams

    /** Readies the connection for a query with many rows. */
    void beginStream(Connection connection) throws SQLException {}

    /** The query with many rows has been read. */
    void endStream(Connection connection) throws SQLException {}

    /** How many rows of a stream the driver fetches at once. */
    int fetchSize() {
        return FETCHED_AT_ONCE;
    }

    void commit(Connection connection) throws SQLException {
        connection.commit();
    }

    void rollback(Connection connection) throws SQLException {
        connection.rollback();
    }

    /** Marks a place that the transaction can go back to. */
    void savepoint(Connection connection, String name) throws SQLException {
        execute(connection, "savepoint " + name);
    }

    /**
     * Goes back to a place; tells whether it had been marked.
     *
     * @param doubtful whether it may not have been, so that there is nothing to go back from
     */
    boolean rollbackToSavepoint(Connection connection, String name, boolean doubtful) throws SQLException {
        execute(connection, "rollback to savepoint " + name);
        return true;
    }

    void releaseSavepoint(Connection connection, String name) throws SQLException {
        execute(connection, "release savepoint " + name);
    }

    /** Executes a prepared statement that writes and has no answer; tells how many rows it has written. */
    int update(PreparedStatement statement) throws SQLException {
        return statement.executeUpdate();
    }

    static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    // ---- values

    /** Binds one value to a placeholder. */
    void bind(PreparedStatement statement, int index, ColumnType type, @Nullable Object value) throws SQLException {
        statement.setObject(index, value == null ? null : toJdbc(type, value));
    }

    /** Binds all values to one placeholder. */
    void bindArray(PreparedStatement statement, int index, ColumnType type, @Nullable Object[] values)
            throws SQLException {
        throw new IllegalStateException(dialect.name() + " takes no arrays");
    }

    /** The value as a driver takes it. */
    Object toJdbc(ColumnType type, Object value) {
        return switch (type.kind()) {
            case BYTE -> ((Byte) value).shortValue();
            case ENUM -> value instanceof Enum<?> constant ? constant.name() : value;
            case CHARACTER -> value.toString();
            case INSTANT -> ((Instant) value).atOffset(ZoneOffset.UTC);
            default -> value;
        };
    }

    /** What reads the columns of a type, made once. */
    public final ColumnReader reader(ColumnType type) {
        return readers.computeIfAbsent(type, this::newReader);
    }

    /** What reads the columns behind a gate; what is wrong with a secret is told without it. */
    final ColumnReader reader(Gate gate) {
        ColumnReader reader = reader(gate.type());
        return !gate.isSecret()
                ? reader
                : (result, index) -> {
                    try {
                        return gate.read(reader.read(result, index));
                    } catch (BathraException | DateTimeException e) {
                        throw new BathraException(gate + " holds a secret that is no "
                                + gate.type().javaType().getSimpleName());
                    } catch (SQLException e) {
                        throw new SQLException(
                                gate + " holds a secret that cannot be read", e.getSQLState(), e.getErrorCode());
                    }
                };
    }

    /** What reads the columns of a type; a driver that has a way of its own says so. */
    ColumnReader newReader(ColumnType type) {
        return StandardReaders.of(type);
    }

    /** A value of a column that no model tells about. */
    @Nullable
    Object readPlain(ResultSet result, int index) throws SQLException {
        return PlainValues.read(result, index, result.getObject(index));
    }

    /** What reads the rows of an entity, made once. */
    public final RowReader rowReader(ModelEntity<?> entity) {
        RowReader known = rowReaders.get(entity);
        return known != null ? known : rowReaders.computeIfAbsent(entity, one -> RowReader.inOrder(this, one));
    }

    final ValueReaders valueReaders() {
        return valueReaders;
    }

    // ---- rows that follow a statement

    /** Whether a connection's driver can send rows behind a statement. */
    boolean copies(Connection connection) throws SQLException {
        return false;
    }

    /** Begins to send rows behind a statement; until the end, nothing else goes over the connection. */
    RowSink sink(Connection connection, String sql, List<Parameter> parameters) throws SQLException {
        throw new UnsupportedOperationException(dialect.name() + " takes no rows behind a statement");
    }

    /** Takes rows that follow a statement. */
    interface RowSink {
        /** Sends a row, given as its values by slot, or keeps it to be sent with others. */
        void write(@Nullable Object[] row) throws SQLException;

        /** Sends what is left; tells how many rows the database has taken. */
        long end() throws SQLException;

        /** Gives up, where that is still possible; the database forgets the rows. */
        void cancel() throws SQLException;
    }

    // ---- errors

    /** What an error means. */
    Failure failure(SQLException e) {
        return Failure.ofState(e.getSQLState());
    }

    /** Whether a statement was to create something that is there, or that somebody else is creating. */
    public boolean isThereAlready(SQLException e) {
        return THERE_ALREADY.contains(String.valueOf(e.getSQLState()));
    }

    /** Whether a statement names a table that is not there. */
    public boolean isTableMissing(SQLException e) {
        return TABLE_MISSING.contains(String.valueOf(e.getSQLState()));
    }

    /** Whether errors tell the values that are there already. */
    boolean tellsDuplicates() {
        return true;
    }

    /** Whether a statement was refused since it writes, and nothing may be written. */
    boolean takesNoWrites(SQLException e) {
        return READ_ONLY.equals(e.getSQLState());
    }

    /** An error that is none of the usual ones in words of ours; null where the driver's have to do. */
    @Nullable
    String explained(SQLException e) {
        if (takesNoWrites(e)) {
            return "the database takes no writes here, since the transaction or the server is read-only ("
                    + DriverWords.of(e) + "); leave readOnly() out, or connect to a server that takes writes";
        }
        if (isTableMissing(e)) {
            return dialect.name() + " refused a statement: " + DriverWords.of(e)
                    + "; schema().createMissing() makes the tables of the model that are missing";
        }
        return STRING_TOO_LONG.equals(e.getSQLState())
                ? "a text is longer than a column of the database keeps, though the model says that it fits;"
                        + " schema().verify() names the column"
                : null;
    }

    /** Whether such a failure makes the database roll back the whole transaction by itself. */
    boolean endsTransaction(Failure failure) {
        return failure == Failure.DEADLOCK || failure == Failure.SERIALIZATION;
    }

    /**
     * Where a constraint was violated, as far as the driver tells.
     *
     * @param table the table that was written to, where that is known
     */
    abstract Place place(SQLException e, @Nullable String table, ConstraintCatalogue constraints);

    /** The exception of ours for an error of a statement. */
    final BathraException translate(SQLException thrown, Shown statement, ConstraintCatalogue constraints) {
        return new Errors(this, constraints).translate(thrown, statement);
    }

    static Place unknownPlace() {
        return new Place(null, List.of(), null, null);
    }
}
