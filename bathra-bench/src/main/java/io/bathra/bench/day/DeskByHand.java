package io.bathra.bench.day;

import static io.bathra.bench.day.Harbour.BERTHS;
import static io.bathra.bench.day.Harbour.DEPARTED;
import static io.bathra.bench.day.Harbour.DEPARTING;
import static io.bathra.bench.day.Harbour.EXPECTED;
import static io.bathra.bench.day.Harbour.MORNING;
import static io.bathra.bench.day.Harbour.MOVEMENTS;
import static io.bathra.bench.day.Harbour.PILOTS;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.ConcurrentModificationException;
import java.util.List;
import javax.sql.DataSource;

/** The counter's work in JDBC, as a good engineer writes it: few statements, batches, versions compared. */
final class DeskByHand implements Desk {
    private static final int ATTEMPTS = 10;

    private final DataSource source;
    private final String forUpdate;
    private final boolean typedTimes;

    DeskByHand(DataSource source, String database) {
        this.source = source;
        this.forUpdate = database.equals("sqlite") ? "" : " for update";
        this.typedTimes = !database.equals("sqlite");
    }

    private record Vessel(String imo, String name) {}

    private record Pilot(int badge, String name) {}

    private record Movement(int line, String kind, LocalDateTime due) {}

    private record Call(
            String imo,
            int number,
            LocalDateTime eta,
            String status,
            int revision,
            int berth,
            List<Movement> movements,
            List<Pilot> pilots) {}

    private interface Work<T> {
        T on(Connection connection) throws SQLException;
    }

    /** What loses against others is tried again. */
    private <T> T transaction(Work<T> work) throws SQLException {
        for (int attempt = 1; ; attempt++) {
            try (Connection connection = source.getConnection()) {
                if (connection.getAutoCommit()) {
                    connection.setAutoCommit(false); // the pool switches it on again
                }
                try {
                    T answer = work.on(connection);
                    connection.commit();
                    return answer;
                } catch (SQLException | ConcurrentModificationException e) {
                    connection.rollback();
                    if (attempt == ATTEMPTS) {
                        throw e;
                    }
                }
            }
        }
    }

    @Override
    public void arrive(int number) throws SQLException {
        String imo = Harbour.imo(number);
        transaction(connection -> {
            Vessel vessel;
            try (PreparedStatement find = connection.prepareStatement("select imo, name from vessel where imo = ?")) {
                find.setString(1, imo);
                try (ResultSet row = find.executeQuery()) {
                    row.next();
                    vessel = new Vessel(row.getString(1), row.getString(2));
                }
            }
            List<Pilot> pilots = new ArrayList<>();
            try (PreparedStatement find =
                    connection.prepareStatement("select badge, name from pilot where badge in (?, ?)")) {
                find.setInt(1, number % PILOTS);
                find.setInt(2, (number + 1) % PILOTS);
                try (ResultSet row = find.executeQuery()) {
                    while (row.next()) {
                        pilots.add(pilot(row));
                    }
                }
            }
            List<Movement> movements = new ArrayList<>();
            for (int line = 1; line <= MOVEMENTS; line++) {
                movements.add(new Movement(line, "SHIFT", MORNING.plusMinutes(line)));
            }
            Call call = new Call(
                    vessel.imo, number, MORNING.plusSeconds(number), EXPECTED, 0, number % BERTHS, movements, pilots);
            try (PreparedStatement insert =
                    connection.prepareStatement("insert into port_call (vessel_id, number, eta, status, revision,"
                            + " berth_id) values (?, ?, ?, ?, ?, ?)")) {
                insert.setString(1, imo);
                insert.setInt(2, number);
                time(insert, 3, call.eta);
                insert.setString(4, call.status);
                insert.setInt(5, call.revision);
                insert.setInt(6, call.berth);
                insert.executeUpdate();
            }
            try (PreparedStatement insert = connection.prepareStatement("insert into movement (call_vessel_id,"
                    + " call_number, line, kind, due) values (?, ?, ?, ?, ?)")) {
                for (Movement movement : call.movements) {
                    insert.setString(1, call.imo);
                    insert.setInt(2, call.number);
                    insert.setInt(3, movement.line);
                    insert.setString(4, movement.kind);
                    time(insert, 5, movement.due);
                    insert.addBatch();
                }
                insert.executeBatch();
            }
            try (PreparedStatement insert = connection.prepareStatement("insert into port_call_pilots"
                    + " (port_call_vessel_id, port_call_number, pilot_id) values (?, ?, ?)")) {
                for (Pilot pilot : call.pilots) {
                    insert.setString(1, call.imo);
                    insert.setInt(2, call.number);
                    insert.setInt(3, pilot.badge);
                    insert.addBatch();
                }
                insert.executeBatch();
            }
            return call;
        });
    }

    @Override
    public void pay(int number) throws SQLException {
        int account = number % Harbour.ACCOUNTS;
        transaction(connection -> {
            long cents;
            int payments;
            try (PreparedStatement find = connection.prepareStatement(
                    "select number, cents, payments from account where number = ?" + forUpdate)) {
                find.setInt(1, account);
                try (ResultSet row = find.executeQuery()) {
                    row.next();
                    cents = row.getLong(2) + 100;
                    payments = row.getInt(3) + 1;
                }
            }
            try (PreparedStatement update =
                    connection.prepareStatement("update account set cents = ?, payments = ? where number = ?")) {
                update.setLong(1, cents);
                update.setInt(2, payments);
                update.setInt(3, account);
                update.executeUpdate();
            }
            try (PreparedStatement insert = connection.prepareStatement(
                    "insert into payment (account_id, number, cents, made) values (?, ?, ?, ?)")) {
                insert.setInt(1, account);
                insert.setInt(2, payments);
                insert.setLong(3, 100);
                time(insert, 4, MORNING.plusSeconds(number));
                insert.executeUpdate();
            }
            return payments;
        });
    }

    @Override
    public int status(int number) throws SQLException {
        String imo = Harbour.imo(number);
        int early = Harbour.early(number);
        return transaction(connection -> {
            Call call;
            try (PreparedStatement find = connection.prepareStatement("select vessel_id, number, eta, status,"
                    + " revision, berth_id from port_call where vessel_id = ? and number = ?")) {
                find.setString(1, imo);
                find.setInt(2, early);
                try (ResultSet row = find.executeQuery()) {
                    row.next();
                    call = call(row);
                }
            }
            try (PreparedStatement find =
                    connection.prepareStatement("select call_vessel_id, call_number, line, kind, due from movement"
                            + " where call_vessel_id = ? and call_number = ? order by line")) {
                find.setString(1, imo);
                find.setInt(2, early);
                try (ResultSet row = find.executeQuery()) {
                    while (row.next()) {
                        call.movements.add(new Movement(row.getInt(3), row.getString(4), time(row, 5)));
                    }
                }
            }
            try (PreparedStatement find = connection.prepareStatement("select p.badge, p.name from port_call_pilots c"
                    + " join pilot p on p.badge = c.pilot_id"
                    + " where c.port_call_vessel_id = ? and c.port_call_number = ? order by p.badge")) {
                find.setString(1, imo);
                find.setInt(2, early);
                try (ResultSet row = find.executeQuery()) {
                    while (row.next()) {
                        call.pilots.add(pilot(row));
                    }
                }
            }
            return call.movements.size() + call.pilots.size();
        });
    }

    @Override
    public int depart(int number) throws SQLException {
        return transaction(connection -> {
            List<Call> calls = new ArrayList<>();
            try (PreparedStatement find = connection.prepareStatement("select vessel_id, number, eta, status, revision,"
                    + " berth_id from port_call where berth_id = ? and status = ? order by eta limit ?")) {
                find.setInt(1, number % BERTHS);
                find.setString(2, EXPECTED);
                find.setInt(3, DEPARTING);
                try (ResultSet row = find.executeQuery()) {
                    while (row.next()) {
                        calls.add(call(row));
                    }
                }
            }
            if (calls.isEmpty()) {
                return 0;
            }
            try (PreparedStatement update = connection.prepareStatement("update port_call set status = ?, revision = ?"
                    + " where vessel_id = ? and number = ? and revision = ?")) {
                for (Call call : calls) {
                    update.setString(1, DEPARTED);
                    update.setInt(2, call.revision + 1);
                    update.setString(3, call.imo);
                    update.setInt(4, call.number);
                    update.setInt(5, call.revision);
                    update.addBatch();
                }
                for (int count : update.executeBatch()) {
                    if (count == 0) {
                        throw new ConcurrentModificationException();
                    }
                }
            }
            return calls.size();
        });
    }

    @Override
    public long count(int number) throws SQLException {
        return transaction(connection -> {
            try (PreparedStatement count =
                    connection.prepareStatement("select count(*) from port_call where berth_id = ? and status = ?")) {
                count.setInt(1, number % BERTHS);
                count.setString(2, EXPECTED);
                try (ResultSet row = count.executeQuery()) {
                    row.next();
                    return row.getLong(1);
                }
            }
        });
    }

    private Call call(ResultSet row) throws SQLException {
        return new Call(
                row.getString(1),
                row.getInt(2),
                time(row, 3),
                row.getString(4),
                row.getInt(5),
                row.getInt(6),
                new ArrayList<>(),
                new ArrayList<>());
    }

    private static Pilot pilot(ResultSet row) throws SQLException {
        return new Pilot(row.getInt(1), row.getString(2));
    }

    private LocalDateTime time(ResultSet row, int place) throws SQLException {
        return typedTimes ? row.getObject(place, LocalDateTime.class) : LocalDateTime.parse(row.getString(place));
    }

    private void time(PreparedStatement statement, int place, LocalDateTime time) throws SQLException {
        if (typedTimes) {
            statement.setObject(place, time);
        } else {
            statement.setString(place, time.toString());
        }
    }
}
