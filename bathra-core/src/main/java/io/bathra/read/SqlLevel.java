package io.bathra.read;

import io.bathra.error.BathraException;
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

    /**
     * The same place, where a statement stands for itself.
     *
     * @throws BathraException when it would be a part of a transaction
     */
    default SqlLevel withoutTransaction() {
        throw new BathraException("this statement would be executed in the transaction that is under way; to run it"
                + " without one, ask the store: store.sql(...).withoutTransaction()");
    }

    /** Runs something that may write. */
    <T extends @Nullable Object> T writing(PlainText text, Supplier<T> write);

    /** Makes objects of rows. */
    EntityReader reader(Transaction transaction);

    /** The objects have been made. */
    default void release(EntityReader reader) {
        reader.release();
    }
}
