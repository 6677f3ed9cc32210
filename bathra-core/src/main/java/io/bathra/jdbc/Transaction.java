package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.SerializationFailure;
import io.bathra.error.StatementCancelled;
import io.bathra.error.StatementTimeout;
import io.bathra.jdbc.Recorder.Execution;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Parameter;
import io.bathra.sql.Place;
import io.bathra.sql.SqlText;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.Operation;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
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

    private static final Shown COMMIT = Shown.plain("commit"); // which checks what was put off until then
    static final Shown ROLLBACK = Shown.plain("rollback");
    private static final Shown PRIMARY = Shown.own("no statement: a standby was not to be had", null);
    private static final Shown MEMORY = Shown.own("no statement: already here", null);

    private final Database database;
    private final Recorder trace;
    /** Somebody else's connection, whose transaction this is a part of; null for one of our own. */
    private final @Nullable Connection joined;

    /** Whether there is a transaction of its own, which it ends. */
    private final boolean own;

    private final Loan loan;
    private final Cancellation cancellation = new Cancellation();
    private final Statements statements;
    private final Line line;
    private final Savepoints savepoints;
    private final boolean hasLevel;
    private boolean written;
    private final boolean readOnly;

    /** Whether the database has answered a query that a user has written. */
    private boolean asked;

    private @Nullable String position;

    /** Whether rows are held, or something was read that shall stay as it is. */
    private boolean holding;

    /** The last failure that has cost nothing but its own statement. */
    private @Nullable RuntimeException recovered;

    /**
     * A transaction that has not begun.
     *
     * @param joined somebody else's connection, whose transaction it neither begins nor ends; null for one of its own
     * @param mayTogether whether statements may be sent together
     * @param standbys where it may read when it writes nothing; null for none
     */
    public Transaction(
            DataSource source,
            Database database,
            ConstraintCatalogue constraints,
            Recorder trace,
            Settings settings,
            @Nullable Connection joined,
            boolean mayTogether,
            @Nullable Standbys standbys) {
        this.joined = joined;
        this.own = joined == null && settings.begins();
        this.hasLevel = settings.hasLevel();
        this.readOnly = settings.readOnly();
        this.loan = new Loan(
                source,
                database,
                constraints,
                settings,
                joined,
                standbys,
                why -> trace.begin(Kind.MEMORY, "on the primary: " + why, PRIMARY, null)
                        .ended(0));
        this.statements = new Statements(this, database);
        this.database = database;
        this.trace = trace;
        this.line = new Line(loan, database, trace, own, joined != null, mayTogether);
        this.savepoints = new Savepoints(this, database, line, joined != null, settings.readOnly());
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

    /** Whether anything may have been written: a query of a user's may do so without a word, by a function. */
    public boolean mayHaveWritten() {
        return written || (asked && !readOnly);
    }

    /**
     * Whether going back to the beginning would, or may, lose anything: what was written, rows that are held, what was
     * read under a level of isolation that was asked for, or what belongs to somebody else.
     */
    public boolean hasWork() {
        return hasWorkToKeep() || holding;
    }

    /** The same for one that ends in any case: rows that are held need not be kept. */
    public boolean hasWorkToKeep() {
        return mayHaveWritten() || joined != null || savepoints.areAny();
    }

    /** Whether rows are held, or something was read that shall stay as it is. */
    public boolean hasHeld() {
        return holding;
    }

    void markHolding() {
        holding = true;
    }

    void recovered(RuntimeException failure) {
        recovered = failure;
    }

    /** Whether a failure has cost nothing but its own statement, although there is work. */
    public boolean hasRecovered(RuntimeException failure) {
        return recovered == failure;
    }

    // ---- statements

    /** Runs a query and hands over each row. */
    public void query(CharSequence cause, SqlText text, RowHandler handler) {
        statements.query(cause, text, handler);
    }

    /** Asks several things in one trip, none of which holds rows; tells whether that can be, or nothing was asked. */
    public boolean queryTogether(List<Asked> all) {
        return statements.queryTogether(all);
    }

    /**
     * Runs a statement that writes whatever rows fulfil its condition.
     *
     * @return how many there were
     */
    public long update(CharSequence cause, SqlText text, String table) {
        return statements.update(cause, text, table);
    }

    /**
     * Runs any one statement.
     *
     * @return how many rows it has written, as far as the database counts them
     */
    public long execute(CharSequence cause, SqlText text) {
        return statements.execute(cause, text);
    }

    /** Executes a statement without parameters, such as one that creates or changes a table. */
    public void execute(CharSequence cause, String sql) {
        statements.execute(cause, new SqlText(sql, List.of()));
    }

    /**
     * Runs a statement for several sets of values, in portions.
     *
     * @return how many rows each has written; {@link java.sql.Statement#SUCCESS_NO_INFO} where the driver does not tell
     */
    public int[] executeAll(CharSequence cause, String sql, List<List<SqlText.Param>> sets) {
        return statements.executeAll(cause, sql, sets);
    }

    /**
     * Opens a query whose rows are read one after the other.
     *
     * @param streaming whether there may be too many rows to hold them all
     */
    public Cursor cursor(CharSequence cause, SqlText text, boolean streaming) {
        if (streaming && !own && joined == null) {
            throw new BathraException("rows are read one after the other within a transaction alone; call list(), or"
                    + " leave withoutTransaction() out\n  statement: " + text.sql());
        }
        return statements.cursor(cause, text, streaming);
    }

    /** Whether rows can follow a statement; nothing limits the time of a guest's. */
    public boolean copies() {
        try {
            return database.copies(open()) && (joined == null || limits() == Limits.NONE);
        } catch (SQLException e) {
            throw translate(e, "copy");
        }
    }

    /** Begins to send rows behind the statement of a form, which {@link #copies} must allow. */
    public Copying copying(CharSequence cause, WriteForm form) {
        return copying(cause, form.sql().apply(1), form.table(), form.parameters());
    }

    Copying copying(CharSequence cause, String sql, String table, List<Parameter> parameters) {
        return new Copying(this, open(), cause, sql, table, parameters);
    }

    /** What is executed from now on carries out a step of a plan; 0 for none. */
    public void carriesOut(int step, @Nullable Operation operation) {
        trace.carriesOut(step, operation);
    }

    /** What executes statements in this transaction. */
    Statements statements() {
        return statements;
    }

    BathraException translate(SQLException e, Shown statement) {
        BathraException translated = loan.translate(e, statement);
        boolean lost = translated instanceof ConnectionLostException;
        return !lost && cancellation.isTold(translated instanceof StatementTimeout)
                ? cancelled(statement, e)
                : translated;
    }

    private StatementCancelled cancelled(Shown statement, @Nullable SQLException cause) {
        return new StatementCancelled(statement.sql(), database.endsTransaction(Failure.STATEMENT_TIMEOUT), cause);
    }

    /** A statement begins: its time may be limited, and another thread may stop it. */
    Limits.Running running(Statement statement) throws SQLException {
        Limits.Running limit = limits().on(statement);
        cancellation.begun(statement);
        return () -> {
            cancellation.ended();
            limit.close();
        };
    }

    /**
     * A statement has come to its end. Some databases end one that was stopped as if all were well.
     *
     * @throws StatementCancelled when somebody has stopped it
     */
    void refuseStopped(Shown statement) {
        if (cancellation.isTold(false)) {
            throw cancelled(statement, null);
        }
    }

    /**
     * Stops the statement that is running, from another thread.
     *
     * @return whether one was running
     */
    public boolean cancel() {
        try {
            return cancellation.cancel();
        } catch (SQLException e) {
            throw loan.translate(e, Shown.own("cancel", null));
        }
    }

    BathraException translate(SQLException e, String sql) {
        return translate(e, Shown.own(sql, null));
    }

    /** What limits the time of statements on the open connection. */
    Limits limits() {
        return loan.limits();
    }

    void markWritten() {
        written = true;
    }

    /** The database has begun to answer a query, whatever becomes of the answer. */
    void markAsked(SqlText query) {
        asked |= query.plain();
    }

    /** The value of a result's column, as it passes a gate. */
    public @Nullable Object read(ResultSet result, int index, Gate gate) throws SQLException {
        return database.reader(gate).read(result, index);
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
        return database.readPlain(result, index);
    }

    // ---- the transaction

    /** Whether there is an open connection. */
    public boolean isOpen() {
        return line.isOpen();
    }

    /** The open connection, in a transaction, with everything executed that was decided. */
    public Connection open() {
        return line.open();
    }

    /** The connection, and what waits to be sent over it. */
    Line line() {
        return line;
    }

    Recorder trace() {
        return trace;
    }

    /** Statements that write, to be sent together; null where they are sent one by one. */
    public @Nullable Trip trip() {
        return Trip.of(this);
    }

    /** The transaction was committed by a statement that was sent. */
    void committedTogether() {
        takePosition();
        giveBack(true);
    }

    /** Marks the place that {@link #rollbackToSavepoint} goes back to; tells its number. */
    public int savepoint(CharSequence cause) {
        return savepoints.set(cause);
    }

    /**
     * Goes back to a savepoint, which stays; those after it are gone.
     *
     * @throws SerializationFailure when the database cannot do that, and all of the transaction is to be rolled back
     */
    public void rollbackToSavepoint(CharSequence cause, int number) {
        savepoints.backTo(cause, number);
    }

    /** Forgets a savepoint, and those after it. */
    public void releaseSavepoint(CharSequence cause, int number) {
        savepoints.release(cause, number);
    }

    /** A savepoint may have gone with one that somebody else has gone back to: sets it anew, without those after it. */
    public void renewSavepoint(CharSequence cause, int number) {
        savepoints.renew(cause, number);
    }

    /** A row was written, which nobody can doubt. */
    void markRowWritten() {
        savepoints.rowWritten();
    }

    /** Nothing is written or held any more: all of the transaction was taken back, and it begins again. */
    void beginsAgain() {
        written = false;
        asked = false;
        holding = false;
        line.beginAgain();
    }

    /**
     * Commits, and gives the connection back. Somebody else's transaction is not committed here.
     *
     * @throws CommitUnknownException when the connection is lost on the way
     */
    public void commit() {
        if (!line.isOpen()) {
            return;
        }
        try {
            if (line.isToEnd()) {
                control(Kind.COMMIT, "commit", COMMIT, database::commit);
            }
        } catch (ConnectionLostException e) {
            throw mayHaveWritten() ? new CommitUnknownException(e) : e;
        }
        takePosition();
        giveBack(true);
    }

    private void takePosition() {
        position = own && written ? loan.position() : null;
    }

    /**
     * How far the server had come when the last transaction was committed; null where it wrote nothing or nobody
     * tells.
     */
    public @Nullable String position() {
        return position;
    }

    /** Rolls back, and gives the connection back. Somebody else's transaction has ended, or is left as it is. */
    public void rollback() {
        if (!line.isOpen()) {
            return;
        }
        boolean ended = false;
        try {
            if (line.isToEnd()) {
                control(Kind.ROLLBACK, "rollback", ROLLBACK, database::rollback);
            }
            ended = true;
        } finally {
            giveBack(ended);
        }
    }

    /** Something that is done to a transaction. */
    interface Control {
        void apply(Connection connection) throws SQLException;
    }

    void control(Kind kind, CharSequence cause, Shown shown, Control control) {
        Connection open = open();
        Execution execution = begin(kind, cause, shown, null);
        try {
            control.apply(open);
        } catch (SQLException e) {
            throw execution.failed(translate(e, execution.shown()));
        } catch (RuntimeException e) {
            throw execution.failed(e);
        }
        ended(execution, 0);
    }

    private void giveBack(boolean ended) {
        written = false;
        asked = false;
        holding = false;
        recovered = null;
        savepoints.forgetAll();
        line.giveBack(ended);
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
        trace.begin(Kind.MEMORY, cause, MEMORY, null).ended(0);
    }

    /** Something begins to be executed. */
    Execution begin(Kind kind, CharSequence cause, Shown shown, @Nullable String path) {
        return trace.begin(kind, cause, shown, path);
    }

    /** Something was executed. */
    void ended(Execution execution, long rows) {
        if (execution.ended(rows) && execution.kind() == Kind.STATEMENT) {
            holding |= hasLevel;
            Shown shown = execution.shown();
            if (rows > 0 && !shown.plain() && database.writesRows(shown.text())) {
                savepoints.rowWritten();
            }
            if (shown.plain()) {
                line.beginAgainIfOver();
            }
        }
    }

    /** The same; for something that was sent along with another one, whose time is that of the trip. */
    void ended(Execution execution, long rows, boolean along) {
        if (along) {
            execution.endedAlong(rows);
        } else {
            ended(execution, rows);
        }
    }
}
