package io.bathra.flush;

import io.bathra.jdbc.Settings;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.read.EntityReader;
import io.bathra.read.SqlLevel;
import io.bathra.sql.Dialect;
import io.bathra.sql.PlainText;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Plain SQL on a connection of its own for each statement.
 *
 * @param alone whether there is no transaction around it either
 */
public record OwnConnection(Environment environment, boolean alone) implements SqlLevel {
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
        Settings settings = text.mayWrite() ? Settings.PLAIN : Settings.READING;
        return environment.onPrimary().transaction(environment.recorder(), alone ? Settings.ALONE : settings);
    }

    @Override
    public SqlLevel withoutTransaction() {
        return new OwnConnection(environment, true);
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
