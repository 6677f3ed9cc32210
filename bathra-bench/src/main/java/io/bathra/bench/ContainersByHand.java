package io.bathra.bench;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.sql.Array;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Iterator;
import java.util.List;
import java.util.stream.Stream;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;

/** Stores containers in plain JDBC: one by one, in batches, and in the fastest way of each database. */
final class ContainersByHand {
    private static final String COLUMNS = "container (serial, owner, slot, tonnes, seen)";
    private static final String ROW = "(?, ?, ?, ?, ?)";
    private static final int PORTION = 1_000;

    private final String database;
    private final Connection connection;

    ContainersByHand(String database, Connection connection) {
        this.database = database;
        this.connection = connection;
    }

    private static int bind(PreparedStatement statement, int from, Container container) throws SQLException {
        statement.setString(from, container.serial);
        statement.setString(from + 1, container.owner);
        statement.setInt(from + 2, container.slot);
        statement.setBigDecimal(from + 3, container.tonnes);
        statement.setObject(from + 4, container.seen);
        return from + 5;
    }

    /** What makes an insert an upsert; it leaves rows alone that are as they should be, where that can be said. */
    private String over() {
        return switch (database) {
            case "postgresql" ->
                " on conflict (serial) do update set owner = excluded.owner, slot = excluded.slot,"
                        + " tonnes = excluded.tonnes, seen = excluded.seen where (container.owner, container.slot,"
                        + " container.tonnes, container.seen) is distinct from (excluded.owner, excluded.slot,"
                        + " excluded.tonnes, excluded.seen)";
            case "sqlite" ->
                " on conflict (serial) do update set owner = excluded.owner, slot = excluded.slot,"
                        + " tonnes = excluded.tonnes, seen = excluded.seen where (container.owner, container.slot,"
                        + " container.tonnes, container.seen) is not (excluded.owner, excluded.slot,"
                        + " excluded.tonnes, excluded.seen)";
            case "mariadb" ->
                " on duplicate key update owner = value(owner), slot = value(slot), tonnes = value(tonnes),"
                        + " seen = value(seen)";
            default -> "";
        };
    }

    private String one(boolean upsert) {
        return upsert && database.equals("h2")
                ? merge(1)
                : "insert into " + COLUMNS + " values " + ROW + (upsert ? over() : "");
    }

    private static String merge(int rows) {
        return "merge into container t using (values "
                + String.join(
                        ", ",
                        Collections.nCopies(
                                rows,
                                "(cast(? as varchar(12)), cast(? as varchar(40)), cast(? as integer), cast(? as numeric(8, 2)),"
                                        + " cast(? as timestamp(6)))"))
                + ") s(serial, owner, slot, tonnes, seen) on t.serial = s.serial when matched and (t.owner, t.slot,"
                + " t.tonnes, t.seen) is distinct from (s.owner, s.slot, s.tonnes, s.seen) then update set owner = s.owner,"
                + " slot = s.slot, tonnes = s.tonnes, seen = s.seen when not matched then insert (serial, owner, slot,"
                + " tonnes, seen) values (s.serial, s.owner, s.slot, s.tonnes, s.seen)";
    }

    void oneByOne(Stream<Container> containers, boolean upsert) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(one(upsert))) {
            for (Iterator<Container> rows = containers.iterator(); rows.hasNext(); ) {
                bind(statement, 1, rows.next());
                statement.executeUpdate();
            }
        }
    }

    void batches(Stream<Container> containers, boolean upsert) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(one(upsert))) {
            int waiting = 0;
            for (Iterator<Container> rows = containers.iterator(); rows.hasNext(); ) {
                bind(statement, 1, rows.next());
                statement.addBatch();
                if (++waiting == PORTION || !rows.hasNext()) {
                    statement.executeBatch();
                    waiting = 0;
                }
            }
        }
    }

    /** COPY or arrays on PostgreSQL, a batch for the inserts of MariaDB, many rows a statement elsewhere. */
    void fastest(Stream<Container> containers, boolean upsert) throws SQLException, IOException {
        if (database.equals("postgresql")) {
            if (upsert) {
                arrays(containers);
            } else {
                copy(containers);
            }
        } else if (database.equals("mariadb") && !upsert) {
            batches(containers, false);
        } else {
            manyRows(containers, upsert);
        }
    }

    private void manyRows(Stream<Container> containers, boolean upsert) throws SQLException {
        List<Container> portion = new ArrayList<>(PORTION);
        for (Iterator<Container> rows = containers.iterator(); rows.hasNext(); ) {
            portion.add(rows.next());
            if (portion.size() == PORTION || !rows.hasNext()) {
                String many = "insert into " + COLUMNS + " values "
                        + String.join(", ", Collections.nCopies(portion.size(), ROW));
                String sql = !upsert ? many : database.equals("h2") ? merge(portion.size()) : many + over();
                try (PreparedStatement statement = connection.prepareStatement(sql)) {
                    int next = 1;
                    for (Container container : portion) {
                        next = bind(statement, next, container);
                    }
                    statement.executeUpdate();
                }
                portion.clear();
            }
        }
    }

    private void arrays(Stream<Container> containers) throws SQLException {
        String sql = "insert into " + COLUMNS + " select * from unnest(?::text[], ?::text[], ?::int[], ?::numeric[],"
                + " ?::timestamp[])" + over();
        String[] types = {"text", "text", "int4", "numeric", "timestamp"};
        List<Container> portion = new ArrayList<>();
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            for (Iterator<Container> rows = containers.iterator(); rows.hasNext(); ) {
                portion.add(rows.next());
                if (portion.size() == 5 * PORTION || !rows.hasNext()) {
                    Object[][] columns = new Object[5][portion.size()];
                    for (int i = 0; i < portion.size(); i++) {
                        Container container = portion.get(i);
                        columns[0][i] = container.serial;
                        columns[1][i] = container.owner;
                        columns[2][i] = container.slot;
                        columns[3][i] = container.tonnes;
                        columns[4][i] = container.seen;
                    }
                    for (int i = 0; i < 5; i++) {
                        Array array = connection.createArrayOf(types[i], columns[i]);
                        statement.setArray(i + 1, array);
                    }
                    statement.executeUpdate();
                    portion.clear();
                }
            }
        }
    }

    private void copy(Stream<Container> containers) throws SQLException {
        CopyIn copy = connection.unwrap(PGConnection.class).getCopyAPI().copyIn("copy " + COLUMNS + " from stdin");
        StringBuilder text = new StringBuilder();
        for (Iterator<Container> rows = containers.iterator(); rows.hasNext(); ) {
            Container container = rows.next();
            text.append(container.serial).append('\t').append(container.owner).append('\t');
            text.append(container.slot)
                    .append('\t')
                    .append(container.tonnes.toPlainString())
                    .append('\t');
            text.append(container.seen).append('\n');
            if (text.length() > 1 << 16 || !rows.hasNext()) {
                byte[] bytes = text.toString().getBytes(StandardCharsets.UTF_8);
                copy.writeToCopy(bytes, 0, bytes.length);
                text.setLength(0);
            }
        }
        copy.endCopy();
    }
}
