package io.bathra.flush;

import io.bathra.jdbc.Recorder;
import io.bathra.jdbc.Settings;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.read.EntityReader;
import io.bathra.read.SqlLevel;
import io.bathra.sql.Dialect;
import io.bathra.sql.PlainText;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Plain SQL in a transaction of its own for each statement. */
public record OwnConnection(Environment environment) implements SqlLevel {
    @Override
    public Mapping model() {
        return environment.model();
    }

    @Override
    public Dialect dialect() {
        return environment.dialect();
    }

    @Override
    public Transaction begin(PlainText text) {
        return environment.transaction(new Recorder(), text.mayWrite() ? Settings.PLAIN : Settings.READING);
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
        return EntityReader.untracked(model(), transaction);
    }
}
