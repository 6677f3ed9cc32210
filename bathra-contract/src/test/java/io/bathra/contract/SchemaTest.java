package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.contract.RulesTest.Booking;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.harbour.Berth;
import io.bathra.harbour.Harbour;
import io.bathra.harbour.PortCall;
import io.bathra.harbour.Vessel;
import io.bathra.link.Link;
import io.bathra.model.Difference;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;

/** The tables of a model: created, compared with what is there, dropped and created anew. */
@OnEachDatabase
class SchemaTest {
    private final TestDatabase database;
    private final DataSource source;
    private final Store store;

    SchemaTest(TestDatabase database) {
        this.database = database;
        source = database.empty();
        store = Trips.open(Harbour.MODEL, source);
    }

    @Test
    void whatWasCreatedIsVerifiedWithoutDifferences() {
        assertThat(store.schema().createMissing().statements())
                .hasSameSizeAs(store.schema().statements());
        assertThat(store.schema().verify()).isEmpty();
        for (Model model : List.of(EveryTypeTest.MODEL, CompositeKeyTest.MODEL, RulesTest.MODEL)) {
            Store other = Trips.open(model, source);
            other.schema().createMissing();
            assertThat(other.schema().verify()).isEmpty();
        }
        assertThat(store.schema().verify())
                .as("several models live in one database")
                .isEmpty();
    }

    @Test
    void tablesLieInANamedSchema() {
        String schema = database.otherSchema();
        Model named = EverythingTest.modelFor(database).inSchema(schema);
        Store other = Trips.open(named, source);
        assertThat(other.schema().verify()).as("not even the schema is there").isNotEmpty();
        assertThat(other.schema().createMissing().missing()).isEmpty();
        assertThat(other.schema().verify()).isEmpty();
        assertThat(other.schema().createMissing().nothingToDo()).isTrue();
        EverythingTest.fillChangeAndEmpty(other);
        other.schema().recreate("everything");
        assertThat(other.schema().verify()).isEmpty();
        try (UnitOfWork work = other.begin()) {
            work.from(Booking.class).list();
            assertThat(work.trace().statements().get(0).sql()).contains(schema);
        }
        if (database != TestDatabase.SQLITE) {
            store.schema().createMissing();
            assertThat(store.schema().verify())
                    .as("the connection's own is another")
                    .isEmpty();
        } else {
            assertThatThrownBy(() -> Trips.open(named.inSchema("attached"), source)
                            .schema()
                            .verify())
                    .hasMessageContaining("in the schema main alone, not in 'attached'");
        }
    }

    @Test
    void everyDifferenceIsListed() {
        for (String sql : store.schema().statements()) {
            if (!sql.contains("port_call_eta_index") && !sql.contains("movement")) {
                TestDatabase.execute(source, spoilt(sql));
            }
        }
        TestDatabase.execute(source, "alter table vessel add column hull_colour varchar(9)");
        List<String> differences = new ArrayList<>(
                store.schema().verify().stream().map(Difference::toString).toList());
        assertThat(differences)
                .satisfiesExactlyInAnyOrder(
                        one -> assertThat(one)
                                .startsWith("operator.name: it is ")
                                .contains("(40), but should be"),
                        one -> assertThat(one)
                                .isEqualToIgnoringCase("vessel.hull_colour: the model knows no such column"),
                        one -> assertThat(one).isEqualTo("vessel: there is no unique constraint on [imo]"),
                        one -> assertThat(one)
                                .isEqualTo("vessel: there is no foreign key from [operator_id] to operator [id]"),
                        one -> assertThat(one).isEqualTo("berth.code: it may be empty, but must have a value"),
                        one -> assertThat(one).isEqualTo("port_call: there is no index on [eta]"),
                        one -> assertThat(one).isEqualTo("movement: there is no such table"));

        assertThat(store.schema().createMissing()).satisfies(report -> {
            assertThat(report.statements()).anyMatch(sql -> sql.startsWith("create table movement"));
            assertThat(report.missing()).as("not the column that is too many").hasSize(5);
        });
        assertThat(store.schema().verify()).hasSize(6);
    }

    /** The statement with one line less here, and a smaller size there. */
    private static String spoilt(String sql) {
        List<String> lines = new ArrayList<>(sql.lines().toList());
        lines.removeIf(line ->
                line.contains("constraint vessel_imo_unique") || line.contains("constraint vessel_operator_id_fk"));
        String text = String.join("\n", lines).replaceAll(",(\\s*\\n\\))", "$1");
        if (text.startsWith("create table operator")) {
            return text.replace("varchar(80)", "varchar(40)").replace("<= 80", "<= 40");
        }
        return text.startsWith("create table berth") ? text.replaceFirst("(code .*) not null", "$1") : text;
    }

    @Test
    void recreatingAsksForConsent() {
        store.schema().createMissing();
        store.run(work -> {
            Berth outer = new Berth("N");
            Berth inner = new Berth("N1");
            inner.within().set(outer);
            work.add(inner);
        });
        assertThatThrownBy(() -> store.schema().recreate("yes"))
                .hasMessageContaining("drops all tables of the model 'harbour'")
                .hasMessageContaining("instead of 'yes'");
        store.schema().recreate("harbour");
        assertThat(store.schema().verify()).isEmpty();
        store.run(work -> assertThat(work.from(Berth.class).count()).isZero());
        store.run(work -> work.add(new Berth("S")));
    }

    static final class Left {
        private Long id;
        private final Link<Right> right = Link.empty();
    }

    static final class Right {
        private Long id;
        private final Link<Left> left = Link.empty();
    }

    /** Two tables that refer to one another, with names at the limit. */
    @Test
    void ringsOfTablesAndLongNamesAreCreatedAndDropped() {
        String longName = "a_table_whose_name_is_as_long_as_the_shortest_limit_of_them_all";
        Model model = Model.of(
                "ring",
                Entity.of(Left.class, Left::new).table(longName),
                Entity.of(Right.class, Right::new).table("Right \"quoted\" `marked`"));
        Store ring = Trips.open(model, source);
        ring.schema().createMissing();
        assertThat(ring.schema().verify()).isEmpty();
        assertThat(ring.schema().createMissing().nothingToDo()).isTrue();
        ring.run(work -> {
            Left left = new Left();
            Right right = new Right();
            left.right.set(right);
            right.left.set(left);
            work.add(left);
            Right other = new Right();
            other.left.set(left);
            work.add(other);
        });
        assertThatThrownBy(() -> ring.schema().empty("yes")).hasMessageContaining("to consent, give that name");
        ring.schema().empty("ring");
        Left first = new Left();
        ring.run(work -> {
            assertThat(work.from(Left.class).count()).isZero();
            assertThat(work.from(Right.class).count()).isZero();
            work.add(first);
        });
        assertThat(first.id).as("the generator has begun again").isEqualTo(1);
        assertThatThrownBy(() -> ring.run(work -> {
                    Left lost = new Left();
                    lost.right.toKey(77L);
                    work.add(lost);
                }))
                .as("foreign keys are looked at again")
                .isInstanceOf(ForeignKeyViolation.class);
        ring.schema().recreate("ring");
        assertThat(ring.schema().verify()).isEmpty();
    }

    static final class BusyVessel {
        private Long id;
        private String imo;
        private long calls;
        private final Link<Vessel> vessel = Link.empty();

        Long id() {
            return id;
        }

        Link<Vessel> vessel() {
            return vessel;
        }
    }

    @Test
    void aViewIsReadAndNothingElse() {
        store.schema().createMissing();
        TestDatabase.execute(
                source,
                "create view busy as select v.id, v.imo, count(*) as calls, v.id as vessel_id from vessel v join port_call"
                        + " c on c.vessel_id = v.id group by v.id, v.imo");
        Model model = Model.of(
                "with a view",
                Harbour.OPERATOR,
                Entity.of(BusyVessel.class, BusyVessel::new).view("busy").key(BusyVessel::id),
                Harbour.VESSEL,
                Harbour.BERTH,
                Harbour.PORT_CALL,
                Harbour.MOVEMENT);
        Store viewing = Trips.open(model, source);
        assertThat(viewing.schema().createMissing().nothingToDo()).isTrue();
        viewing.run(work -> {
            Vessel vessel = new Vessel("9000001", "Nordlicht");
            work.add(new PortCall(vessel, LocalDateTime.of(2026, 4, 1, 6, 30)));
            work.add(new PortCall(vessel, LocalDateTime.of(2026, 4, 2, 6, 30)));
            work.flush();
            BusyVessel busy = work.from(BusyVessel.class).one();
            assertThat(busy.calls).isEqualTo(2);
            assertThat(busy.vessel.get()).isSameAs(vessel);
            busy.calls = 3;
            assertThatThrownBy(work::flush).hasMessageContaining("comes from a view, which is only read");
            busy.calls = 2;
        });
    }
}
