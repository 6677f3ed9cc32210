package io.bathra.cli.session;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import org.jspecify.annotations.Nullable;

/** What the entries of a session see by name. A program has one session at a time. */
public final class Live {
    /** The store of the session. */
    public static volatile @Nullable Store store;

    /** The unit of work of now. */
    public static volatile @Nullable UnitOfWork work;

    private Live() {}
}
