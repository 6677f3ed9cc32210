package io.bathra;

import io.bathra.error.BathraException;
import io.bathra.flush.Environment;
import io.bathra.flush.TableCreation;
import io.bathra.jdbc.GeneratorCheck;
import io.bathra.jdbc.TableCatalogue;
import io.bathra.jdbc.Transaction;
import io.bathra.model.Difference;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import java.util.ArrayList;
import java.util.List;

/** The tables of a store's model in its database. */
public final class LiveSchema {
    private final Environment environment;

    LiveSchema(Environment environment) {
        this.environment = environment;
    }

    /** The statements that create all tables in an empty database, in order. */
    public List<String> statements() {
        return environment.dialect().definitions().create(tables());
    }

    /**
     * Creates the tables that are not there yet, with their constraints and indexes, and their schema when the model
     * names one. Tables that are there are left alone; the report says what they lack. Several may do so at once: who
     * finds that somebody else was faster looks again until nothing is missing.
     */
    public SchemaReport createMissing() {
        TableCreation.Created created = new TableCreation(environment).create();
        return new SchemaReport(created.statements(), created.lacking());
    }

    /**
     * Drops the model's tables with all their rows, and creates them anew.
     *
     * @param consent the model's name, repeated to say that all rows may be lost
     * @return the statements that were executed
     * @throws BathraException when the consent is not given
     */
    public List<String> recreate(String consent) {
        if (!consent.equals(environment.model().name())) {
            throw new BathraException("recreate drops all tables of the model '"
                    + environment.model().name() + "' with their rows; to consent, give that name instead of '"
                    + consent + "'");
        }
        List<Table> own = tables().stream()
                .filter(table -> environment.model().tables().stream()
                        .anyMatch(entity -> entity.table().equals(table.name())))
                .toList(); // others may draw keys from the same table
        List<String> statements =
                new ArrayList<>(environment.dialect().definitions().drop(own));
        try (Transaction transaction = environment.transaction()) {
            statements.forEach(sql -> transaction.execute("recreate schema", sql));
            transaction.commit();
        }
        statements.addAll(createMissing().statements());
        return List.copyOf(statements);
    }

    /**
     * Compares the database with what the model asks for: tables, columns with type and size, keys, unique constraints,
     * foreign keys and indexes, and generators that lag behind the keys that are stored. Constraints are told by their
     * columns, so their names play no part.
     *
     * @return each difference; empty when there is none
     */
    public List<Difference> verify() {
        try (Transaction transaction = environment.transaction()) {
            List<String> names = TableCatalogue.names(transaction).orElse(List.of());
            List<Difference> differences = new ArrayList<>(TableCreation.compare(transaction, tables(), names));
            GeneratorCheck generators = new GeneratorCheck(transaction);
            environment.model().tables().stream()
                    .filter(entity -> names.stream()
                            .anyMatch(name -> environment.dialect().sameName(entity.table(), name)))
                    .forEach(entity -> generators.lag(entity).ifPresent(differences::add));
            return List.copyOf(differences);
        }
    }

    private List<Table> tables() {
        return Schema.of(environment.model()).tables();
    }
}
