package io.bathra;

import io.bathra.jdbc.TableCatalogue;
import io.bathra.jdbc.Transaction;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.sql.Dialect;
import io.bathra.trace.Trace;
import java.util.List;

/** The tables of a store's model in its database. */
public final class LiveSchema {
    private final Store store;

    LiveSchema(Store store) {
        this.store = store;
    }

    /** The statements that create all tables in an empty database, in order. */
    public List<String> statements() {
        return store.dialect().create(Schema.of(store.model()).tables());
    }

    /**
     * Creates the tables that are not there yet, with their constraints and indexes. Tables that are there are left
     * alone.
     *
     * @return the statements that were executed; empty when every table was there
     */
    public List<String> createMissing() {
        Dialect dialect = store.dialect();
        try (Transaction transaction = store.transaction(new Trace())) {
            List<String> there = TableCatalogue.tables(transaction);
            List<Table> missing = Schema.of(store.model()).tables().stream()
                    .filter(table -> there.stream().noneMatch(name -> dialect.sameName(table.name(), name)))
                    .toList();
            List<String> statements = dialect.create(missing);
            statements.forEach(sql -> transaction.execute("create schema", sql));
            transaction.commit();
            return List.copyOf(statements);
        }
    }
}
