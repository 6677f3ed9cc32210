package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.ApplyTerms;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What change files leave as it is: values that another type would not keep, what was made by hand, older releases. */
@OnEachDatabase
class ApplyMoreTest {
    static final class Pilot {
        Long id;
        String badge;
        String phone;

        Long id() {
            return id;
        }

        String badge() {
            return badge;
        }

        String phone() {
            return phone;
        }
    }

    private static final Model MODEL = Model.of(
            "pilots",
            Entity.of(Pilot.class, Pilot::new).column(Pilot::badge, length(10)).column(Pilot::phone, length(20)));

    /** Another program's. */
    static final class Lean {
        static final class Pilot {
            Long id;
            String badge;

            Long id() {
                return id;
            }

            String badge() {
                return badge;
            }
        }
    }

    private static final Model WITHOUT_PHONE =
            Model.of("pilots", Entity.of(Lean.Pilot.class, Lean.Pilot::new).column(Lean.Pilot::badge, length(10)));

    private static final String FIRST = """
            bathra: 1
            steps:
              - create entity: Pilot
                key: [id]
                keys: generated
                attributes:
                  id: long
                  badge: text 10
                  phone: text 20
                  boots: integer
                  since: date time
                  pay: decimal 9 3
                  share: double
                  ratio: double
                  tons: decimal 15 3
            """;

    private final TestDatabase database;
    private final List<String> told = new CopyOnWriteArrayList<>();

    @TempDir
    Path folder;

    private String url;
    private Store store;
    private SchemaChanges changes;

    ApplyMoreTest(TestDatabase database) {
        this.database = database;
    }

    @BeforeEach
    void open() throws IOException {
        url = database.sharedUrl();
        store = Store.open(MODEL, url);
        Files.writeString(folder.resolve("2026-11-20-first.yaml"), FIRST);
        changes = SchemaChanges.of(store, folder);
        changes.apply();
    }

    @AfterEach
    void close() {
        store.close();
    }

    private void second(String steps) throws IOException {
        Files.writeString(
                folder.resolve("2026-12-03-second.yaml"), "bathra: 1\nafter: 2026-11-20-first\nsteps:\n" + steps);
    }

    private void apply() {
        changes.evolution().told(told::add).apply(ApplyTerms.ALL.losing("2026-12-03-second"));
    }

    private void execute(String sql) {
        store.sql(sql).withoutTransaction().execute();
    }

    private void refused(String attribute, String from, String to, String words) throws IOException {
        second("  - change attribute: Pilot." + attribute + "\n    type: { from: " + from + ", to: " + to + " }\n");
        assertThatThrownBy(this::apply)
                .hasMessageContaining("rows are in the way of 'change attribute Pilot." + attribute + "'")
                .hasMessageContaining("values of " + attribute + " " + words);
    }

    @Test
    void valuesThatAnotherTypeWouldNotKeepAreTold() throws IOException {
        execute(
                "insert into pilot (badge, phone, boots, since, pay, share, ratio, tons) values ('007', '3000000000', 40000,"
                        + " '2026-01-02 10:30:00', 1234.567, 2.5, 0.1, 16777217.125)"
                                .replace(" 10", database == TestDatabase.SQLITE ? "T10" : " 10"));
        refused("badge", "text 10", "integer", "that are no whole numbers: 1 (id 1)");
        refused("badge", "text 10", "decimal 8 2", "that are no numbers: 1 (id 1)");
        refused("phone", "text 20", "integer", "that are too great: 1 (id 1)");
        refused("phone", "text 20", "decimal 8 2", "with more than 6 digits before the point: 1 (id 1)");
        refused("boots", "integer", "short", "that are too great: 1 (id 1)");
        refused("boots", "integer", "text 4", "longer than 4: 1 (id 1)");
        refused("since", "date time", "date", "with a time of day, which would be lost: 1 (id 1)");
        refused(
                "pay",
                "decimal 9 3",
                "decimal 9 2",
                "with more than 2 digits behind the point, and would be rounded: 1");
        refused("pay", "decimal 9 3", "long", "that are no whole numbers, and would be rounded: 1 (id 1)");
        refused("share", "double", "integer", "that are no whole numbers, and would be rounded: 1 (id 1)");
        refused("tons", "decimal 15 3", "float", "that are too great to be exact there: 1 (id 1)");
        refused("pay", "decimal 9 3", "float", "with more digits than are exact there: 1 (id 1)");
        boolean floats = database == TestDatabase.H2 || database == TestDatabase.POSTGRESQL;
        if (floats) { // the others keep them as doubles
            refused("ratio", "double", "float", "that are not exact there: 1 (id 1)");
        }
        second("  - change attribute: Pilot.phone\n    type: { from: text 20, to: long }\n"
                + "  - change attribute: Pilot.pay\n    type: { from: decimal 9 3, to: text 12 }\n"
                + "  - change attribute: Pilot.share\n    type: { from: double, to: decimal 5 2 }\n");
        apply();
        assertThat(store.sql("select count(*) from pilot where phone = 3000000000 and pay = '1234.567' and share = 2.5")
                        .as(Long.class)
                        .one())
                .isEqualTo(1);
    }

    @Test
    void rowsForWhichAFillGivesNothingAreTold() throws IOException {
        execute("insert into pilot (badge) values ('P01')");
        execute("insert into pilot (phone) values ('112')");
        second("  - add attribute: Pilot.sign\n    type: text 20\n    required: true\n    fill: { term: { upper: badge"
                + " } }\n");
        assertThatThrownBy(this::apply)
                .hasMessageContaining("rows are in the way of 'add attribute Pilot.sign'")
                .hasMessageContaining(Keys.in(store, "pilot")
                        .in("rows of pilot for which the fill of sign gives nothing: 1 ({pilot 2})"));
        execute("update pilot set badge = 'P02' where badge is null");
        apply();
        assertThat(store.sql("select sign from pilot order by id")
                        .as(String.class)
                        .list())
                .containsExactly("P01", "P02");
    }

    @Test
    void whatWasMadeByHandOnATableThatIsMadeAnewStays() throws IOException {
        assumeThat(database).as("the others make no table anew").isEqualTo(TestDatabase.SQLITE);
        execute("create index by_hand on pilot (phone)");
        execute(
                "create trigger by_hand_too after insert on pilot begin update pilot set phone = '112' where id = new.id"
                        + " and phone is null; end");
        second("  - change attribute: Pilot.boots\n    type: { from: integer, to: text 8 }\n");
        apply();
        execute("insert into pilot (badge) values ('P01')");
        assertThat(store.sql("select phone from pilot").as(String.class).one()).isEqualTo("112");
        assertThat(store.sql("select count(*) from sqlite_master where name = 'by_hand'")
                        .as(Long.class)
                        .one())
                .isEqualTo(1);
        Files.writeString(
                folder.resolve("2026-12-04-third.yaml"),
                "bathra: 1\nafter: 2026-12-03-second\nsteps:\n  - drop attribute: Pilot.phone\n    values: lost\n");
        assertThatThrownBy(() -> changes.evolution().apply(ApplyTerms.ALL.losing("2026-12-04-third")))
                .hasMessageContaining("makes the table anew, and then this of it cannot be made any more")
                .hasMessageContaining("by_hand");
        assertThat(store.sql("select phone from pilot").as(String.class).one()).isEqualTo("112");
    }

    /** A program whose database has had more than it knows goes on, as long as that is nothing to it. */
    @Test
    void aLaterReleaseIsAllRightUnlessItBreaksThisOne() throws IOException {
        second("  - add attribute: Pilot.nick\n    type: text 10\n");
        apply();
        Path own = Files.createDirectory(folder.resolve("own"));
        Files.copy(folder.resolve("2026-11-20-first.yaml"), own.resolve("2026-11-20-first.yaml"));
        SchemaChanges older = SchemaChanges.of(store, own);
        older.evolution().told(told::add).require();
        assertThat(told)
                .contains("the database has had 2026-12-03-second from a later release, which does not break this one");
        Files.writeString(
                folder.resolve("2026-12-04-third.yaml"),
                "bathra: 1\nafter: 2026-12-03-second\nsteps:\n  - rename attribute: Pilot.phone\n    to: mobile\n");
        changes.apply();
        assertThatThrownBy(older::require)
                .hasMessageContaining("the database has had 2026-12-04-third from a later release, with which this one"
                        + " breaks: rename Pilot.phone to mobile")
                .hasMessageContaining("start a release that knows the file");
        try (Store other = Store.open(WITHOUT_PHONE, database.sharedUrl())) {
            SchemaChanges.of(other, folder).apply();
            SchemaChanges.of(other, own).require();
        }
    }

    @Test
    void linksThatLeadNowhereAreTold() throws IOException, SQLException {
        assumeThat(database)
                .as("the others keep rows with such links out")
                .isIn(TestDatabase.SQLITE, TestDatabase.MARIADB);
        second("  - create entity: Boat\n    key: [id]\n    attributes: { id: long }\n"
                + "  - add link: Pilot.boat\n    to: Boat\n");
        apply();
        execute("insert into boat (id) values (1)");
        String off = database == TestDatabase.SQLITE ? "pragma foreign_keys = off" : "set foreign_key_checks = 0";
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement()) {
            statement.execute(off);
            statement.execute("insert into pilot (badge, boat_id) values ('P01', 1), ('P02', 7)");
        }
        Files.writeString(
                folder.resolve("2026-12-04-third.yaml"),
                "bathra: 1\nafter: 2026-12-03-second\nsteps:\n  - change link: Pilot.boat\n    on delete: { from: restrict,"
                        + " to: cascade }\n");
        assertThatThrownBy(changes::apply)
                .hasMessageContaining("rows are in the way of 'change link Pilot.boat'")
                .hasMessageContaining(Keys.in(store, "pilot").in("links of pilot that lead nowhere: 1 ({pilot 2})"));
        execute("delete from pilot where badge = 'P02'");
        assertThat(changes.apply()).containsExactly("2026-12-04-third");
    }
}
