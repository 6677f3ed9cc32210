package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.ConnectionLostException;
import io.bathra.jdbc.Recorder.Execution;
import io.bathra.sql.Together;
import io.bathra.trace.Executed.Kind;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The connection of a transaction: whether it is open, whether the transaction has begun on it, and what waits to be
 * sent.
 */
final class Line {
    private static final Shown BEGIN = Shown.own("begin", null);
    private static final Shown JOIN = Shown.own("join", null);
    private static final Shown ROLLBACK = Shown.plain("rollback");

    private final Loan loan;
    private final Database database;
    private final Recorder trace;
    private final Waiting waiting;

    /** Whether the transaction is its own, which it begins and ends. */
    private final boolean own;

    private final boolean joined;

    /** Whether statements may be sent together, where the connection can. */
    private final boolean mayTogether;

    private @Nullable Connection connection;

    /** How they are sent together on the open connection; null for one by one. */
    private @Nullable Together together;

    /** Whether the transaction has begun, or is about to with the next statement. */
    private boolean begun;

    /** The first savepoint of which nobody knows whether it was set, since it was sent with what has failed. */
    private int doubtful = Integer.MAX_VALUE;

    /** By which statements it has begun. */
    private List<String> opening = List.of();

    Line(Loan loan, Database database, Recorder trace, boolean own, boolean joined, boolean mayTogether) {
        this.loan = loan;
        this.database = database;
        this.trace = trace;
        this.waiting = new Waiting(trace);
        this.own = own;
        this.joined = joined;
        this.mayTogether = mayTogether;
    }

    boolean isOpen() {
        return connection != null;
    }

    Waiting waiting() {
        return waiting;
    }

    /** Whether savepoints can wait: nobody else executes anything in between. */
    boolean defers() {
        return together != null && !joined;
    }

    /** How statements are sent together on the open connection; null for one by one. */
    @Nullable
    Together together() {
        return together;
    }

    /** The connection, in a transaction, with everything executed that was decided. */
    Connection open() {
        Connection open = begin();
        if (!waiting.isEmpty()) {
            send(open);
        }
        return open;
    }

    /** The connection, in a transaction, which may have to begin with the next statement. */
    Connection begin() {
        Connection open = connection;
        if (begun && open != null) {
            return open;
        }
        if (!own && !joined) {
            open = connect();
            begun = true;
            return open;
        }
        Execution execution = trace.begin(Kind.BEGIN, "transaction", own ? BEGIN : JOIN, null);
        try {
            open = connect();
            if (own) {
                opening = loan.begin();
                waiting.begin(opening);
            }
        } catch (RuntimeException e) {
            connection = null;
            throw execution.failed(e);
        }
        begun = true;
        execution.ended(0);
        return open;
    }

    private Connection connect() {
        Connection open = connection;
        if (open == null) {
            open = loan.take();
            try {
                together = mayTogether ? database.together(open) : null;
            } catch (SQLException e) {
                loan.giveBack(true);
                throw translate(e);
            }
            connection = open;
        }
        return open;
    }

    /**
     * The connection for a query of our own: in the transaction, which may have to begin with it, or without one, where
     * nobody could tell the difference.
     */
    Connection reading() {
        if (begun || !own) {
            return begin();
        }
        boolean alone;
        Connection open;
        try {
            open = connect();
            alone = mayTogether && loan.readsAlone();
        } catch (SQLException e) {
            throw notBegun(translate(e));
        } catch (RuntimeException e) {
            throw connection == null ? notBegun(e) : e;
        }
        return alone ? open : begin();
    }

    private <T extends RuntimeException> T notBegun(T failure) {
        return trace.begin(Kind.BEGIN, "transaction", BEGIN, null).failed(failure);
    }

    /** Executes what waits, without anything behind it. */
    private void send(Connection open) {
        trace.beginTogether();
        Waiting.Going going = waiting.go();
        trace.allHaveBegun();
        try {
            Database.execute(
                    open, Objects.requireNonNull(database.dialect().together()).all(going.sql()));
        } catch (SQLException e) {
            throw failed(going, List.of(), translate(e));
        }
        going.ended();
    }

    /**
     * All of what waits, which is about to be sent with a query behind it; null where nothing is to be sent with it.
     */
    Waiting.@Nullable Going carried(String query) {
        if (waiting.isEmpty()) {
            return null;
        }
        if (together == null || !together.takes(query)) {
            open();
            return null;
        }
        trace.beginTogether();
        return waiting.go();
    }

    /**
     * Something has failed that was sent with what had waited. Where the transaction was to begin with it, there is
     * none now; where nothing of it was executed, it waits again.
     *
     * @param behind what was sent with it
     */
    <T extends Throwable> T failed(Waiting.Going going, List<Execution> behind, T failure) {
        going.failed(failure);
        behind.forEach(one -> one.failed(failure));
        Connection open = connection;
        boolean lost = failure instanceof ConnectionLostException || failure instanceof CommitUnknownException;
        if (going.sql().isEmpty() || open == null || lost) {
            return failure;
        }
        try {
            if (going.opens()) {
                Execution back = trace.begin(Kind.ROLLBACK, "rollback", ROLLBACK, null);
                database.rollback(open);
                back.ended(0);
                going.waitAgain();
            } else if (database.mayHaveExecuted(open)) {
                doubtful = Math.min(doubtful, going.firstSavepoint());
            } else {
                going.waitAgain();
            }
        } catch (SQLException e) {
            failure.addSuppressed(e);
        }
        return failure;
    }

    /** Goes back to a savepoint that was sent; one that may never have been set is to be set anew where it was not. */
    boolean backTo(Connection open, String name, int number) throws SQLException {
        boolean maybe = number >= doubtful;
        doubtful = Integer.MAX_VALUE;
        return database.rollbackToSavepoint(open, name, maybe);
    }

    /**
     * A statement of the user's may have ended the transaction, in a procedure say: what follows begins another one.
     */
    void beginAgainIfOver() {
        try {
            if (own && begun && connection != null && waiting.isEmpty() && database.isOver(connection)) {
                waiting.begin(opening);
            }
        } catch (SQLException e) {
            throw translate(e);
        }
    }

    /** The transaction was rolled back by its owner: what follows begins another one. */
    void beginAgain() {
        doubtful = Integer.MAX_VALUE;
        waiting.clear();
        waiting.begin(opening);
    }

    /** Whether an error has left the transaction as it was: none of its statements has failed. */
    boolean isUnscathed() {
        try {
            return connection != null && begun && database.isUnscathed(connection);
        } catch (SQLException e) {
            return false;
        }
    }

    /** Whether there is a transaction to end; what has waited for a statement goes unsaid. */
    boolean isToEnd() {
        boolean unsaid = waiting.isToBegin();
        waiting.clear();
        return own && begun && !unsaid;
    }

    /**
     * Gives the connection back.
     *
     * @param ended whether the transaction has ended, so that what follows does not belong to it
     */
    void giveBack(boolean ended) {
        connection = null;
        together = null;
        begun = false;
        doubtful = Integer.MAX_VALUE;
        waiting.clear();
        loan.giveBack(ended);
    }

    private BathraException translate(SQLException e) {
        return loan.translate(e, BEGIN);
    }
}
