package io.bathra;

import io.bathra.jdbc.Transaction;
import io.bathra.sql.PlainText;
import io.bathra.trace.Trace;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Plain SQL in a transaction of its own for each statement. */
record OwnConnection(Store store) implements SqlLevel {
    @Override
    public Transaction begin(PlainText text) {
        return store.transaction(new Trace(), text.mayWrite() ? Terms.PLAIN : Terms.reading());
    }

    @Override
    public <T extends @Nullable Object> T reading(Supplier<T> read) {
        return read.get();
    }

    @Override
    public <T extends @Nullable Object> T writing(PlainText text, Supplier<T> write) {
        return write.get();
    }

    @Override
    public void end(Transaction transaction, boolean done) {
        try (transaction) {
            if (done) {
                transaction.commit();
            }
        }
    }

    @Override
    public EntityReader reader(Transaction transaction) {
        return EntityReader.untracked(store, transaction);
    }
}
