package io.bathra.contract;

import static io.bathra.attr.DeleteRule.CASCADE;
import static io.bathra.attr.DeleteRule.RESTRICT;
import static io.bathra.attr.DeleteRule.SET_NULL;
import static io.bathra.model.Declare.enforcedBy;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.required;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowable;

import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.error.BathraException;
import io.bathra.error.ModelException;
import io.bathra.error.RestrictViolation;
import io.bathra.error.StatementException;
import io.bathra.junit.Faults;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** What the removal of a row does to those that lead to it: by the database, by the unit of work, and as a refusal. */
@OnEachDatabase
class DeleteRuleTest {
    static final class Port {
        private Long id;
        private final Links<Pier> piers = Links.empty();

        Long id() {
            return id;
        }

        Links<Pier> piers() {
            return piers;
        }
    }

    static final class Pier {
        private Long id;
        private final Link<Port> port = Link.empty();
        private final Links<Bollard> bollards = Links.empty();

        Pier() {}

        Pier(Port port) {
            this.port.set(port);
        }

        Long id() {
            return id;
        }

        Link<Port> port() {
            return port;
        }

        Links<Bollard> bollards() {
            return bollards;
        }
    }

    static final class Bollard {
        private Long id;
        private List<String> ropes = new ArrayList<>();
        private final Link<Pier> pier = Link.empty();
        private final Link<Port> port = Link.empty();
        private final Links<Port> seenFrom = Links.empty();

        Bollard() {}

        Bollard(Pier pier) {
            this.pier.set(pier);
        }

        Long id() {
            return id;
        }

        List<String> ropes() {
            return ropes;
        }

        Link<Pier> pier() {
            return pier;
        }

        Link<Port> port() {
            return port;
        }

        Links<Port> seenFrom() {
            return seenFrom;
        }
    }

    /** A rule, and who carries it out. */
    record Rule(DeleteRule rule, Enforcer enforcer) {
        static final Rule CASCADING = new Rule(CASCADE, Enforcer.DATABASE);
        static final Rule CASCADING_BY_UNIT = new Rule(CASCADE, Enforcer.UNIT);
        static final Rule REFUSING = new Rule(RESTRICT, Enforcer.DATABASE);

        static List<Rule> all() {
            return List.of(
                    REFUSING,
                    CASCADING,
                    CASCADING_BY_UNIT,
                    new Rule(SET_NULL, Enforcer.DATABASE),
                    new Rule(SET_NULL, Enforcer.UNIT));
        }
    }

    private static final Map<List<?>, List<String>> BY_DATABASE = new HashMap<>();

    private final TestDatabase database;

    DeleteRuleTest(TestDatabase database) {
        this.database = database;
    }

    private static Model model(Rule pier, Rule bollard, Rule across) {
        return Model.of(
                "port",
                Entity.of(Port.class, Port::new).links(Port::piers, Pier::port),
                Entity.of(Pier.class, Pier::new)
                        .link(Pier::port, onDelete(pier.rule()), enforcedBy(pier.enforcer()))
                        .links(Pier::bollards, Bollard::pier),
                Entity.of(Bollard.class, Bollard::new)
                        .link(Bollard::pier, onDelete(bollard.rule()), enforcedBy(bollard.enforcer()))
                        .link(Bollard::port, onDelete(across.rule()), enforcedBy(across.enforcer()))
                        .parts(Bollard::ropes)
                        .pivot(Bollard::seenFrom));
    }

    private static Store open(Model model, DataSource source) {
        Store store = Trips.open(model, source);
        store.schema().createMissing();
        return store;
    }

    /** Two ports with two piers each, and two bollards on every pier. */
    private static Keys fill(Store store) {
        store.run(work -> {
            for (int port = 0; port < 2; port++) {
                Port made = new Port();
                work.add(made);
                for (int pier = 0; pier < 2; pier++) {
                    Pier own = new Pier(made);
                    work.add(own);
                    for (int bollard = 0; bollard < 2; bollard++) {
                        Bollard post = new Bollard(own);
                        post.ropes().add("hemp");
                        post.seenFrom().add(made);
                        work.add(post);
                    }
                }
            }
        });
        return Keys.in(store, "port", "pier", "bollard");
    }

    private static List<String> contents(DataSource source) {
        List<String> rows = new ArrayList<>();
        for (String sql : List.of(
                "select 'port', id, 0 from port",
                "select 'pier', id, port_id from pier",
                "select 'bollard', id, pier_id from bollard",
                "select 'rope', count(*), 0 from bollard_ropes",
                "select 'seen', count(*), 0 from bollard_seen_from")) {
            try (Connection connection = source.getConnection();
                    Statement statement = connection.createStatement();
                    ResultSet result = statement.executeQuery(sql + " order by 2")) {
                while (result.next()) {
                    rows.add(result.getString(1) + " " + result.getLong(2) + " " + result.getString(3));
                }
            } catch (SQLException e) {
                throw new IllegalStateException(sql, e);
            }
        }
        return rows;
    }

    /** What the database makes of it when the rules are its own; nothing at all when it refuses. */
    private List<String> byDatabaseAlone(DeleteRule pier, DeleteRule bollard) {
        return BY_DATABASE.computeIfAbsent(List.of(database, pier, bollard), rules -> {
            List<String> contents = deletedByDatabase(pier, bollard);
            return contents == null ? List.of() : contents;
        });
    }

    private List<String> deletedByDatabase(DeleteRule pier, DeleteRule bollard) {
        DataSource source = database.empty();
        Keys keys;
        Rule first = new Rule(pier, Enforcer.DATABASE);
        Rule second = new Rule(bollard, Enforcer.DATABASE);
        try (Store store = open(model(first, second, Rule.REFUSING), source)) {
            keys = fill(store);
        }
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            if (database == TestDatabase.SQLITE) {
                statement.execute("pragma foreign_keys = on");
            }
            statement.execute("delete from port where id = " + keys.of("port", 1));
        } catch (SQLException refused) {
            return null;
        }
        return contents(source);
    }

    @Tag("exhaustive")
    @Test
    void everyCombinationAlongAChainDoesWhatTheDatabaseAloneDoes() {
        for (Rule pier : Rule.all()) {
            for (Rule bollard : Rule.all()) {
                List<String> expected = byDatabaseAlone(pier.rule(), bollard.rule());
                for (boolean tracked : List.of(false, true)) {
                    String what = pier + " above " + bollard + (tracked ? ", tracked" : "");
                    DataSource source = database.empty();
                    try (Store store = open(model(pier, bollard, Rule.REFUSING), source)) {
                        Keys keys = fill(store);
                        List<String> before = contents(source);
                        try (UnitOfWork work = store.begin()) {
                            List<Pier> piers = tracked ? work.from(Pier.class).list() : List.of();
                            List<Bollard> bollards =
                                    tracked ? work.from(Bollard.class).list() : List.of();
                            work.remove(work.require(Port.class, keys.of("port", 1)));
                            Throwable refused = catchThrowable(work::commit);
                            if (expected.isEmpty()) {
                                assertThat(refused).as(what).isInstanceOf(RestrictViolation.class);
                                assertThat(contents(source)).as(what).isEqualTo(before);
                                continue;
                            }
                            assertThat(refused).as(what).isNull();
                            assertThat(contents(source)).as(what).isEqualTo(expected);
                            assertThat(work.changes()).as(what).isEmpty();
                            for (Pier one : piers) {
                                boolean gone = !expected.contains("pier " + one.id() + " " + keys.of("port", 2))
                                        && !expected.contains("pier " + one.id() + " null");
                                assertThat(work.standing(one))
                                        .as(what)
                                        .isEqualTo(gone ? Standing.UNTRACKED : Standing.CLEAN);
                            }
                            for (Bollard one : bollards) {
                                boolean gone =
                                        expected.stream().noneMatch(row -> row.startsWith("bollard " + one.id() + " "));
                                assertThat(work.standing(one))
                                        .as(what)
                                        .isEqualTo(gone ? Standing.UNTRACKED : Standing.CLEAN);
                                if (!gone) {
                                    assertThat(expected)
                                            .as(what)
                                            .contains("bollard " + one.id() + " "
                                                    + one.pier().key());
                                }
                            }
                        }
                    }
                }
            }
        }
    }

    @Test
    void aQueryDeletesByTheSameRules() {
        for (Rule pier : Rule.all()) {
            for (Rule bollard : List.of(Rule.REFUSING, Rule.CASCADING_BY_UNIT)) {
                List<String> expected = byDatabaseAlone(pier.rule(), bollard.rule());
                String what = pier + " above " + bollard;
                DataSource source = database.empty();
                try (Store store = open(model(pier, bollard, Rule.REFUSING), source);
                        UnitOfWork work = store.begin()) {
                    Keys keys = fill(store);
                    List<Bollard> bollards = work.from(Bollard.class).list();
                    Throwable refused = catchThrowable(() -> {
                        long rows = work.from(Port.class)
                                .where(the(Port::id).is(keys.of("port", 1)))
                                .delete();
                        assertThat(rows).isEqualTo(1);
                        work.commit();
                    });
                    if (expected.isEmpty()) {
                        assertThat(refused)
                                .as(what)
                                .isInstanceOf(RestrictViolation.class)
                                .hasMessageContaining("leads to an object that is to be removed");
                        continue;
                    }
                    assertThat(refused).as(what).isNull();
                    assertThat(contents(source)).as(what).isEqualTo(expected);
                    for (Bollard one : bollards) {
                        boolean gone = expected.stream().noneMatch(row -> row.startsWith("bollard " + one.id() + " "));
                        assertThat(work.standing(one)).as(what).isEqualTo(gone ? Standing.UNTRACKED : Standing.CLEAN);
                    }
                }
            }
        }
    }

    /** Ten ports, with a hundred piers and 9,890 bollards. */
    private static void fillMany(Store store) {
        store.run(work -> {
            Pier last = null;
            for (int i = 0; i < 10; i++) {
                Port port = new Port();
                work.add(port);
                for (int j = 0; j < 10; j++) {
                    last = new Pier(port);
                    work.add(last);
                    for (int k = 0; k < 98; k++) {
                        work.add(new Bollard(last));
                    }
                }
            }
            for (int k = 0; k < 90; k++) {
                work.add(new Bollard(last));
            }
        });
    }

    @Test
    void tenThousandRowsGoByOneStatementALevelOrOneInAll() {
        for (Rule rule : List.of(Rule.CASCADING, Rule.CASCADING_BY_UNIT)) {
            DataSource source = database.empty();
            try (Store store = open(model(rule, rule, Rule.REFUSING), source);
                    UnitOfWork work = store.begin()) {
                fillMany(store);
                work.from(Port.class).list().forEach(work::remove);
                work.trace().clear();
                FlushReport report = work.commit();
                boolean byUnit = rule.enforcer() == Enforcer.UNIT;
                assertThat(work.trace().statements()).hasSize(byUnit ? 3 : 1);
                assertThat(report.of(Port.class).deleted()).isEqualTo(10);
                assertThat(report.of(Pier.class).deleted()).isEqualTo(byUnit ? 100 : 0);
                assertThat(report.of(Bollard.class).deleted()).isEqualTo(byUnit ? 9_890 : 0);
                assertThat(report.leftToDatabase())
                        .containsExactlyInAnyOrderElementsOf(
                                byUnit
                                        ? List.of("bollard_ropes", "bollard_seen_from")
                                        : List.of("bollard", "bollard_ropes", "bollard_seen_from", "pier"));
                assertThat(TestDatabase.count(source, "bollard")).isZero();
            }
        }
    }

    @Test
    void aLevelThatSomebodyListensToIsAnnouncedAndTheOthersStaySetWise() {
        List<Long> heard = new ArrayList<>();
        Model model = Model.of(
                "port",
                Entity.of(Port.class, Port::new).links(Port::piers, Pier::port),
                Entity.of(Pier.class, Pier::new)
                        .link(Pier::port, onDelete(CASCADE), enforcedBy(Enforcer.UNIT))
                        .beforeRemove(pier -> heard.add(pier.id()))
                        .links(Pier::bollards, Bollard::pier),
                Entity.of(Bollard.class, Bollard::new)
                        .link(Bollard::pier, onDelete(CASCADE), enforcedBy(Enforcer.UNIT))
                        .parts(Bollard::ropes)
                        .pivot(Bollard::seenFrom));
        DataSource source = database.empty();
        try (Store store = open(model, source);
                UnitOfWork work = store.begin()) {
            fillMany(store);
            work.from(Port.class).list().forEach(work::remove);
            work.trace().clear();
            FlushReport report = work.commit();
            assertThat(heard).hasSize(100).doesNotHaveDuplicates();
            assertThat(work.trace().statements())
                    .as("the piers are read; bollards, piers and ports go by a statement each")
                    .hasSize(4);
            assertThat(report.of(Pier.class).deleted()).isEqualTo(100);
            assertThat(report.of(Bollard.class).deleted()).isEqualTo(9_890);
            assertThat(TestDatabase.count(source, "bollard")).isZero();
        }
    }

    @Test
    void whatStandsInTheWayIsNamedBeforehandOrByTheDatabase() {
        DataSource source = database.empty();
        try (Store store = open(model(Rule.REFUSING, Rule.REFUSING, Rule.REFUSING), source)) {
            Keys keys = fill(store);
            for (boolean known : List.of(true, false)) {
                try (UnitOfWork work = store.begin()) {
                    if (known) {
                        work.from(Pier.class).list();
                    }
                    Port port = work.require(Port.class, keys.of("port", 1));
                    work.remove(port);
                    work.trace().clear();
                    assertThatThrownBy(work::flush)
                            .isInstanceOf(RestrictViolation.class)
                            .hasMessageContaining(keys.in(
                                    "Pier {pier 1}.port = Port {port 1}: leads to an object that is to be removed"))
                            .hasMessageContaining(keys.in("Pier {pier 2}.port"));
                    assertThat(work.trace().statements().isEmpty()).isEqualTo(known);
                    assertThat(work.standing(port)).isEqualTo(Standing.REMOVED);
                }
            }
        }
    }

    @Test
    void twoWaysToOneRow() {
        for (Rule way : List.of(Rule.CASCADING, Rule.CASCADING_BY_UNIT)) {
            for (Rule across : List.of(Rule.CASCADING, Rule.CASCADING_BY_UNIT)) {
                DataSource source = database.empty();
                try (Store store = open(model(way, way, across), source)) {
                    Keys keys = fill(store);
                    store.run(work -> {
                        Bollard other = work.require(Bollard.class, keys.of("bollard", 8)); // on a pier of port 2
                        other.port().set(work.require(Port.class, keys.of("port", 1)));
                        Bollard own = work.require(Bollard.class, keys.of("bollard", 1));
                        own.port().set(work.require(Port.class, keys.of("port", 1)));
                    });
                    store.run(work -> work.remove(work.require(Port.class, keys.of("port", 1))));
                    assertThat(TestDatabase.count(source, "bollard")).isEqualTo(3);
                    assertThat(TestDatabase.count(source, "bollard_ropes")).isEqualTo(3);
                    assertThat(TestDatabase.count(source, "bollard_seen_from")).isEqualTo(3);
                }
            }
        }
    }

    @Test
    void aChildThatMovesAwayInTheSameFlushStays() {
        for (Rule rule : List.of(Rule.CASCADING, Rule.CASCADING_BY_UNIT)) {
            DataSource source = database.empty();
            try (Store store = open(model(rule, rule, Rule.REFUSING), source)) {
                Keys keys = fill(store);
                store.run(work -> {
                    Port gone = work.require(Port.class, keys.of("port", 1));
                    work.require(Pier.class, keys.of("pier", 1))
                            .port()
                            .set(work.require(Port.class, keys.of("port", 2)));
                    work.require(Bollard.class, keys.of("bollard", 3))
                            .pier()
                            .set(work.require(Pier.class, keys.of("pier", 4))); // of pier 2, which goes
                    work.remove(gone);
                });
                assertThat(contents(source))
                        .contains(
                                keys.in("pier {pier 1} {port 2}"),
                                keys.in("bollard {bollard 1} {pier 1}"),
                                keys.in("bollard {bollard 2} {pier 1}"),
                                keys.in("bollard {bollard 3} {pier 4}"))
                        .doesNotContain(keys.in("pier {pier 2} {port 1}"), keys.in("bollard {bollard 4} {pier 2}"));
            }
        }
    }

    @Test
    void aRollbackBringsBackWhatWentAlong() {
        for (Rule rule : List.of(Rule.CASCADING, Rule.CASCADING_BY_UNIT)) {
            try (Store store = open(model(rule, rule, Rule.REFUSING), database.empty());
                    UnitOfWork work = store.begin()) {
                Keys keys = fill(store);
                Port port = work.require(Port.class, keys.of("port", 1));
                List<Pier> piers = List.copyOf(port.piers());
                work.remove(port);
                work.flush();
                assertThat(work.standing(piers.get(0))).isEqualTo(Standing.UNTRACKED);
                work.rollback();
                assertThat(work.standing(port)).isEqualTo(Standing.REMOVED);
                assertThat(work.standing(piers.get(0))).isEqualTo(Standing.CLEAN);
                work.add(port);
                assertThat(port.piers()).containsExactlyElementsOf(piers);
                assertThat(work.changes()).isEmpty();
                work.remove(port);
                work.commit();
                assertThat(work.find(Pier.class, piers.get(0).id())).isEmpty();
            }
        }
    }

    @Test
    void aFailureInTheMiddleOfACascadeLeavesAllAsBefore() {
        DataSource plain = database.empty();
        Faults faults = Faults.in(plain);
        try (Store store =
                open(model(Rule.CASCADING_BY_UNIT, Rule.CASCADING_BY_UNIT, Rule.REFUSING), faults.source())) {
            Keys keys = fill(store);
            List<String> before = contents(plain);
            for (int at = 1; at <= 3; at++) {
                try (UnitOfWork work = store.begin()) {
                    Port port = work.require(Port.class, keys.of("port", 1));
                    List<Pier> piers = List.copyOf(port.piers());
                    work.remove(port);
                    faults.on(at).failsWith(() -> new SQLException("disk on fire", "58030"));
                    assertThatThrownBy(work::flush).isInstanceOf(StatementException.class);
                    faults.clear();
                    assertThat(work.standing(port)).isEqualTo(Standing.REMOVED);
                    assertThat(work.standing(piers.get(0))).isEqualTo(Standing.CLEAN);
                    assertThat(contents(plain)).isEqualTo(before);
                    work.flush();
                    work.rollback();
                }
            }
        }
    }

    static final class Node {
        private Long id;
        private final Link<Node> parent = Link.empty();
        private final Links<Node> children = Links.empty();

        Node() {}

        Node(Node parent) {
            this.parent.set(parent);
        }

        Link<Node> parent() {
            return parent;
        }

        Links<Node> children() {
            return children;
        }

        Long id() {
            return id;
        }
    }

    @Test
    void aTableThatLeadsToItselfGoesHoweverDeepItIs() {
        int deep = database == TestDatabase.MARIADB ? 1_200 : 200; // MariaDB ends a recursive query at 1,000
        for (Enforcer enforcer : Enforcer.values()) {
            Model model = Model.of(
                    "tree",
                    Entity.of(Node.class, Node::new)
                            .link(Node::parent, onDelete(CASCADE), enforcedBy(enforcer))
                            .links(Node::children, Node::parent));
            DataSource source = database.empty();
            try (Store store = open(model, source)) {
                store.run(work -> {
                    Node above = new Node();
                    work.add(above);
                    for (int depth = 0; depth < deep; depth++) {
                        above = new Node(above);
                        work.add(above);
                    }
                    work.add(new Node());
                });
                Keys keys = Keys.in(store, "node");
                try (UnitOfWork work = store.begin()) {
                    Node middle = work.require(Node.class, keys.of("node", 150));
                    work.remove(work.require(Node.class, keys.of("node", 3))); // 1 and 2 are the roots
                    work.flush();
                    assertThat(work.standing(middle)).isEqualTo(Standing.UNTRACKED);
                    work.rollback();
                    assertThat(work.standing(middle)).isEqualTo(Standing.CLEAN);
                    work.discard();
                    long rows = work.from(Node.class)
                            .where(the(Node::id).is(keys.of("node", 3)))
                            .delete();
                    assertThat(rows).isEqualTo(1);
                    work.commit();
                }
                assertThat(TestDatabase.count(source, "node")).isEqualTo(2);
            }
        }
    }

    @Test
    void aDeletionByQueryHasConditionsAlone() {
        try (Store store = open(model(Rule.CASCADING, Rule.CASCADING, Rule.REFUSING), database.empty());
                UnitOfWork work = store.begin()) {
            assertThatThrownBy(() -> work.from(Port.class).limit(1).delete())
                    .isInstanceOf(IllegalStateException.class)
                    .hasMessageContaining("more than conditions");
        }
    }

    @Test
    void aBatchOfRowsGoesByTheConditionsOfOtherTables() {
        DataSource source = database.empty();
        try (Store store = open(model(Rule.CASCADING_BY_UNIT, Rule.CASCADING_BY_UNIT, Rule.REFUSING), source)) {
            Keys keys = fill(store);
            store.run(work -> {
                Bollard bollard = work.require(Bollard.class, keys.of("bollard", 1));
                work.require(Pier.class, keys.of("pier", 3)).port().clear();
                long rows = work.from(Bollard.class)
                        .where(the(Bollard::pier, Pier::id).is(keys.of("pier", 1)))
                        .delete();
                assertThat(rows).isEqualTo(2);
                assertThat(work.standing(bollard)).isEqualTo(Standing.UNTRACKED);
            });
            assertThat(contents(source))
                    .contains(keys.in("pier {pier 3} null"), keys.in("bollard {bollard 3} {pier 2}"))
                    .doesNotContain(keys.in("bollard {bollard 1} {pier 1}"));
        }
    }

    static final class Anchor {
        private Long id;
        private final Link<Port> port = Link.empty();

        Link<Port> port() {
            return port;
        }
    }

    @Test
    void rulesThatCannotHoldAreRefusedWithTheModel() {
        assertThatThrownBy(() -> Model.of(
                        "odd",
                        Entity.of(Port.class, Port::new).links(Port::piers, Pier::port),
                        Entity.of(Pier.class, Pier::new)
                                .link(Pier::port, required(), onDelete(SET_NULL))
                                .links(Pier::bollards, Bollard::pier),
                        Entity.of(Bollard.class, Bollard::new).pivot(Bollard::seenFrom),
                        Entity.of(Anchor.class, Anchor::new).link(Anchor::port, enforcedBy(Enforcer.UNIT))))
                .isInstanceOf(ModelException.class)
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("Pier.port: is required, so onDelete(SET_NULL) cannot empty it")
                .hasMessageContaining("Anchor.port: is enforcedBy(UNIT), but nothing is to be done");
    }
}
