package io.bathra.bench;

import static io.bathra.model.Declare.length;
import static io.bathra.query.Ask.any;
import static io.bathra.query.Ask.element;
import static io.bathra.query.Ask.link;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** Updates of the five or ten thousand of 200,000 rows that fulfil a condition, by Bathra and by the best SQL by hand. */
final class ChangeFound {
    private static final int DEPOTS = 20;
    private static final int BINS = 40;
    private static final int PARCELS = 200_000;
    private static final int WARM_UPS = 5_000;

    static final class Depot {
        Long id;
        String name;

        String name() {
            return name;
        }
    }

    static final class Bin {
        Long id;
        final Link<Depot> depot = Link.empty();

        Link<Depot> depot() {
            return depot;
        }
    }

    static final class Parcel {
        Long id;
        String serial;
        int moves;
        final Link<Bin> bin = Link.empty();
        List<String> stamps = new ArrayList<>();

        Long id() {
            return id;
        }

        String serial() {
            return serial;
        }

        int moves() {
            return moves;
        }

        Link<Bin> bin() {
            return bin;
        }

        List<String> stamps() {
            return stamps;
        }
    }

    /** What rows are found by. */
    enum By {
        KEY("id between 10001 and 20000", "id between 10001 and 20000"),
        INDEX("serial = 'S7'", "serial = 'S7'"),
        FOREIGN_KEY("bin_id = 7", "bin_id = 7"),
        LINK_TWO_AWAY(
                "bin_id in (select b.id from bin b join depot d on d.id = b.depot_id where d.name = 'D7')",
                "bin b join depot d on d.id = b.depot_id where d.name = 'D7'"),
        COLLECTION(
                "id in (select s.parcel_id from parcel_stamps s where s.element = 'X7')",
                "(select distinct parcel_id id from parcel_stamps where element = 'X7') b where true");

        private final String condition;
        private final String tables;

        By(String condition, String tables) {
            this.condition = condition;
            this.tables = tables;
        }

        /** The best SQL by hand. */
        String sql(String database) {
            String column = this == COLLECTION ? "p.id" : "p.bin_id";
            boolean own = condition.equals(tables);
            if (own || database.equals("sqlite")) {
                return "update parcel set moves = moves + 1 where " + condition;
            }
            return switch (database) {
                case "mariadb" -> {
                    int where = tables.lastIndexOf(" where ");
                    yield "update parcel p join "
                            + tables.substring(0, where).replaceFirst(" b", " b on b.id = " + column)
                            + " set p.moves = p.moves + 1" + tables.substring(where);
                }
                case "postgresql" -> "update parcel p set moves = p.moves + 1 from " + tables + " and b.id = " + column;
                default ->
                    "merge into parcel p using (select b.id from " + tables + ") b on b.id = " + column
                            + " when matched then update set moves = p.moves + 1";
            };
        }

        Condition<Parcel> asked() {
            return switch (this) {
                case KEY -> the(Parcel::id).between(10_001L, 20_000L);
                case INDEX -> the(Parcel::serial).is("S7");
                case FOREIGN_KEY -> link(Parcel::bin).is(bin(7));
                case LINK_TWO_AWAY -> the(Parcel::bin, Bin::depot, Depot::name).is("D7");
                case COLLECTION -> any(Parcel::stamps, element(String.class).is("X7"));
            };
        }
    }

    private static Bin bin(long id) {
        Bin bin = new Bin();
        bin.id = id;
        return bin;
    }

    private static final Model MODEL = Model.of(
            "parcels",
            Entity.of(Depot.class, Depot::new).column(Depot::name, length(20)).index(Depot::name),
            Entity.of(Bin.class, Bin::new),
            Entity.of(Parcel.class, Parcel::new)
                    .column(Parcel::serial, length(20))
                    .index(Parcel::serial)
                    .parts(Parcel::stamps));

    private final Server server;
    private final Store store;
    private final String sql;
    private final Condition<Parcel> asked;

    ChangeFound(String database, By by) {
        server = Server.start(database);
        store = Store.open(MODEL, server.source);
        store.schema().createMissing();
        sql = by.sql(database);
        asked = by.asked();
        store.run(work -> {
            List<Depot> depots = new ArrayList<>();
            for (int i = 0; i < DEPOTS; i++) {
                Depot depot = new Depot();
                depot.name = "D" + i;
                depots.add(depot);
                work.add(depot);
            }
            for (int i = 0; i < BINS; i++) {
                Bin bin = new Bin();
                bin.depot.set(depots.get(i % DEPOTS));
                work.add(bin);
            }
        });
        for (int from = 0; from < PARCELS; from += 20_000) {
            int first = from;
            store.run(work -> {
                List<Bin> bins = work.from(Bin.class).list();
                for (int i = first; i < first + 20_000; i++) {
                    Parcel parcel = new Parcel();
                    parcel.serial = "S" + i / 5_000;
                    parcel.bin.set(bins.get(i % BINS));
                    parcel.stamps.addAll(List.of("X" + i / 5_000, "Y"));
                    work.add(parcel);
                }
            });
        }
        store.script(
                switch (database) {
                    case "postgresql" -> "create index by_stamp on parcel_stamps (element); analyze";
                    case "mariadb" ->
                        "create index by_stamp on parcel_stamps (element); analyze table parcel, bin, depot, parcel_stamps";
                    default -> "create index by_stamp on parcel_stamps (element); analyze";
                });
        warmUp();
    }

    /** The statements are compared, and not how long the VM takes to compile what is around them. */
    private void warmUp() {
        for (int i = 0; i < WARM_UPS; i++) {
            store.call(work -> work.from(Parcel.class)
                    .where(the(Parcel::id).is(0L))
                    .update(number(Parcel::moves).to(number(Parcel::moves).plus(1))));
        }
    }

    /** SQLite moves its log into the file at every so many pages, which would always meet the same side. */
    Object prepare() {
        if (store.databaseName().equals("SQLite")) {
            store.sql("pragma wal_checkpoint(truncate)").withoutTransaction().list();
        }
        return this;
    }

    Object byHand() throws SQLException {
        try (Connection connection = server.source.getConnection()) {
            connection.setAutoCommit(false);
            try (PreparedStatement statement = connection.prepareStatement(sql)) {
                int rows = statement.executeUpdate();
                connection.commit();
                return rows;
            } finally {
                connection.setAutoCommit(true);
            }
        }
    }

    Object bathra() {
        return store.call(work -> work.from(Parcel.class)
                .where(asked)
                .update(number(Parcel::moves).to(number(Parcel::moves).plus(1))));
    }
}
