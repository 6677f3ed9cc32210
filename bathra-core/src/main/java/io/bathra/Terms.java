package io.bathra;

import io.bathra.flush.Attempts;
import io.bathra.jdbc.Settings;
import java.sql.Connection;
import java.time.Duration;
import java.util.Objects;

/**
 * The terms of a unit of work. Immutable.
 *
 * <pre>{@code
 * store.run(retrying(5).isolation(SERIALIZABLE), work -> work.require(Vessel.class, 7L).rename("Northern Dawn"));
 * }</pre>
 */
public final class Terms {
    /** What holds when nothing is said: one attempt, the connection's own isolation level, reading and writing. */
    static final Terms PLAIN = new Terms(Attempts.ONE, Settings.PLAIN, false);

    /** How long a standby may take to come as far as asked, where nothing is said. */
    private static final Duration SHORTLY = Duration.ofSeconds(1);

    private final Attempts attempts;
    private final Settings settings;
    private final boolean noticing;

    private Terms(Attempts attempts, Settings settings, boolean noticing) {
        this.attempts = attempts;
        this.settings = settings;
        this.noticing = noticing;
    }

    private Terms with(Settings newSettings) {
        return new Terms(attempts, newSettings, noticing);
    }

    /**
     * {@return a piece of work that fails for a reason which may have gone, a deadlock say, is done again from the
     * start, in a new unit of work} Between two attempts there is a pause of random length, longer each time. Where
     * the model has {@linkplain io.bathra.model.Model#commitTokens commit tokens}, a reply to COMMIT that is lost is
     * such a reason too.
     *
     * @param attempts how often it is tried altogether
     * @throws IllegalArgumentException when that is below 1
     */
    public static Terms retrying(int attempts) {
        if (attempts < 1) {
            throw new IllegalArgumentException("retrying(" + attempts + "): work is tried once at least");
        }
        return new Terms(new Attempts(attempts, null), Settings.PLAIN, false);
    }

    /**
     * {@return the same terms with a limit on the time that all attempts of {@link #retrying} take together, their
     * pauses too: whichever ends first} A server that is restarting is away for longer than a few attempts take:
     * {@code retrying(1_000).upTo(Duration.ofSeconds(30))}.
     *
     * @param longest how long, at least a millisecond
     * @throws IllegalArgumentException when it is below a millisecond, or the work is tried once
     */
    public Terms upTo(Duration longest) {
        if (!attempts.areSeveral()) {
            throw new IllegalArgumentException(
                    "upTo(" + longest + ") limits the time for several attempts; say retrying(n).upTo(...)");
        }
        return new Terms(new Attempts(attempts.most(), atLeastOneMilli("upTo", longest)), settings, noticing);
    }

    /**
     * Units that write nothing, and so spare the cost of tracking: no rows are remembered and no changes looked for,
     * and the database may know. What is set on their objects stays in memory; adding, removing and the like is
     * refused.
     *
     * @return such terms
     */
    public static Terms reading() {
        return PLAIN.readOnly();
    }

    /**
     * {@return the same terms for units that remember rows even where they write nothing, so that {@link
     * UnitOfWork#changes} tells what was set in vain} For tests, and for tools in which somebody tries things; it
     * costs what tracking costs.
     */
    public Terms noticing() {
        return new Terms(attempts, settings, true);
    }

    /**
     * {@return the same terms with an isolation level, in place of the connection's own}
     *
     * @param level the level
     */
    public Terms isolation(Isolation level) {
        return with(settings.isolation(
                switch (level) {
                    case READ_COMMITTED -> Connection.TRANSACTION_READ_COMMITTED;
                    case REPEATABLE_READ -> Connection.TRANSACTION_REPEATABLE_READ;
                    case SERIALIZABLE -> Connection.TRANSACTION_SERIALIZABLE;
                }));
    }

    /** {@return the same terms for {@linkplain #reading units that write nothing}} */
    public Terms readOnly() {
        return with(settings.reading());
    }

    /**
     * {@return the same terms for units that see, from their beginning on, all that was committed before on any
     * server of a MariaDB cluster: the server that a unit works on waits until it has that, where it would otherwise
     * lag behind for a moment} So a program reads what it has written through another server just before. Of a store
     * that {@linkplain Store#readingFrom reads from standbys}, such units work on the primary. Elsewhere it changes
     * nothing.
     *
     * <p>The server gives up after a time that is its own, half a minute unless it is set; a {@link
     * io.bathra.error.LockTimeout} is thrown then.
     */
    public Terms upToDate() {
        return with(settings.seeingAll());
    }

    /**
     * {@return the same terms for units that see what a commit has written which told this position: a standby is
     * waited for until it has come as far, for a second at the most; then the primary has to do, and the trace says
     * so} Where a store reads from no standby, it changes nothing.
     *
     * @param position how far
     * @see Store#readingFrom
     */
    public Terms notBefore(Position position) {
        return notBefore(position, SHORTLY);
    }

    /**
     * {@return the same with a limit on the time that a standby is waited for}
     *
     * @param position how far
     * @param longest how long, at least a millisecond
     * @throws IllegalArgumentException when it is below a millisecond
     */
    public Terms notBefore(Position position, Duration longest) {
        String text = Objects.requireNonNull(position, "position").toString();
        return with(
                settings.notBefore(text, atLeastOneMilli("notBefore", longest).toMillis()));
    }

    /**
     * {@return the same terms with a limit on waiting for what others hold, after which a {@link
     * io.bathra.error.LockTimeout} is thrown} MariaDB counts in whole seconds; what is less is one.
     *
     * @param longest how long, at least a millisecond
     * @throws IllegalArgumentException when it is below a millisecond
     */
    public Terms lockTimeout(Duration longest) {
        return with(settings.lockLimit(atLeastOneMilli("lockTimeout", longest).toMillis()));
    }

    /**
     * {@return the same terms with a limit on each statement, after which a {@link io.bathra.error.StatementTimeout}
     * is thrown} On SQLite the transaction ends with the statement.
     *
     * @param longest how long, at least a millisecond
     * @throws IllegalArgumentException when it is below a millisecond
     */
    public Terms statementTimeout(Duration longest) {
        return with(settings.statementLimit(
                atLeastOneMilli("statementTimeout", longest).toMillis()));
    }

    private static Duration atLeastOneMilli(String what, Duration longest) {
        if (longest.toMillis() < 1) {
            throw new IllegalArgumentException(what + "(" + longest + "): a millisecond is the least");
        }
        return longest;
    }

    /** Refuses what a guest in somebody else's transaction cannot ask for without sending it to the database. */
    void refuseForGuest() {
        if (settings.hasLevel() || settings.upToDate() || settings.position() != null || settings.lockMillis() > 0) {
            throw new IllegalArgumentException(
                    "a unit that joins somebody else's transaction has its isolation level and its lock timeout, and sees what it"
                            + " has seen from its beginning on; have them set where the transaction begins, and leave"
                            + " isolation(...), lockTimeout(...), upToDate() and notBefore(...) out of these terms");
        }
    }

    /** How often, and for how long, a piece of work is tried. */
    Attempts attempts() {
        return attempts;
    }

    /** Whether rows are remembered even where nothing is written. */
    boolean isNoticing() {
        return noticing;
    }

    /** What is asked of the database. */
    Settings settings() {
        return settings;
    }
}
