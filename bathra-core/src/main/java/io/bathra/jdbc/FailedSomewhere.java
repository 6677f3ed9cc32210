package io.bathra.jdbc;

import io.bathra.error.BathraException;

/** A statement has failed, and nobody can tell which one: they are to be executed one by one to find out. */
public final class FailedSomewhere extends RuntimeException {
    private final transient BathraException failure;
    private final boolean onlyTogether;

    FailedSomewhere(BathraException failure, boolean onlyTogether) {
        super(failure);
        this.failure = failure;
        this.onlyTogether = onlyTogether;
    }

    /** What is to be told when none of them fails alone. */
    public BathraException failure() {
        return failure;
    }

    /** Whether they may well be executed one by one, since the server has refused to take them together. */
    public boolean isOnlyTogether() {
        return onlyTogether;
    }
}
