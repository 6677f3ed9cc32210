package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.CheckViolation;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.error.Deadlock;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.LockTimeout;
import io.bathra.error.NotNullViolation;
import io.bathra.error.SerializationFailure;
import io.bathra.error.StatementException;
import io.bathra.error.StatementTimeout;
import io.bathra.error.UniqueViolation;
import io.bathra.jdbc.TableCatalogue.Namespace;
import io.bathra.model.ColumnType;
import io.bathra.model.ModelEntity;
import io.bathra.schema.LiveColumn;
import io.bathra.sql.Dialect;
import io.bathra.sql.Parameter;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/**
 * What one database's driver does in its own way: values in statements and results, and the meaning of its errors. What
 * drivers agree on stands here.
 */
public abstract class Database {
    private static final int FETCHED_AT_ONCE = 1_000;

    private final Dialect dialect;
    private final Map<ColumnType, ColumnReader> readers = new ConcurrentHashMap<>();
    private final Map<ModelEntity<?>, RowReader> rowReaders = new ConcurrentHashMap<>();
    private final ValueReaders valueReaders = new ValueReaders(this);

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
        return named(connection.getMetaData().getDatabaseProductName(), schema);
    }

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
        return H2Database.isInMemory(url);
    }

    // ---- transactions

    /** Begins a transaction; gives back what takes its time limits off the connection again. */
    Limits begin(Connection connection, Settings settings) throws SQLException {
        if (settings.readOnly()) {
            connection.setReadOnly(true);
        }
        connection.setAutoCommit(false);
        return settings.hasTimeouts() ? limit(connection, settings) : Limits.NONE;
    }

    /** Gives the connection the time limits of a transaction. */
    abstract Limits limit(Connection connection, Settings settings) throws SQLException;

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

    void rollbackToSavepoint(Connection connection, String name) throws SQLException {
        execute(connection, "rollback to savepoint " + name);
    }

    void releaseSavepoint(Connection connection, String name) throws SQLException {
        execute(connection, "release savepoint " + name);
    }

    /** Makes the connection what it was before {@code begin}, for whoever gets it next. */
    void end(Connection connection, boolean readOnly) throws SQLException {
        connection.setAutoCommit(true);
        if (readOnly) {
            connection.setReadOnly(false);
        }
    }

    /** Whether transactions have a level of isolation that can be chosen. */
    boolean hasIsolationLevels() {
        return true;
    }

    static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    /** Where the catalogue lists the tables of the model; empty when there is no such schema. */
    Optional<Namespace> namespace(Connection connection) throws SQLException {
        String schema = dialect.schema();
        if (schema == null) {
            return Optional.of(new Namespace(connection.getCatalog(), connection.getSchema()));
        }
        String catalog = connection.getCatalog();
        return listed(schema, connection.getMetaData().getSchemas(), "TABLE_SCHEM")
                .map(listed -> new Namespace(catalog, listed));
    }

    /** What a catalogue calls something of this name. */
    final Optional<String> listed(String name, ResultSet names, String column) throws SQLException {
        try (names) {
            while (names.next()) {
                if (dialect.sameName(name, names.getString(column))) {
                    return Optional.of(names.getString(column));
                }
            }
        }
        return Optional.empty();
    }

    /** A column as the driver lists it, with what this driver does not tell, or tells in its own way. */
    LiveColumn listed(Transaction transaction, String table, LiveColumn column) throws SQLException {
        return column;
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

    /** What reads the columns of a type. A number is missing only where the driver gives zero, so it is asked only then. */
    ColumnReader newReader(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN ->
                (result, index) -> {
                    boolean value = result.getBoolean(index);
                    return !value && result.wasNull() ? null : (Object) value;
                };
            case BYTE ->
                (result, index) -> {
                    byte value = result.getByte(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case SHORT ->
                (result, index) -> {
                    short value = result.getShort(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case INTEGER ->
                (result, index) -> {
                    int value = result.getInt(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case LONG ->
                (result, index) -> {
                    long value = result.getLong(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case FLOAT ->
                (result, index) -> {
                    float value = result.getFloat(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case DOUBLE ->
                (result, index) -> {
                    double value = result.getDouble(index);
                    return value == 0 && result.wasNull() ? null : (Object) value;
                };
            case STRING, LONG_TEXT -> ResultSet::getString;
            case BYTES -> ResultSet::getBytes;
            case DATE -> (result, index) -> result.getObject(index, LocalDate.class);
            case TIME -> (result, index) -> result.getObject(index, LocalTime.class);
            case DATE_TIME -> (result, index) -> result.getObject(index, LocalDateTime.class);
            case UUID -> (result, index) -> result.getObject(index, UUID.class);
            case DECIMAL ->
                (result, index) -> {
                    BigDecimal decimal = result.getBigDecimal(index);
                    return decimal == null ? null : type.kept(decimal);
                };
            case INSTANT ->
                (result, index) -> {
                    OffsetDateTime time = result.getObject(index, OffsetDateTime.class);
                    return time == null ? null : time.toInstant();
                };
            case CHARACTER ->
                (result, index) -> {
                    String text = result.getString(index);
                    return text == null || text.isEmpty() ? null : (Object) text.charAt(0);
                };
            case ENUM -> constants(type);
        };
    }

    private static ColumnReader constants(ColumnType type) {
        Map<String, Object> byName = new HashMap<>();
        for (Object constant : type.javaType().getEnumConstants()) {
            byName.put(((Enum<?>) constant).name(), constant);
        }
        return (result, index) -> {
            String name = result.getString(index);
            Object constant = name == null ? null : byName.get(name);
            if (name != null && constant == null) {
                throw new BathraException("a row holds '" + name + "', which "
                        + type.javaType().getSimpleName() + " does not have; add the constant, or mend the row");
            }
            return constant;
        };
    }

    /** What reads the rows of an entity, made once. */
    public final RowReader rowReader(ModelEntity<?> entity) {
        return rowReaders.computeIfAbsent(entity, one -> RowReader.inOrder(this, one));
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
    enum Failure {
        UNIQUE,
        FOREIGN_KEY,
        NOT_NULL,
        CHECK,
        CONNECTION_LOST,
        DEADLOCK,
        SERIALIZATION,
        LOCK_TIMEOUT,
        STATEMENT_TIMEOUT,
        OTHER
    }

    Failure failure(SQLException e) {
        String state = e.getSQLState() == null ? "" : e.getSQLState();
        if (state.startsWith("08")) {
            return Failure.CONNECTION_LOST;
        }
        return switch (state) {
            case "23505" -> Failure.UNIQUE;
            case "23503", "23506" -> Failure.FOREIGN_KEY;
            case "23502" -> Failure.NOT_NULL;
            case "23514", "23513" -> Failure.CHECK;
            case "40P01" -> Failure.DEADLOCK;
            case "40001" -> Failure.SERIALIZATION;
            case "55P03" -> Failure.LOCK_TIMEOUT;
            case "57014" -> Failure.STATEMENT_TIMEOUT;
            default -> Failure.OTHER;
        };
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
    public final BathraException translate(
            SQLException thrown, String sql, @Nullable String table, ConstraintCatalogue constraints) {
        SQLException telling = mostTelling(thrown);
        boolean secret = constraints.touchesSecrets(sql);
        SQLException e = secret ? withoutText(telling) : telling;
        return switch (failure(telling)) {
            case UNIQUE -> new UniqueViolation(place(telling, table, secret, constraints), sql, e);
            case FOREIGN_KEY -> new ForeignKeyViolation(place(telling, table, secret, constraints), sql, e);
            case NOT_NULL -> new NotNullViolation(place(telling, table, secret, constraints), sql, e);
            case CHECK -> new CheckViolation(place(telling, table, secret, constraints), sql, e);
            case CONNECTION_LOST ->
                new ConnectionLostException(
                        "the connection to " + dialect.name() + " was lost (" + firstLine(e)
                                + "); whatever this unit of work had not committed is rolled back there."
                                + " Close the unit and do the work again in a new one",
                        sql,
                        e);
            case DEADLOCK -> new Deadlock(sql, endsTransaction(Failure.DEADLOCK), e);
            case SERIALIZATION -> new SerializationFailure(sql, true, e);
            case LOCK_TIMEOUT -> new LockTimeout(sql, endsTransaction(Failure.LOCK_TIMEOUT), e);
            case STATEMENT_TIMEOUT -> new StatementTimeout(sql, endsTransaction(Failure.STATEMENT_TIMEOUT), e);
            case OTHER -> new StatementException(dialect.name() + " refused a statement: " + firstLine(e), sql, e);
        };
    }

    private Place place(SQLException e, @Nullable String table, boolean secret, ConstraintCatalogue constraints) {
        Place place = place(e, table, constraints);
        return secret && place.value() != null
                ? new Place(place.entity(), place.attributes(), "(secret)", place.constraint())
                : place;
    }

    /** Drivers put whole rows into their texts. */
    private static SQLException withoutText(SQLException e) {
        SQLException copy = new SQLException(
                "the text is withheld, since the statement touches secret attributes",
                e.getSQLState(),
                e.getErrorCode());
        copy.setStackTrace(e.getStackTrace());
        return copy;
    }

    /** A batch wraps what happened to one of its rows. */
    private SQLException mostTelling(SQLException e) {
        for (SQLException next = e; next != null; next = next.getNextException()) {
            if (failure(next) != Failure.OTHER) {
                return next;
            }
        }
        return e;
    }

    /** A driver's message, to be put into a sentence of ours. */
    public static String firstLine(SQLException e) {
        String line = String.valueOf(e.getMessage()).lines().findFirst().orElse("");
        return line.endsWith(".") ? line.substring(0, line.length() - 1) : line;
    }

    static Place unknownPlace() {
        return new Place(null, List.of(), null, null);
    }
}
