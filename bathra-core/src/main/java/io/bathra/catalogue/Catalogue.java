package io.bathra.catalogue;

import io.bathra.attr.DeleteRule;
import io.bathra.mapping.ModelEntity;
import io.bathra.schema.Comparison;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import io.bathra.schema.Twin;
import io.bathra.sql.Dialect;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Which tables a database has in the model's schema, or the connection's own. Everything about all of them is read with
 * a fixed number of statements, however many tables there are.
 */
public abstract class Catalogue {
    final Connection connection;
    final Dialect dialect;

    Catalogue(Connection connection, Dialect dialect) {
        this.connection = connection;
        this.dialect = dialect;
    }

    /** A row of a catalogue. */
    interface Row {
        void read(ResultSet row) throws SQLException;
    }

    /** Those of some tables that a database has, by the names that they are declared with; null without the schema. */
    public final @Nullable Map<String, LiveTable> tables(List<Table> declared) throws SQLException {
        Optional<String> schema = schema();
        return schema.isEmpty() ? null : wanted(tables(schema.get()), declared);
    }

    /**
     * For those tables that need one, a copy to compare expressions with, or why there is none; by the names that they
     * are declared with. Nothing is left of the copies.
     */
    public final Map<String, Twin> twins(List<Table> declared, Map<String, LiveTable> live) throws SQLException {
        Map<Table, LiveTable> needing = new LinkedHashMap<>();
        for (Table table : declared) {
            LiveTable there = live.get(table.name());
            if (there != null && Comparison.needsCopy(table, there, dialect.definitions())) {
                needing.put(table, there);
            }
        }
        return needing.isEmpty() ? Map.of() : twins(needing);
    }

    /** Those of some entities, whose tables are there, that have no generator, or one that lags behind. */
    public final List<GeneratorLag> lags(List<ModelEntity<?>> entities) throws SQLException {
        Optional<String> schema = schema();
        return schema.isEmpty() ? List.of() : new GeneratorCheck(this, standings(schema.get())).lags(entities);
    }

    final Map<String, LiveTable> wanted(Map<String, LiveTable> listed, List<Table> declared) {
        Map<String, List<LiveTable>> folded = new LinkedHashMap<>();
        listed.values()
                .forEach(table -> folded.computeIfAbsent(folded(table.name()), n -> new ArrayList<>())
                        .add(table));
        Map<String, LiveTable> wanted = new LinkedHashMap<>();
        for (Table table : declared) {
            for (LiveTable one : folded.getOrDefault(folded(table.name()), List.of())) {
                if (dialect.sameName(table.name(), one.name())) {
                    wanted.put(table.name(), one);
                }
            }
        }
        return wanted;
    }

    private static String folded(String name) {
        return name.toLowerCase(Locale.ROOT);
    }

    /** The schema that the tables are in, as it is listed; empty when there is none. */
    abstract Optional<String> schema() throws SQLException;

    /** The tables and views of a schema, as they are listed. */
    abstract Map<String, LiveTable> tables(String schema) throws SQLException;

    /** Copies of tables, in the words of the catalogue. */
    abstract Map<String, Twin> twins(Map<Table, LiveTable> tables) throws SQLException;

    /** Where the generators of a schema stand, by the names under which they are listed. */
    abstract Map<String, Standing> standings(String schema) throws SQLException;

    /** Draws a value, for a database that does not tell otherwise what is left of those that it has taken aside. */
    long draw(String sequence) throws SQLException {
        throw new SQLException("no right to read " + sequence);
    }

    /** The copy that was made from a table's declaration, or why there is none. */
    static Twin twin(LiveTable live, @Nullable LiveTable copy, @Nullable String failure) {
        return copy != null && failure == null ? Twin.of(live, copy) : Twin.none(live, String.valueOf(failure));
    }

    /** A delete rule in the words of the standard. */
    static DeleteRule rule(String words) {
        return switch (words) {
            case "CASCADE" -> DeleteRule.CASCADE;
            case "SET NULL" -> DeleteRule.SET_NULL;
            default -> DeleteRule.RESTRICT;
        };
    }

    /** Hands over each row. */
    final void each(String sql, List<String> values, Row row) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.size(); i++) {
                statement.setString(i + 1, values.get(i));
            }
            try (ResultSet result = statement.executeQuery()) {
                while (result.next()) {
                    row.read(result);
                }
            }
        }
    }

    /** The first value of the only row; empty for none, and where it is null. */
    final Optional<String> one(String sql, List<String> values) throws SQLException {
        List<String> found = new ArrayList<>();
        each(sql, values, row -> {
            String value = row.getString(1);
            if (value != null) {
                found.add(value);
            }
        });
        return found.stream().findFirst();
    }

    /** The listed name by which the database means the model's schema. */
    final Optional<String> listed(String sql) throws SQLException {
        List<String> found = new ArrayList<>();
        String wanted = String.valueOf(dialect.schema());
        each(sql, List.of(), row -> {
            if (dialect.sameName(wanted, row.getString(1))) {
                found.add(row.getString(1));
            }
        });
        return found.stream().findFirst();
    }
}
