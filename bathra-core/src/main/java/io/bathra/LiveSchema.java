package io.bathra;

import io.bathra.error.BathraException;
import io.bathra.flush.Environment;
import io.bathra.jdbc.GeneratorCheck;
import io.bathra.jdbc.TableCatalogue;
import io.bathra.jdbc.Transaction;
import io.bathra.model.Difference;
import io.bathra.schema.Comparison;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.sql.Dialect;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

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
     * names one. Tables that are there are left alone; the report says what they lack.
     */
    public SchemaReport createMissing() {
        Dialect dialect = environment.dialect();
        try (Transaction transaction = environment.transaction()) {
            List<Table> tables = tables();
            Optional<List<String>> listed = TableCatalogue.names(transaction);
            List<String> names = listed.orElse(List.of());
            List<Table> missing = tables.stream()
                    .filter(table -> names.stream().noneMatch(name -> dialect.sameName(table.name(), name)))
                    .toList();
            List<Table> there =
                    tables.stream().filter(table -> !missing.contains(table)).toList();
            List<Difference> lacking = compare(transaction, there, names).stream()
                    .filter(Difference::missing)
                    .toList();
            List<String> statements = new ArrayList<>(dialect.definitions().create(missing));
            if (listed.isEmpty() && dialect.schema() != null) {
                statements.add(0, dialect.definitions().createSchema(dialect.schema()));
            }
            statements.forEach(sql -> transaction.execute("create schema", sql));
            transaction.commit();
            return new SchemaReport(statements, lacking);
        }
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
            List<Difference> differences = new ArrayList<>(compare(transaction, tables(), names));
            GeneratorCheck generators = new GeneratorCheck(transaction);
            environment.model().tables().stream()
                    .filter(entity -> names.stream()
                            .anyMatch(name -> environment.dialect().sameName(entity.table(), name)))
                    .forEach(entity -> generators.lag(entity).ifPresent(differences::add));
            return List.copyOf(differences);
        }
    }

    private List<Difference> compare(Transaction transaction, List<Table> tables, List<String> names) {
        Dialect dialect = environment.dialect();
        List<String> wanted = names.stream()
                .filter(name -> tables.stream().anyMatch(table -> dialect.sameName(table.name(), name)))
                .toList();
        return Comparison.of(tables, TableCatalogue.tables(transaction, wanted), dialect.definitions());
    }

    private List<Table> tables() {
        return Schema.of(environment.model()).tables();
    }
}
