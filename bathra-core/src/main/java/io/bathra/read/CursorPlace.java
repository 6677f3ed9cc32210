package io.bathra.read;

import io.bathra.jdbc.Transaction;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Where rows are read one after the other. */
public interface CursorPlace {
    /** Runs something that reads, and takes note when it fails. */
    <T extends @Nullable Object> T reading(Supplier<T> read);

    /** The rows have come to their end, or something has failed. */
    void end(Transaction transaction, boolean done);
}
