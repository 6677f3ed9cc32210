package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.DatabaseProduct;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.Shown;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Values that leave an inlined value for an entity of its own, and come back; rows that get values by a backfill. */
@OnEachDatabase
class MovingValuesTest {
    private static final String FIRST = """
            bathra: 1
            steps:
              - create entity: Yard
                key: [id]
                keys: generated
                attributes:
                  id: long
                  name: text 40
                  address.street: text 40
                  address.city: text 40
            """;

    private static final String OUT = """
            bathra: 1
            after: 2026-11-20-first
            steps:
              - create entity: Address
                key: [id]
                keys: generated
                attributes:
                  id: long
                  street: text 40
                  town: text 40
              - add link: Yard.address
                to: Address
                on delete: set null
              - move values out of: Yard
                by: address
                attributes: { address.street: street, address.city: town }
              - drop attribute: Yard.address.street
                values: lost
              - drop attribute: Yard.address.city
                values: lost
            """;

    private static final String BACK = """
            bathra: 1
            after: 2026-12-01-out
            steps:
              - add attribute: Yard.city
                type: text 40
              - move values into: Yard
                by: address
                attributes: { city: town }
              - add attribute: Yard.sign
                type: text 40
              - backfill: Yard.sign
                term: { upper: name }
              - drop link: Yard.address
                values: lost
              - drop entity: Address
                rows: lost
            """;

    private final TestDatabase database;

    @TempDir
    Path folder;

    MovingValuesTest(TestDatabase database) {
        this.database = database;
    }

    @Test
    void valuesMoveOutAndInAgain() throws Exception {
        Files.writeString(folder.resolve("2026-11-20-first.yaml"), FIRST);
        Files.writeString(folder.resolve("2026-12-01-out.yaml"), OUT);
        Files.writeString(folder.resolve("2026-12-02-back.yaml"), BACK);
        try (Connection connection = database.empty().getConnection()) {
            execute(connection, "2026-11-20-first");
            execute(
                    connection,
                    List.of(
                            "insert into yard (id, name, street, city) values (5, 'north', 'Quay 1', 'Bergen')",
                            "insert into yard (id, name, street, city) values (7, 'south', null, 'Stavanger')",
                            "insert into yard (id, name) values (9, 'nowhere')"));
            execute(connection, "2026-12-01-out");
            assertThat(rows(
                            connection,
                            "select y.name, a.street, a.town from yard y left join address a on a.id = y.address_id"
                                    + " order by y.id"))
                    .containsExactly("north Quay 1 Bergen", "south null Stavanger", "nowhere null null");
            execute(connection, List.of("insert into address (town) values ('Oslo')"));
            assertThat(rows(connection, "select count(*) from address where id > 7"))
                    .as("the generator has gone on")
                    .containsExactly("1");
            execute(connection, "2026-12-02-back");
            assertThat(rows(connection, "select name, city, sign from yard order by id"))
                    .containsExactly("north Bergen NORTH", "south Stavanger SOUTH", "nowhere null NOWHERE");
        }
    }

    private void execute(Connection connection, String file) throws SQLException {
        DatabaseProduct product = DatabaseProduct.valueOf(database.name().toUpperCase(Locale.ROOT));
        List<String> statements = new ArrayList<>();
        for (Shown step : SchemaChanges.of(folder).history().show(file, product, null)) {
            step.statements().forEach(one -> statements.add(one.sql()));
        }
        execute(connection, statements);
    }

    private static void execute(Connection connection, List<String> statements) throws SQLException {
        for (String sql : statements) {
            try (Statement statement = connection.createStatement()) {
                statement.execute(sql);
            }
        }
    }

    private static List<String> rows(Connection connection, String sql) throws SQLException {
        List<String> rows = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(sql)) {
            while (result.next()) {
                List<String> row = new ArrayList<>();
                for (int i = 1; i <= result.getMetaData().getColumnCount(); i++) {
                    row.add(result.getString(i));
                }
                rows.add(String.join(" ", row.stream().map(String::valueOf).toList()));
            }
        }
        return rows;
    }
}
