package io.bathra;

import io.bathra.jdbc.Database;
import io.bathra.mapping.Mapping;
import io.bathra.model.Model;
import io.bathra.schema.Schema;
import java.util.List;

/** The databases that Bathra runs on, for work that needs none to be there. */
public enum DatabaseProduct {
    /** H2. */
    H2("H2"),
    /** SQLite. */
    SQLITE("SQLite"),
    /** PostgreSQL. */
    POSTGRESQL("PostgreSQL"),
    /** MariaDB. */
    MARIADB("MariaDB");

    private final String productName;

    DatabaseProduct(String productName) {
        this.productName = productName;
    }

    /**
     * {@return the statements that create all tables of a model in an empty database, in order}
     *
     * @param model the model
     */
    public List<String> createStatements(Model model) {
        return Database.named(productName, model.databaseSchema())
                .dialect()
                .definitions()
                .create(Schema.of(Mapping.of(model)).tables());
    }

    /** The name by which the database calls itself. */
    @Override
    public String toString() {
        return productName;
    }
}
