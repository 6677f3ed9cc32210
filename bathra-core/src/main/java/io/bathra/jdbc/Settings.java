package io.bathra.jdbc;

import io.bathra.sql.Together;
import java.sql.Connection;
import org.jspecify.annotations.Nullable;

/**
 * What is asked of a transaction.
 *
 * @param isolation the level by JDBC's number; 0 for that of the connection
 * @param readOnly whether nothing is to be written
 * @param upToDate whether all is to be seen that was committed before on any of several servers
 * @param position how far a standby must have come that is read from; null for however far
 * @param positionMillis how long it may take until it has
 * @param lockMillis how long to wait for what others hold; 0 for as long as the database is set up to
 * @param statementMillis how long a statement may take; 0 for as long as the database is set up to
 * @param begins whether there is a transaction at all; without one each statement stands for itself
 */
public record Settings(
        int isolation,
        boolean readOnly,
        boolean upToDate,
        @Nullable String position,
        long positionMillis,
        long lockMillis,
        long statementMillis,
        boolean begins) {
    /** Nothing in particular: the connection's own level, reading and writing. */
    public static final Settings PLAIN = new Settings(Connection.TRANSACTION_NONE, false, false, null, 0, 0, 0, true);

    /** Nothing is to be written. */
    public static final Settings READING = new Settings(Connection.TRANSACTION_NONE, true, false, null, 0, 0, 0, true);

    /** No transaction. */
    public static final Settings ALONE = new Settings(Connection.TRANSACTION_NONE, false, false, null, 0, 0, 0, false);

    /** Whether it is what the connection gives in any case, but for that nothing may be written. */
    boolean isOrdinary() {
        return begins && !hasLevel() && lockMillis == 0 && statementMillis == 0;
    }

    /** The same with a level of isolation, by JDBC's number. */
    public Settings isolation(int level) {
        return new Settings(level, readOnly, upToDate, position, positionMillis, lockMillis, statementMillis, begins);
    }

    /** The same for what writes nothing. */
    public Settings reading() {
        return new Settings(isolation, true, upToDate, position, positionMillis, lockMillis, statementMillis, begins);
    }

    /** The same for what is to see all that was committed before. */
    public Settings seeingAll() {
        return new Settings(isolation, readOnly, true, position, positionMillis, lockMillis, statementMillis, begins);
    }

    /** The same with how far a standby must have come, and how long it may take until it has. */
    public Settings notBefore(String newPosition, long millis) {
        return new Settings(isolation, readOnly, upToDate, newPosition, millis, lockMillis, statementMillis, begins);
    }

    /** The same with a limit on waiting for what others hold. */
    public Settings lockLimit(long millis) {
        return new Settings(isolation, readOnly, upToDate, position, positionMillis, millis, statementMillis, begins);
    }

    /** The same with a limit on each statement. */
    public Settings statementLimit(long millis) {
        return new Settings(isolation, readOnly, upToDate, position, positionMillis, lockMillis, millis, begins);
    }

    /** Whether a standby will do: nothing is written, and what is seen may lag behind. */
    boolean suitsStandby() {
        return begins && readOnly && !upToDate && isolation != Connection.TRANSACTION_SERIALIZABLE;
    }

    public boolean hasLevel() {
        return isolation != Connection.TRANSACTION_NONE;
    }

    /**
     * The same as SQL says it.
     *
     * @param several whether the server is one of several that take writes
     */
    Together.Opening opening(boolean several) {
        return new Together.Opening(
                hasLevel() ? level() : "", readOnly, several && upToDate, lockMillis, statementMillis);
    }

    /** The level as SQL names it. */
    String level() {
        return switch (isolation) {
            case Connection.TRANSACTION_READ_COMMITTED -> "read committed";
            case Connection.TRANSACTION_REPEATABLE_READ -> "repeatable read";
            case Connection.TRANSACTION_SERIALIZABLE -> "serializable";
            default -> throw new IllegalStateException("there is no level " + isolation);
        };
    }
}
