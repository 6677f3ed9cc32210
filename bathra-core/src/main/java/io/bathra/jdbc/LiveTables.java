package io.bathra.jdbc;

import io.bathra.catalogue.Catalogue;
import io.bathra.catalogue.GeneratorLag;
import io.bathra.mapping.ModelEntity;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import io.bathra.schema.Twin;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What the database of a transaction has. */
public final class LiveTables {
    private final Transaction transaction;
    private final Catalogue catalogue;

    public LiveTables(Transaction transaction) {
        this.transaction = transaction;
        this.catalogue = transaction.database().catalogue(transaction.open());
    }

    /** A look into the catalogue. */
    private interface Look<T extends @Nullable Object> {
        T take() throws SQLException;
    }

    /** Those of some tables that are there, by the names that they are declared with; null without their schema. */
    public @Nullable Map<String, LiveTable> of(List<Table> declared) {
        return look("description of tables", () -> catalogue.tables(declared));
    }

    /** What expressions can be compared with, for the tables that have some. */
    public Map<String, Twin> twins(List<Table> declared, Map<String, LiveTable> live) {
        return look("copies of tables", () -> catalogue.twins(declared, live));
    }

    /** Those of some entities, whose tables are there, that have no generator, or one that lags behind. */
    public List<GeneratorLag> lags(List<ModelEntity<?>> entities) {
        return look("generators", () -> catalogue.lags(entities));
    }

    private <T extends @Nullable Object> T look(String words, Look<T> look) {
        try {
            return look.take();
        } catch (SQLException e) {
            throw transaction.translate(e, words);
        }
    }
}
