package io.bathra.read;

import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.sql.Dialect;
import io.bathra.sql.PlainText;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Where plain SQL is executed: on a connection of its own, in a plain transaction, or in a unit of work. */
public interface SqlLevel extends CursorPlace {
    Mapping model();

    Dialect dialect();

    /** Whatever has to be done before a statement; gives the transaction to execute it in. */
    Transaction begin(PlainText text);

    /** Runs something that may write. */
    <T extends @Nullable Object> T writing(PlainText text, Supplier<T> write);

    /** Makes objects of rows. */
    EntityReader reader(Transaction transaction);

    /** The objects have been made. */
    default void release(EntityReader reader) {
        reader.release();
    }
}
