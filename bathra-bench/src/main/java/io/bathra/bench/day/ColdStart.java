package io.bathra.bench.day;

import io.bathra.Store;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * How long a program takes from the beginning of {@code main} to its first committed unit of work in a fresh VM, beside
 * the same by JDBC: a connection to H2 in memory, the tables, a berth, a vessel and a call. Takes the number of rounds.
 */
public final class ColdStart {
    private static final String ANSWER = "nanos: ";
    private static final String URL = "jdbc:h2:mem:cold;DB_CLOSE_DELAY=-1";

    private ColdStart() {}

    /** Without an argument, or with a number, starts other VMs; with a word, is one of them. */
    public static void main(String[] args) throws IOException, SQLException {
        long start = System.nanoTime();
        if (args.length > 0 && args[0].equals("jdbc")) {
            byHand();
        } else if (args.length > 0 && args[0].equals("bathra")) {
            long model = byBathra(start);
            System.out.println(ANSWER + (System.nanoTime() - start) + " " + model);
            System.exit(0);
        } else {
            compare(args.length > 0 ? Integer.parseInt(args[0]) : 15);
            return;
        }
        System.out.println(ANSWER + (System.nanoTime() - start) + " 0");
        System.exit(0);
    }

    /** Gives back how long the model took. */
    private static long byBathra(long start) {
        Harbour.MODEL.name();
        long model = System.nanoTime() - start;
        try (Store store = Store.open(Harbour.MODEL, URL, null, null)) {
            store.schema().createMissing();
            store.run(work -> {
                Harbour.Berth berth = new Harbour.Berth();
                berth.number = 1;
                Harbour.Vessel vessel = new Harbour.Vessel();
                vessel.imo = Harbour.imo(1);
                vessel.name = "Elbe";
                Harbour.PortCall call = new Harbour.PortCall();
                call.vessel.set(vessel);
                call.number = 1;
                call.eta = Harbour.MORNING;
                call.berth.set(berth);
                work.add(call);
            });
        }
        return model;
    }

    private static void byHand() throws SQLException {
        try (Connection connection = DriverManager.getConnection(URL)) {
            try (Statement statement = connection.createStatement()) {
                statement.execute("create table berth (number integer primary key)");
                statement.execute("create table vessel (imo varchar(7) primary key, name varchar(40) not null)");
                statement.execute("create table pilot (badge integer primary key, name varchar(40) not null)");
                statement.execute("create table port_call (vessel_id varchar(7) references vessel, number integer,"
                        + " eta timestamp(6) not null, status varchar(10) not null, revision integer not null,"
                        + " berth_id integer not null references berth, primary key (vessel_id, number))");
                statement.execute("create table movement (call_vessel_id varchar(7), call_number integer, line integer,"
                        + " kind varchar(10) not null, due timestamp(6) not null,"
                        + " primary key (call_vessel_id, call_number, line),"
                        + " foreign key (call_vessel_id, call_number) references port_call)");
                statement.execute("create table account (number integer primary key, cents bigint, payments integer)");
                statement.execute("create table payment (account_id integer references account, number integer,"
                        + " cents bigint not null, made timestamp(6) not null, primary key (account_id, number))");
                statement.execute("create table port_call_pilots (vessel_id varchar(7), number integer,"
                        + " pilot_id integer references pilot, primary key (vessel_id, number, pilot_id),"
                        + " foreign key (vessel_id, number) references port_call)");
            }
            connection.setAutoCommit(false);
            try (PreparedStatement insert = connection.prepareStatement("insert into berth values (?)")) {
                insert.setInt(1, 1);
                insert.executeUpdate();
            }
            try (PreparedStatement insert = connection.prepareStatement("insert into vessel values (?, ?)")) {
                insert.setString(1, Harbour.imo(1));
                insert.setString(2, "Elbe");
                insert.executeUpdate();
            }
            try (PreparedStatement insert =
                    connection.prepareStatement("insert into port_call values (?, ?, ?, ?, ?, ?)")) {
                insert.setString(1, Harbour.imo(1));
                insert.setInt(2, 1);
                insert.setObject(3, Harbour.MORNING);
                insert.setString(4, Harbour.EXPECTED);
                insert.setInt(5, 0);
                insert.setInt(6, 1);
                insert.executeUpdate();
            }
            connection.commit();
        }
    }

    private static void compare(int rounds) throws IOException {
        double[] byHand = new double[rounds];
        double[] bathra = new double[rounds];
        double[] more = new double[rounds];
        double[] model = new double[rounds];
        for (int round = 0; round < rounds; round++) {
            byHand[round] = fresh("jdbc")[0];
            double[] times = fresh("bathra");
            bathra[round] = times[0];
            more[round] = times[0] - byHand[round];
            model[round] = times[1];
        }
        System.out.println(String.format(
                Locale.ROOT,
                "from main to the first commit, fresh VM, H2, median of %d: by hand %.0f ms, Bathra %.0f ms,"
                        + " more %.0f ms; the model alone %.0f ms",
                rounds,
                median(byHand),
                median(bathra),
                median(more),
                median(model)));
    }

    private static double median(double[] values) {
        return Arrays.stream(values).sorted().toArray()[values.length / 2];
    }

    /** Milliseconds: of all, and of the model. */
    private static double[] fresh(String side) throws IOException {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                System.getProperty("java.class.path"),
                ColdStart.class.getName(),
                side));
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String output = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return output.lines()
                .filter(line -> line.startsWith(ANSWER))
                .findFirst()
                .map(line -> Arrays.stream(line.substring(ANSWER.length()).split(" "))
                        .mapToDouble(text -> Long.parseLong(text) / 1e6)
                        .toArray())
                .orElseThrow(() -> new IllegalStateException(side + " failed:\n" + output));
    }
}
