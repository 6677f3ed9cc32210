package io.bathra.junit;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.Predicate;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * Makes a database fail where a test says: at the third statement from now, at one that matches, at a commit, or when a
 * connection is asked for. Each fault happens once. A fault that has not happened when its test ends fails the test, unless
 * it was taken back. Begin, settings and savepoints are no statements here. Safe to use from several threads.
 *
 * <p>A {@link StoreExtension} has its own; {@link #in} stands in front of any data source.
 *
 * <pre>{@code
 * db.faults().on(2).deadlock();
 * desk.announce("26-000003", "9345678", "Skua", MORNING);
 * }</pre>
 */
public final class Faults {
    private final List<Armed> armed = new ArrayList<>();
    private final WatchedSource watched;
    private int statements;

    Faults(DataSource real, boolean keeping) {
        watched = new WatchedSource(real, this::around, keeping);
    }

    /**
     * Faults in a data source of one's own, which are reached by {@link #source}.
     *
     * @param real the data source behind
     * @return the faults
     */
    public static Faults in(DataSource real) {
        return new Faults(real, false);
    }

    WatchedSource watched() {
        return watched;
    }

    /** {@return the data source with faults} */
    public DataSource source() {
        return watched.source();
    }

    /** {@return how many of its connections are taken and not given back} */
    public int open() {
        return watched.open();
    }

    /**
     * {@return how many statements have come by since faults were taken back last, those that were to fail among them}
     */
    public int statements() {
        synchronized (armed) {
            return statements;
        }
    }

    /**
     * At the number-th statement from now on.
     *
     * @param number which one, from 0
     * @return the fault, which is not yet provoked
     */
    public Fault on(int number) {
        if (number < 1) {
            throw new IllegalArgumentException("on(" + number + "): the first statement from now is 1");
        }
        int[] left = {number};
        return new Fault("statement " + number, call -> call.kind() == Call.Kind.STATEMENT && --left[0] == 0);
    }

    /**
     * At the next statement whose SQL matches.
     *
     * @param sql the statement
     * @return the fault, which is not yet provoked
     */
    public Fault onStatement(Predicate<String> sql) {
        return new Fault(
                "a statement that matches", call -> call.kind() == Call.Kind.STATEMENT && sql.test(call.sql()));
    }

    /**
     * At the next commit.
     *
     * @return the fault, which is not yet provoked
     */
    public Fault onCommit() {
        return new Fault("a commit", call -> call.kind() == Call.Kind.COMMIT);
    }

    /** {@return when a transaction is rolled back next; not where it goes back to a savepoint} */
    public Fault onRollback() {
        return new Fault("a rollback", call -> call.kind() == Call.Kind.ROLLBACK);
    }

    /** {@return when a connection is asked for next} */
    public Fault onConnection() {
        return new Fault("a connection", call -> call.kind() == Call.Kind.CONNECTION);
    }

    /** Takes back all faults that have not happened, or happen always. */
    public void clear() {
        synchronized (armed) {
            armed.clear();
            statements = 0;
        }
    }

    /** {@return what has been asked for and has not happened, in words} */
    public List<String> waiting() {
        synchronized (armed) {
            return armed.stream()
                    .filter(one -> !one.always())
                    .map(Armed::toString)
                    .toList();
        }
    }

    private record Armed(String where, String what, boolean always, Predicate<Call> when, Doing doing) {
        @Override
        public String toString() {
            return what + " at " + where;
        }
    }

    private interface Doing {
        @Nullable
        Object instead(@Nullable Connection real, Watcher.Going going) throws SQLException;
    }

    /** What is to happen there. */
    public final class Fault {
        private final String where;
        private final boolean always;
        private final Predicate<Call> when;

        private Fault(String where, Predicate<Call> when) {
            this(where, false, when);
        }

        private Fault(String where, boolean always, Predicate<Call> when) {
            this.where = where;
            this.always = always;
            this.when = when;
        }

        /**
         * It is to happen each time, until it is taken back.
         *
         * @return the fault, which is not yet provoked
         */
        public Fault always() {
            return new Fault(where, true, when);
        }

        /** A unique constraint is violated. */
        public void uniqueViolation() {
            raises("a unique violation", DriverErrors.UNIQUE_VIOLATION);
        }

        /** The database has chosen this transaction to end a deadlock. */
        public void deadlock() {
            raises("a deadlock", DriverErrors.DEADLOCK);
        }

        /** Another transaction has changed what this one has seen. */
        public void serializationFailure() {
            raises("a serialization failure", DriverErrors.SERIALIZATION_FAILURE);
        }

        /** A lock did not come in time. */
        public void lockTimeout() {
            raises("a lock time-out", DriverErrors.LOCK_TIMEOUT);
        }

        /**
         * The answer is late.
         *
         * @param delay how long it waits
         */
        public void slow(Duration delay) {
            arm("a slow answer", (real, going) -> {
                DriverErrors.sleep(delay.toMillis());
                return going.on();
            });
        }

        /** The connection is cut before the database gets to know; the driver finds out by itself. */
        public void connectionLost() {
            arm("a lost connection", (real, going) -> {
                if (real == null) {
                    throw DriverErrors.lost();
                }
                if (DriverErrors.cut(real)) {
                    going.on();
                }
                throw DriverErrors.lost();
            });
        }

        /** It is done, but the connection is cut before the answer comes: whoever waits for it cannot know. */
        public void replyIsLost() {
            arm("a lost reply", (real, going) -> {
                going.on();
                if (real != null) {
                    DriverErrors.cut(real);
                }
                throw DriverErrors.lost();
            });
        }

        /**
         * Something else fails.
         *
         * @param exception what is thrown
         */
        public void failsWith(Supplier<? extends SQLException> exception) {
            arm("an exception", (real, going) -> {
                going.before();
                throw exception.get();
            });
        }

        private void raises(String what, DriverErrors error) {
            arm(what, (real, going) -> {
                if (real == null) {
                    throw DriverErrors.lost();
                }
                error.raise(real, going);
                throw new IllegalStateException("the database did not fail");
            });
        }

        private void arm(String what, Doing doing) {
            synchronized (armed) {
                armed.add(new Armed(where, what, always, when, doing));
            }
        }
    }

    private @Nullable Object around(Call call, @Nullable Connection real, Watcher.Going going) throws SQLException {
        Armed hit = null;
        synchronized (armed) {
            statements += call.kind() == Call.Kind.STATEMENT ? 1 : 0;
            for (Armed one : List.copyOf(armed)) {
                boolean here = one.when().test(call); // each counts for itself
                if (here && hit == null) {
                    hit = one;
                    if (!one.always()) {
                        armed.remove(one);
                    }
                }
            }
        }
        return hit == null ? going.on() : Objects.requireNonNull(hit).doing().instead(real, going);
    }
}
