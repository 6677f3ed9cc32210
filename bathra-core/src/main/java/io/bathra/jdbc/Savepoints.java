package io.bathra.jdbc;

import io.bathra.error.SerializationFailure;
import io.bathra.trace.Executed.Kind;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicLong;
import org.jspecify.annotations.Nullable;

/**
 * The places in a transaction that it can go back to, by number.
 *
 * <p>A node of a MariaDB cluster (10.11 with galera-4 26.4) goes back by itself alone where some statement was executed
 * before the savepoint, but no row written: the other nodes get what was taken back, and vote the node out once they
 * see it. A savepoint before which nothing at all was executed is right, and one behind a row that was written, even
 * if it was deleted again: so such a row is written to the table of commit tokens. Where there is none, all of the
 * transaction is rolled back and begins again, and where that would lose something, it ends.
 */
final class Savepoints {
    private static final Shown SAVEPOINT = Shown.plain("savepoint");
    private static final Shown ROLLBACK_TO = Shown.plain("rollback to savepoint");
    private static final Shown RELEASE = Shown.plain("release savepoint");

    /** Several guests may set savepoints in one transaction: each has names of its own. */
    private static final AtomicLong GUESTS = new AtomicLong();

    private final Transaction transaction;
    private final Database database;
    private final Line line;
    private final boolean joined;
    private final boolean readOnly;
    private final String names;
    private int count;

    /** Whether some row was written for sure, as far as anybody has to know. */
    private boolean rowWritten;

    /** What was so at each savepoint; empty where nobody has to know. */
    private List<Mark> marks = List.of();

    /**
     * What was so where a savepoint was set.
     *
     * @param kept whether the server can go back to it
     * @param rowWritten whether some row was written for sure
     * @param lost whether something would be lost if the whole transaction were rolled back in its place
     */
    private record Mark(boolean kept, boolean rowWritten, boolean lost) {}

    Savepoints(Transaction transaction, Database database, Line line, boolean joined, boolean readOnly) {
        this.transaction = transaction;
        this.database = database;
        this.line = line;
        this.joined = joined;
        this.readOnly = readOnly;
        this.names = joined ? "bathra_" + GUESTS.incrementAndGet() + "_" : "bathra_";
    }

    boolean areAny() {
        return count > 0;
    }

    void forgetAll() {
        count = 0;
        rowWritten = false;
        marks = List.of();
    }

    /** Some row was written for sure. */
    void rowWritten() {
        rowWritten = true;
    }

    /** Sets the next one; tells its number. */
    int set(CharSequence cause) {
        line.begin();
        if (database.isOneOfSeveral() && !readOnly) {
            mark();
        }
        count++;
        String name = name(count); // not every database lets two have the same name
        if (line.defers()) {
            line.waiting().set(cause, SAVEPOINT, name, count);
        } else {
            transaction.control(Kind.SAVEPOINT, cause, SAVEPOINT, connection -> database.savepoint(connection, name));
        }
        return count;
    }

    private void mark() {
        boolean first = line.waiting().isToBegin();
        if (!first && !rowWritten) {
            writePassingRow();
        }
        boolean lost = joined || transaction.mayHaveWritten() || transaction.hasHeld();
        marks = marks.isEmpty() ? new ArrayList<>() : marks;
        marks.add(new Mark(first || rowWritten, rowWritten, lost));
    }

    private void writePassingRow() {
        for (String sql : database.passingRow()) {
            if (line.defers()) {
                line.waiting().first(sql);
            } else {
                transaction.control(
                        Kind.SAVEPOINT,
                        "savepoint",
                        Shown.own(sql, null),
                        connection -> Database.execute(connection, sql));
            }
            rowWritten = true;
        }
    }

    /** Goes back to one, which stays; those after it are gone. */
    void backTo(CharSequence cause, int number) {
        Mark mark = forgetAfter(number);
        if (mark != null && !mark.kept && transaction.mayHaveWritten()) {
            backToBeginning(cause, number, mark);
        } else if (!line.waiting().backTo(number)) {
            String name = name(number);
            boolean[] marked = new boolean[1];
            transaction.control(
                    Kind.ROLLBACK, cause, ROLLBACK_TO, connection -> marked[0] = line.backTo(connection, name, number));
            if (!marked[0]) {
                if (mark != null) {
                    writePassingRow();
                }
                line.waiting().set(cause, SAVEPOINT, name, number);
            }
        }
        count = number;
    }

    private void backToBeginning(CharSequence cause, int number, Mark mark) {
        if (mark.lost) {
            throw new SerializationFailure(
                    "the transaction cannot go back to a savepoint: the other servers of the cluster would keep what is"
                            + " taken back, since nobody knows of a row that was written before the savepoint; roll back all"
                            + " of it, and do the work again in a new unit. With commitTokens(...) in the model there is a"
                            + " table in which such a row is written",
                    "rollback to savepoint",
                    true,
                    null);
        }
        transaction.control(Kind.ROLLBACK, cause, Transaction.ROLLBACK, database::rollback);
        transaction.beginsAgain();
        forgetAll();
        for (int i = 0; i < number; i++) {
            set(cause);
        }
    }

    /** What was so at a savepoint is so again; null where nobody has to know. */
    private @Nullable Mark forgetAfter(int number) {
        if (marks.isEmpty()) {
            return null;
        }
        marks.subList(number, marks.size()).clear();
        Mark mark = marks.get(number - 1);
        rowWritten = mark.rowWritten;
        return mark;
    }

    /** Forgets one, and those after it. */
    void release(CharSequence cause, int number) {
        if (line.defers()) {
            line.waiting().release(cause, RELEASE, name(number), number);
        } else {
            transaction.control(
                    Kind.SAVEPOINT, cause, RELEASE, connection -> database.releaseSavepoint(connection, name(number)));
        }
        count = number - 1;
        if (!marks.isEmpty()) {
            marks.subList(count, marks.size()).clear();
        }
    }

    /** One may have gone with what somebody else has gone back to: sets it anew, without those after it. */
    void renew(CharSequence cause, int number) {
        forgetAfter(number);
        if (!marks.isEmpty()) {
            marks.remove(number - 1);
        }
        rowWritten = false; // what was written before the place may have been taken back with it
        count = number - 1;
        set(cause);
    }

    private String name(int savepoint) {
        return names + savepoint;
    }
}
