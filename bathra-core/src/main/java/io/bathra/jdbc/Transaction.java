package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.error.StatementException;
import io.bathra.model.ColumnType;
import io.bathra.model.KeySource.KeyTable;
import io.bathra.model.ModelEntity;
import io.bathra.sql.Dialect.KeyDraw;
import io.bathra.sql.Parameter;
import io.bathra.sql.Place;
import io.bathra.sql.SqlText;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Trace;
import io.bathra.trace.TraceLine.Kind;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.regex.Pattern;
import java.util.stream.LongStream;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * One connection and the transaction on it. The connection is taken when first needed and given back at the end of the
 * transaction. Every statement goes into the trace and the log.
 */
public final class Transaction implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra.sql");

    /** So many sets of values go to the database at once. */
    private static final int PORTION = 1_000;

    /** More placeholders in a row than a reader wants to see. */
    private static final String MANY = "?, ?, ?, ?, ?, ?, ?, ?, ?";

    private static final Pattern LONG_LIST = Pattern.compile("\\?(, \\?){8,}");

    private final DataSource source;
    private final Database database;
    private final ConstraintCatalogue constraints;
    private final Trace trace;
    private @Nullable Connection connection;
    /** Somebody else's connection, whose transaction this is a part of; null for one of our own. */
    private final @Nullable Connection joined;

    private final Settings settings;
    private final boolean hasLevel;
    private Limits limits = Limits.NONE;
    private boolean written;

    /** How many savepoints there are to go back to. */
    private int savepoints;

    /** The level of isolation that the connection came with. */
    private int levelBefore;

    public Transaction(
            DataSource source, Database database, ConstraintCatalogue constraints, Trace trace, Settings settings) {
        this(source, database, constraints, trace, settings, null);
    }

    private Transaction(
            DataSource source,
            Database database,
            ConstraintCatalogue constraints,
            Trace trace,
            Settings settings,
            @Nullable Connection joined) {
        this.joined = joined;
        this.settings = settings;
        this.hasLevel = database.hasIsolationLevels() && settings.isolation() != Connection.TRANSACTION_NONE;
        this.source = source;
        this.database = database;
        this.constraints = constraints;
        this.trace = trace;
    }

    /** The same within somebody else's transaction, which it neither ends nor closes: it begins and ends with a savepoint. */
    public Transaction within(Connection somebodys) {
        return new Transaction(source, database, constraints, trace, Settings.PLAIN, somebodys);
    }

    /** Whether the transaction is somebody else's. */
    public boolean isJoined() {
        return joined != null;
    }

    public Database database() {
        return database;
    }

    /** Takes each row of a result. */
    @FunctionalInterface
    public interface RowHandler {
        void row(ResultSet result) throws SQLException;
    }

    /** Whether anything has been written in this transaction. */
    public boolean hasWritten() {
        return written;
    }

    // ---- statements

    /** Runs a query and hands over each row. */
    public void query(CharSequence cause, SqlText text, RowHandler handler) {
        run(cause, text.sql(), null, statement -> {
            bind(statement, text);
            return handOver(statement, handler);
        });
    }

    private void bind(PreparedStatement statement, SqlText text) throws SQLException {
        int index = 1;
        for (SqlText.Param param : text.params()) {
            if (param instanceof SqlText.ArrayValue array) {
                database.bindArray(
                        statement, index++, param.type(), array.values().toArray());
            } else if (param instanceof SqlText.Value value) {
                database.bind(statement, index++, param.type(), value.value());
            }
        }
    }

    /**
     * Runs a statement that writes whatever rows fulfil its condition.
     *
     * @return how many there were
     */
    public long update(CharSequence cause, SqlText text, String table) {
        return run(cause, text.sql(), shown(text.sql()), "set-wise", table, statement -> {
            written = true;
            bind(statement, text);
            return statement.executeUpdate();
        });
    }

    /**
     * Runs any one statement.
     *
     * @return how many rows it has written, as far as the database counts them
     */
    public long execute(CharSequence cause, SqlText text) {
        return run(cause, text.sql(), null, statement -> {
            written = true;
            bind(statement, text);
            statement.execute();
            return Math.max(0, statement.getUpdateCount());
        });
    }

    /**
     * Runs a statement for several sets of values, in portions.
     *
     * @return how many rows each has written; {@link Statement#SUCCESS_NO_INFO} where the driver does not tell
     */
    public int[] executeAll(CharSequence cause, String sql, List<List<SqlText.Param>> sets) {
        List<int[]> counts = new ArrayList<>();
        run(cause, sql, "batch", statement -> {
            written = true;
            int waiting = 0;
            for (List<SqlText.Param> params : sets) {
                bind(statement, new SqlText(sql, params));
                statement.addBatch();
                if (++waiting == PORTION) {
                    counts.add(statement.executeBatch());
                    waiting = 0;
                }
            }
            if (waiting > 0) {
                counts.add(statement.executeBatch());
            }
            return sets.size();
        });
        return counts.stream().flatMapToInt(Arrays::stream).toArray();
    }

    /**
     * Opens a query whose rows are read one after the other.
     *
     * @param streaming whether there may be too many rows to hold them all
     */
    public Cursor cursor(CharSequence cause, SqlText text, boolean streaming) {
        Connection open = open();
        limits.start();
        try {
            return new Cursor(this, open, cause, text.sql(), streaming)
                    .open(database, statement -> bind(statement, text));
        } catch (SQLException e) {
            throw translate(e, text.sql());
        }
    }

    void noteRead(CharSequence cause, String sql, long rows, long start) {
        note(Kind.STATEMENT, cause, shown(sql), null, rows, start);
    }

    static void logFailedClose(SQLException e) {
        LOG.debug("closing a statement failed", e);
    }

    /** Draws keys, as many as asked for, in one round trip; in ascending order. */
    public List<Long> drawKeys(CharSequence cause, KeyDraw draw, int count) {
        List<Long> keys = draw(cause, draw.sql(), count);
        if (keys.isEmpty() && draw.otherwise() != null) {
            keys = draw(cause, draw.otherwise(), count);
        }
        if (draw.block() && keys.size() == 1) {
            long last = keys.get(0);
            keys = LongStream.rangeClosed(last - count + 1, last).boxed().toList();
        }
        if (keys.size() != count) {
            throw new StatementException(
                    count + " keys were asked for, but " + keys.size() + " came", draw.sql(), null);
        }
        return keys.stream().sorted().toList();
    }

    /**
     * Takes keys from a key table. Its line stays locked until the transaction ends, so nobody else gets the same ones.
     *
     * @return the first of the keys, which follow one another
     */
    public long takeKeys(CharSequence cause, KeyTable keys, String owner, int count) {
        long moved = run(cause, database.dialect().moveNextKey(keys), "keys", statement -> {
            written = true;
            statement.setLong(1, count);
            statement.setString(2, owner);
            return statement.executeUpdate();
        });
        if (moved != 1) {
            throw new BathraException("the key table '" + keys.name() + "' has no line for '" + owner
                    + "'; schema().createMissing() makes one");
        }
        long[] next = new long[1];
        run(cause, database.dialect().nextKey(keys), "keys", statement -> {
            statement.setString(1, owner);
            return handOver(statement, result -> next[0] = result.getLong(1));
        });
        return next[0] - count;
    }

    private List<Long> draw(CharSequence cause, String sql, int count) {
        List<Long> keys = new ArrayList<>();
        run(cause, sql, "keys", statement -> {
            statement.setInt(1, count);
            return handOver(statement, result -> keys.add(result.getLong(1)));
        });
        return keys;
    }

    static long handOver(PreparedStatement statement, RowHandler handler) throws SQLException {
        long rows = 0;
        try (ResultSet result = statement.executeQuery()) {
            while (result.next()) {
                handler.row(result);
                rows++;
            }
        }
        return rows;
    }

    /** What a prepared statement is used for; answers with the number of rows read or written. */
    @FunctionalInterface
    interface Use {
        long apply(PreparedStatement statement) throws SQLException;
    }

    /** Prepares a statement, uses it, and notes what happened. */
    private long run(CharSequence cause, String sql, @Nullable String path, Use use) {
        return run(cause, sql, shown(sql), path, null, use);
    }

    private static String shown(String sql) {
        return !sql.contains(MANY) ? sql : LONG_LIST.matcher(sql).replaceAll("?, … ?");
    }

    /**
     * Prepares a statement, uses it, and notes what happened.
     *
     * @param shown the statement as it stands in trace, log and errors: one of a thousand rows would bury the rest
     * @param table the table that it writes to, for an error that does not name it
     */
    long run(CharSequence cause, String sql, String shown, @Nullable String path, @Nullable String table, Use use) {
        Connection open = open();
        limits.start();
        long start = System.nanoTime();
        try (PreparedStatement statement = open.prepareStatement(sql)) {
            long rows = use.apply(statement);
            note(Kind.STATEMENT, cause, shown, path, rows, start);
            return rows;
        } catch (SQLException e) {
            throw database.translate(e, shown, table, constraints);
        }
    }

    /** Whether rows can follow a statement. */
    public boolean copies() {
        try {
            return database.copies(open());
        } catch (SQLException e) {
            throw translate(e, "copy");
        }
    }

    /** Sends rows behind a statement; tells how many the database has taken. */
    long copy(CharSequence cause, String sql, String table, List<Parameter> parameters, List<@Nullable Object[]> rows) {
        try (Copying copying = new Copying(cause, sql, table, parameters)) {
            rows.forEach(copying::write);
            return copying.end();
        }
    }

    /** Rows that follow a statement, one after the other; until they have ended, nothing else can be done in the transaction. */
    public final class Copying implements AutoCloseable {
        private final CharSequence cause;
        private final String sql;
        private final String table;
        private final long start = System.nanoTime();
        private final Database.RowSink sink;
        private boolean ended;

        private Copying(CharSequence cause, String sql, String table, List<Parameter> parameters) {
            this.cause = cause;
            this.sql = sql;
            this.table = table;
            Connection open = open();
            limits.start();
            written = true;
            try {
                sink = database.sink(open, sql, parameters);
            } catch (SQLException e) {
                throw translated(e);
            }
        }

        private BathraException translated(SQLException e) {
            return database.translate(e, sql, table, constraints);
        }

        /** Sends a row, given as its values by slot. */
        public void write(@Nullable Object[] row) {
            try {
                sink.write(row);
            } catch (SQLException e) {
                throw translated(e);
            }
        }

        /** Tells how many rows the database has taken. */
        public long end() {
            ended = true;
            try {
                long taken = sink.end();
                note(Kind.STATEMENT, cause, sql, "copy", taken, start);
                return taken;
            } catch (SQLException e) {
                throw translated(e);
            }
        }

        /** Gives up what has not come to its end. */
        @Override
        public void close() {
            try {
                if (!ended) {
                    sink.cancel();
                }
            } catch (SQLException e) {
                LOG.debug("giving up a copy failed", e);
            }
        }
    }

    /** Begins to send rows behind the statement of a form, which {@link #copies} must allow. */
    public Copying copying(CharSequence cause, WriteForm form) {
        String table = form.parameters().get(0).column().attribute().entity().table();
        return new Copying(cause, form.sql().apply(1), table, form.parameters());
    }

    /** Executes statements that create or change tables. */
    public void execute(CharSequence cause, String sql) {
        run(cause, sql, null, statement -> {
            written = true;
            statement.execute();
            return 0;
        });
    }

    BathraException translate(SQLException e, String sql) {
        return database.translate(e, sql, null, constraints);
    }

    void markWritten() {
        written = true;
    }

    /** The value of a result's column. */
    public @Nullable Object read(ResultSet result, int index, ColumnType type) throws SQLException {
        return database.reader(type).read(result, index);
    }

    /** What reads the columns of a type. */
    public ColumnReader reader(ColumnType type) {
        return database.reader(type);
    }

    /** What reads the rows of an entity. */
    public RowReader rowReader(ModelEntity<?> entity) {
        return database.rowReader(entity);
    }

    /** What reads the values of a select. */
    public ValueReader valueReader(List<Place> values) {
        return database.valueReaders().of(values);
    }

    /**
     * What reads the rows of an entity in a statement in which the columns stand elsewhere.
     *
     * @param places where each of them stands, counted from the first one
     */
    public RowReader rowReader(ModelEntity<?> entity, int[] places) {
        return RowReader.at(database, entity, places);
    }

    /** The value of a result's column of which nothing more is known. */
    public @Nullable Object readPlain(ResultSet result, int index) throws SQLException {
        return PlainValues.read(result, index);
    }

    // ---- the transaction

    /** The open connection, in a transaction. */
    public Connection open() {
        if (connection != null) {
            return connection;
        }
        long start = System.nanoTime();
        connection = begin();
        note(Kind.BEGIN, "transaction", joined == null ? "begin" : "join", null, 0, start);
        if (joined != null) {
            savepoint("join");
        }
        return Objects.requireNonNull(connection);
    }

    private Connection begin() {
        Connection taken = null;
        if (joined != null) {
            return checked(joined);
        }
        try {
            taken = source.getConnection();
            if (hasLevel) {
                levelBefore = taken.getTransactionIsolation();
                taken.setTransactionIsolation(settings.isolation());
            }
            limits = database.begin(taken, settings);
            return taken;
        } catch (SQLException e) {
            if (taken != null) {
                restore(taken);
            }
            closeQuietly(taken);
            if (taken != null && database.failure(e) == Database.Failure.LOCK_TIMEOUT) {
                throw translate(e, "begin");
            }
            if (e instanceof SQLTransientConnectionException) { // what pools throw when they have none left
                throw new DatabaseUnreachableException(
                        "no connection was free in time: " + Database.firstLine(e)
                                + "; close units of work sooner, or let the pool have more connections",
                        e);
            }
            throw new DatabaseUnreachableException(
                    "no connection to the database: " + Database.firstLine(e)
                            + "; check that it runs, and the URL, user and password",
                    e);
        }
    }

    private static Connection checked(Connection joined) {
        try {
            if (joined.getAutoCommit()) {
                throw new BathraException(
                        "the connection commits each statement by itself, so there is no transaction to"
                                + " join; call setAutoCommit(false) first");
            }
            return joined;
        } catch (SQLException e) {
            throw new DatabaseUnreachableException(
                    "the connection that is to be joined cannot be used: " + Database.firstLine(e), e);
        }
    }

    /** Marks the place that {@link #rollbackToSavepoint} goes back to; tells its number. */
    public int savepoint(CharSequence cause) {
        open(); // which may set the first one
        String name = name(savepoints + 1); // not every database lets two have the same name
        control(Kind.SAVEPOINT, cause, "savepoint", connection -> database.savepoint(connection, name));
        return ++savepoints;
    }

    /** How many savepoints there are to go back to. */
    public int savepoints() {
        return savepoints;
    }

    /** Goes back to a savepoint, which stays; those after it are gone. */
    public void rollbackToSavepoint(CharSequence cause, int number) {
        control(
                Kind.ROLLBACK,
                cause,
                "rollback to savepoint",
                connection -> database.rollbackToSavepoint(connection, name(number)));
        savepoints = number;
    }

    /** Forgets a savepoint, and those after it. */
    public void releaseSavepoint(CharSequence cause, int number) {
        control(
                Kind.SAVEPOINT,
                cause,
                "release savepoint",
                connection -> database.releaseSavepoint(connection, name(number)));
        savepoints = number - 1;
    }

    private static String name(int savepoint) {
        return "bathra_" + savepoint;
    }

    /**
     * Commits, and gives the connection back.
     *
     * @throws CommitUnknownException when the connection is lost on the way
     */
    public void commit() {
        if (connection == null) {
            return;
        }
        if (joined != null) {
            releaseSavepoint("join", 1);
            giveBack();
            return;
        }
        try {
            control(Kind.COMMIT, "commit", "commit", database::commit);
        } catch (ConnectionLostException e) {
            throw new CommitUnknownException(e);
        }
        giveBack();
    }

    /** Rolls back, and gives the connection back. */
    public void rollback() {
        if (connection == null) {
            return;
        }
        try {
            if (joined != null) {
                rollbackToSavepoint("join", 1);
                releaseSavepoint("join", 1);
            } else {
                control(Kind.ROLLBACK, "rollback", "rollback", database::rollback);
            }
        } finally {
            giveBack();
        }
    }

    private interface Control {
        void apply(Connection connection) throws SQLException;
    }

    private void control(Kind kind, CharSequence cause, String sql, Control control) {
        long start = System.nanoTime();
        try {
            control.apply(open());
            note(kind, cause, sql, null, 0, start);
        } catch (SQLException e) {
            throw translate(e, sql);
        }
    }

    private void giveBack() {
        Connection used = connection;
        connection = null;
        written = false;
        savepoints = 0;
        if (used == null || joined != null) {
            return;
        }
        restore(used);
        closeQuietly(used);
    }

    /** Makes a connection what it was when it was taken. */
    private void restore(Connection used) {
        try {
            if (!used.isClosed()) {
                limits.lift(used);
                limits = Limits.NONE;
                database.end(used, settings.readOnly());
                if (hasLevel) {
                    used.setTransactionIsolation(levelBefore);
                }
            }
        } catch (SQLException e) {
            LOG.debug("a connection is not given back as it came", e);
        }
    }

    private static void closeQuietly(@Nullable Connection connection) {
        try {
            if (connection != null) {
                connection.close();
            }
        } catch (SQLException e) {
            LOG.debug("closing a connection failed", e);
        }
    }

    /** Rolls back what is open. Errors are logged, not thrown: the database rolls back a lost connection by itself. */
    @Override
    public void close() {
        try {
            rollback();
        } catch (BathraException e) {
            LOG.debug("rollback on close failed", e);
        }
    }

    /** Notes that a question was answered without a statement. */
    public void answeredFromMemory(CharSequence cause) {
        trace.add(Kind.MEMORY, cause, "no statement: already here", null, 0, 0);
    }

    private void note(Kind kind, CharSequence cause, String sql, @Nullable String path, long rows, long start) {
        long nanos = System.nanoTime() - start;
        trace.add(kind, cause, sql, path, rows, nanos);
        if (LOG.isDebugEnabled()) {
            if (kind == Kind.STATEMENT) {
                LOG.debug("{} [{} rows, {} ms, {}]", sql, rows, String.format("%.1f", nanos / 1e6), cause);
            } else {
                LOG.debug("{}", sql);
            }
        }
    }
}
