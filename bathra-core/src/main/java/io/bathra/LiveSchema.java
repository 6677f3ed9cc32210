package io.bathra;

import io.bathra.error.BathraException;
import io.bathra.flush.Environment;
import io.bathra.flush.GeneratorMove;
import io.bathra.flush.TableCreation;
import io.bathra.jdbc.LiveTables;
import io.bathra.jdbc.Transaction;
import io.bathra.ledger.Ledger;
import io.bathra.model.Difference;
import io.bathra.schema.Comparison;
import io.bathra.schema.Extent;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.sql.Definitions;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;

/** The tables of a store's model in its database. */
public final class LiveSchema {
    private final Environment environment;

    LiveSchema(Environment environment) {
        this.environment = environment;
    }

    /** {@return the statements that create all tables in an empty database, in order} */
    public List<String> statements() {
        return environment.dialect().definitions().create(tables());
    }

    /**
     * Creates the tables that are not there yet, with their constraints and indexes, and their schema when the model
     * names one. Tables that are there are left alone; the report says what they lack. Several may do so at once: who
     * finds that somebody else was faster looks again until nothing is missing.
     *
     * @return what was executed, and what is missing
     * @throws BathraException when change files have been applied, which alone make the tables then
     */
    public SchemaReport createMissing() {
        filesAlone("createMissing()");
        TableCreation.Created created = new TableCreation(environment).create();
        return new SchemaReport(created.statements(), created.lacking(), Extent.ofTables(tables()));
    }

    /**
     * Drops the model's tables with all their rows, and creates them anew.
     *
     * @param consent the model's name, repeated to say that all rows may be lost
     * @return the statements that were executed
     * @throws BathraException when the consent is not given, or change files have been applied
     */
    public List<String> recreate(String consent) {
        filesAlone("recreate(...)");
        List<Table> own = own("recreate drops all tables", consent);
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
     * Deletes all rows of the model's tables, and lets generators begin again; the tables stay. For tests and demo data:
     * keys that other programs have drawn before may be drawn again.
     *
     * @param consent the model's name, repeated to say that all rows may be lost
     * @throws BathraException when the consent is not given, or a table is not there
     */
    public void empty(String consent) {
        Definitions definitions = environment.dialect().definitions();
        List<Table> own = own("empty deletes all rows in the tables", consent);
        try (Transaction transaction = environment.transaction()) {
            try {
                definitions.empty(own).forEach(sql -> transaction.execute("empty", sql));
            } finally {
                definitions.afterDeletingAll(own).forEach(sql -> transaction.execute("empty", sql));
            }
            transaction.commit();
        }
        environment.forgetKeys();
    }

    /** Where change files have been applied, they alone make tables: what anybody else makes, no file knows of. */
    private void filesAlone(String call) {
        if (Ledger.isIn(environment)) {
            throw new BathraException(
                    call + " is refused, since the tables of this database are made by change files: draft one"
                            + " for what is missing, and apply it");
        }
    }

    private List<Table> own(String what, String consent) {
        if (!consent.equals(environment.model().name())) {
            throw new BathraException(
                    what + " of the model '" + environment.model().name()
                            + "' with their rows; to consent, give that name instead of '" + consent + "'");
        }
        return tables().stream()
                .filter(table -> environment.model().tables().stream()
                        .anyMatch(entity -> entity.table().equals(table.name())))
                .toList(); // others may draw keys from the same table
    }

    /**
     * Compares the database with all that the model asks for: tables, columns with type, size and collation, keys,
     * unique constraints, foreign keys with what they do on delete, indexes with their order, checks, defaults, computed
     * values, what is deferrable, and generators, which must not lag behind the keys that are stored. Constraints are
     * told by their columns and checks by what they say, so their names play no part.
     *
     * <p>A database keeps an expression in words of its own. Those that are there are compared with those of a copy of
     * the table, of which nothing is left. Where none can be made, a difference says that something was not compared.
     * On MariaDB, whose sequences do not tell where they stand, a generator may be asked for a key, which nobody gets
     * then.
     *
     * @return each difference; empty when there is none, and all was compared
     */
    public List<Difference> verify() {
        try (Transaction transaction = environment.transaction()) {
            List<Table> tables = tables();
            LiveTables there = new LiveTables(transaction);
            Map<String, LiveTable> listed = there.of(tables);
            Map<String, LiveTable> live = listed == null ? Map.of() : listed;
            List<Difference> differences = new ArrayList<>(Comparison.of(
                    tables,
                    live,
                    there.twins(tables, live),
                    environment.dialect().definitions()));
            new GeneratorMove(environment).lags(transaction, live).forEach(lag -> differences.add(lag.difference()));
            differences.sort(Comparator.comparingInt(difference -> table(tables, difference)));
            return List.copyOf(differences);
        }
    }

    /** The place of the table that a difference is in. */
    private static int table(List<Table> tables, Difference difference) {
        String place = difference.place();
        for (int i = 0; i < tables.size(); i++) {
            String name = tables.get(i).name();
            if (place.equals(name) || place.startsWith(name + ".")) {
                return i;
            }
        }
        return tables.size();
    }

    /** {@return what {@link #verify()} looks at, in words: "14 tables, 61 columns, 12 foreign keys" and so on} */
    public String lookedAt() {
        return Extent.of(tables());
    }

    /**
     * Moves on the generators that lag behind the keys that are stored, so that none of those is drawn again. Other
     * programs that have already drawn a block of keys of such a sequence still have it.
     *
     * @return what {@link #verify()} would have said about each of them; empty when none lagged behind
     * @throws BathraException when a generator has not moved on
     */
    public List<Difference> moveGenerators() {
        return new GeneratorMove(environment).move();
    }

    private List<Table> tables() {
        return Schema.of(environment.model()).tables();
    }
}
