package io.bathra;

import io.bathra.flush.Attempts;
import io.bathra.jdbc.Settings;
import java.sql.Connection;
import java.time.Duration;
import org.jspecify.annotations.Nullable;

/**
 * The terms of a unit of work. Immutable.
 *
 * <pre>{@code
 * store.run(retrying(5).isolation(SERIALIZABLE), work -> work.require(Vessel.class, 7L).rename("Northern Dawn"));
 * }</pre>
 */
public final class Terms {
    /** What holds when nothing is said: one attempt, the connection's own isolation level, reading and writing. */
    static final Terms PLAIN = new Terms(Attempts.ONE, null, false, false, Duration.ZERO, Duration.ZERO);

    private final Attempts attempts;
    private final @Nullable Isolation isolation;
    private final boolean readOnly;
    private final boolean upToDate;
    private final Duration lockTimeout;
    private final Duration statementTimeout;

    private Terms(
            Attempts attempts,
            @Nullable Isolation isolation,
            boolean readOnly,
            boolean upToDate,
            Duration lockTimeout,
            Duration statementTimeout) {
        this.attempts = attempts;
        this.isolation = isolation;
        this.readOnly = readOnly;
        this.upToDate = upToDate;
        this.lockTimeout = lockTimeout;
        this.statementTimeout = statementTimeout;
    }

    /**
     * A piece of work that fails for a reason which may have gone, a deadlock say, is done again from the start, in a
     * new unit of work. Between two attempts there is a pause of random length, longer each time. Where the model has
     * {@linkplain io.bathra.model.Model#commitTokens commit tokens}, a reply to COMMIT that is lost is such a reason
     * too.
     *
     * @param attempts how often it is tried altogether
     * @throws IllegalArgumentException when that is below 1
     */
    public static Terms retrying(int attempts) {
        if (attempts < 1) {
            throw new IllegalArgumentException("retrying(" + attempts + "): work is tried once at least");
        }
        return new Terms(new Attempts(attempts, null), null, false, false, Duration.ZERO, Duration.ZERO);
    }

    /**
     * The same terms with a limit on the time that all attempts of {@link #retrying} take together, their pauses too:
     * whichever ends first. A server that is restarting is away for longer than a few attempts take:
     * {@code retrying(1_000).upTo(Duration.ofSeconds(30))}.
     *
     * @throws IllegalArgumentException when it is below a millisecond, or the work is tried once
     */
    public Terms upTo(Duration longest) {
        if (!attempts.areSeveral()) {
            throw new IllegalArgumentException(
                    "upTo(" + longest + ") limits the time for several attempts; say retrying(n).upTo(...)");
        }
        Attempts limited = new Attempts(attempts.most(), atLeastOneMilli("upTo", longest));
        return new Terms(limited, isolation, readOnly, upToDate, lockTimeout, statementTimeout);
    }

    /**
     * Units that write nothing, and so spare the cost of tracking: no rows are remembered and no changes looked for,
     * and the database may know. What is set on their objects stays in memory; adding, removing and the like is
     * refused.
     */
    public static Terms reading() {
        return PLAIN.readOnly();
    }

    /** The same terms with an isolation level, in place of the connection's own. */
    public Terms isolation(Isolation level) {
        return new Terms(attempts, level, readOnly, upToDate, lockTimeout, statementTimeout);
    }

    /** The same terms for {@linkplain #reading units that write nothing}. */
    public Terms readOnly() {
        return new Terms(attempts, isolation, true, upToDate, lockTimeout, statementTimeout);
    }

    /**
     * The same terms for units that see, from their beginning on, all that was committed before on any server of a MariaDB
     * cluster: the server that a unit works on waits until it has that, where it would otherwise lag behind for a moment.
     * So a program reads what it has written through another server just before. Elsewhere it changes nothing.
     *
     * <p>The server gives up after a time that is its own, half a minute unless it is set; a {@link
     * io.bathra.error.LockTimeout} is thrown then.
     */
    public Terms upToDate() {
        return new Terms(attempts, isolation, readOnly, true, lockTimeout, statementTimeout);
    }

    /**
     * The same terms with a limit on waiting for what others hold, after which a {@link io.bathra.error.LockTimeout} is
     * thrown. MariaDB counts in whole seconds; what is less is one.
     *
     * @throws IllegalArgumentException when it is below a millisecond
     */
    public Terms lockTimeout(Duration longest) {
        return new Terms(
                attempts, isolation, readOnly, upToDate, atLeastOneMilli("lockTimeout", longest), statementTimeout);
    }

    /**
     * The same terms with a limit on each statement, after which a {@link io.bathra.error.StatementTimeout} is thrown.
     * On SQLite the transaction ends with the statement.
     *
     * @throws IllegalArgumentException when it is below a millisecond
     */
    public Terms statementTimeout(Duration longest) {
        return new Terms(
                attempts, isolation, readOnly, upToDate, lockTimeout, atLeastOneMilli("statementTimeout", longest));
    }

    private static Duration atLeastOneMilli(String what, Duration longest) {
        if (longest.toMillis() < 1) {
            throw new IllegalArgumentException(what + "(" + longest + "): a millisecond is the least");
        }
        return longest;
    }

    /** Refuses what a guest in somebody else's transaction cannot ask for without sending it to the database. */
    void refuseForGuest() {
        if (isolation != null || upToDate || !lockTimeout.isZero()) {
            throw new IllegalArgumentException(
                    "a unit that joins somebody else's transaction has its isolation level and its lock timeout, and sees what it"
                            + " has seen from its beginning on; have them set where the transaction begins, and leave"
                            + " isolation(...), lockTimeout(...) and upToDate() out of these terms");
        }
    }

    /** How often, and for how long, a piece of work is tried. */
    Attempts attempts() {
        return attempts;
    }

    /** What is asked of the database. */
    Settings settings() {
        int level = isolation == null
                ? Connection.TRANSACTION_NONE
                : switch (isolation) {
                    case READ_COMMITTED -> Connection.TRANSACTION_READ_COMMITTED;
                    case REPEATABLE_READ -> Connection.TRANSACTION_REPEATABLE_READ;
                    case SERIALIZABLE -> Connection.TRANSACTION_SERIALIZABLE;
                };
        return new Settings(level, readOnly, upToDate, lockTimeout.toMillis(), statementTimeout.toMillis(), true);
    }
}
