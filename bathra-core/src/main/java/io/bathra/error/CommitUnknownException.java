package io.bathra.error;

/** The connection was lost during COMMIT: whether the database has committed cannot be told from here. */
public final class CommitUnknownException extends BathraException {
    /**
     * Made by the library, where it happens.
     *
     * @param cause what was behind it; null for nothing
     */
    public CommitUnknownException(Throwable cause) {
        super(
                "the connection was lost during COMMIT, so it is unknown whether the changes are stored;"
                        + " look in the database before you do the work again",
                cause);
    }
}
