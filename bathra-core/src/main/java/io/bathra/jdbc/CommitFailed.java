package io.bathra.jdbc;

import io.bathra.error.BathraException;

/** Everything was written, but not committed: there is no transaction to go on with. */
public final class CommitFailed extends RuntimeException {
    private final transient BathraException failure;

    CommitFailed(BathraException failure) {
        super(failure);
        this.failure = failure;
    }

    /** What is to be told. */
    public BathraException failure() {
        return failure;
    }
}
