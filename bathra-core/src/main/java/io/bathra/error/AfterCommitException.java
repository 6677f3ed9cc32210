package io.bathra.error;

/** A listener has failed after the commit, which stands. What the listener has thrown is the cause. */
public final class AfterCommitException extends BathraException {
    /**
     * Made by the library, where it happens.
     *
     * @param cause what was behind it; null for nothing
     */
    public AfterCommitException(RuntimeException cause) {
        super(
                "everything is committed, but a listener that was told afterwards has failed: " + cause.getMessage()
                        + "; do by hand what it had to do outside of the database",
                cause);
    }
}
