package io.bathra.contract;

import static io.bathra.contract.Agents.HUSH;
import static io.bathra.contract.Agents.IBAN;
import static io.bathra.contract.Agents.MARK;
import static io.bathra.contract.Agents.MODEL;
import static io.bathra.contract.Agents.PIN;
import static io.bathra.contract.Agents.ROOM_CODE;
import static io.bathra.contract.Agents.SEAL;
import static io.bathra.contract.Agents.SECRETS;
import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.secret;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.anyOf;
import static io.bathra.query.Ask.inside;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.parameter;
import static io.bathra.query.Ask.parameters;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowable;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.answer.Pending;
import io.bathra.attr.Secret;
import io.bathra.bulk.On;
import io.bathra.contract.Agents.Agency;
import io.bathra.contract.Agents.Agent;
import io.bathra.contract.Agents.Cover;
import io.bathra.contract.Agents.Safe;
import io.bathra.contract.Agents.Word;
import io.bathra.error.BathraException;
import io.bathra.error.CheckViolation;
import io.bathra.error.ConcurrentChangeException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.NotExactlyOneException;
import io.bathra.error.NotNullViolation;
import io.bathra.error.StatementException;
import io.bathra.error.UniqueViolation;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Condition;
import io.bathra.query.Query;
import io.bathra.query.Sql;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.Overheard;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import javax.sql.DataSource;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Values of secret attributes stand in nothing that is thrown, printed or logged. */
@OnEachDatabase
class SecretsTest {
    private final Store store;
    private final TestDatabase database;
    private final DataSource source;

    /** In other letters than the model's, where they mean the same. */
    private final String table;

    private final Overheard overheard = new Overheard();

    SecretsTest(TestDatabase database) {
        this.database = database;
        table = database == TestDatabase.MARIADB ? "agent" : "AGENT";
        source = database.empty();
        store = Trips.open(MODEL, source).heardBy(started -> {
            overheard.of(started);
            return (ended, failure) -> {
                overheard.of(ended);
                if (failure != null) {
                    overheard.of(failure);
                }
            };
        });
        store.schema().createMissing();
        store.run(work -> {
            Agency agency = new Agency();
            agency.name = "north";
            agency.seal = SEAL;
            work.add(agency);
            Agent first = agent("kim", IBAN);
            first.agency.set(agency);
            work.add(first);
            work.add(agent("lee", IBAN + "2"));
        });
    }

    static Agent agent(String alias, String iban) {
        Agent agent = new Agent();
        agent.alias = alias;
        agent.iban = iban;
        agent.pin = PIN;
        agent.cover = Cover.CLANDESTINE;
        agent.word = new Word("QUIET");
        agent.safe = new Safe("cellar", ROOM_CODE);
        agent.marks.add(MARK);
        return agent;
    }

    @AfterEach
    void nothingWasSaid() {
        overheard.close();
        store.close();
        overheard.assertSilentAbout(SECRETS);
    }

    private void refused(Class<? extends Throwable> type, ThrowingCallable call) {
        Throwable thrown = catchThrowable(call);
        assertThat(thrown).isInstanceOf(type);
        overheard.of(thrown);
    }

    @Test
    void whatAUnitSaysOfItsChanges() {
        store.run(work -> {
            Agent kim = work.from(Agent.class).where(the(Agent::iban).is(IBAN)).one();
            assertThat(List.of(kim.iban, kim.pin, kim.cover, kim.safe.code(), kim.marks.get(0)))
                    .containsExactly(IBAN, PIN, Cover.CLANDESTINE, ROOM_CODE, MARK);
            kim.pin = PIN + 1;
            kim.iban = IBAN + "3";
            kim.safe = new Safe("attic", ROOM_CODE + "X");
            kim.marks.add(MARK + "2");
            work.add(agent("max", IBAN + "4"));
            overheard.of(work.changes());
            overheard.of(work.plan());
            overheard.of(work.problems());
            overheard.of(work.row(Agent.class, 77L).set(Agent::pin, PIN).set(Agent::iban, IBAN + "5"));
            overheard.of(work.plan());
            work.discard();
            kim.pin = PIN + 1;
            overheard.of(work.flush());
            overheard.of(work.trace());
            overheard.of(work.trace().lines());
        });
    }

    @Test
    void whatDoesNotFit() {
        try (UnitOfWork work = store.begin()) {
            Agent tall = agent("max", IBAN + " and more than fits");
            tall.safe = new Safe("x", ROOM_CODE + "\0");
            tall.marks.add(MARK + " that is long");
            work.add(tall);
            overheard.of(work.problems());
            refused(InvalidChangesException.class, work::flush);
            work.discard();
            work.add(agent("max", IBAN));
            work.add(agent("moe", IBAN));
            overheard.of(work.problems());
            refused(InvalidChangesException.class, work::flush);
            work.discard();
            refused(
                    InvalidChangesException.class,
                    () -> work.from(Agent.class).update(the(Agent::iban).to(IBAN + " and more than fits")));
            refused(
                    IllegalArgumentException.class,
                    () -> work.row(Agent.class, 1L).set(untyped(Agent::pin), IBAN));
        }
    }

    @SuppressWarnings("unchecked") // on purpose
    private static <V> io.bathra.attr.Attr<Agent, Object> untyped(io.bathra.attr.Attr<Agent, V> attribute) {
        return (io.bathra.attr.Attr<Agent, Object>) attribute;
    }

    @Test
    void whatTheDatabaseRefuses() {
        try (UnitOfWork work = store.begin()) {
            work.add(agent("max", IBAN));
            overheard.of(work.problems());
            refused(UniqueViolation.class, work::flush);
        }
        refused(
                UniqueViolation.class,
                () -> store.run(work -> {
                    Agent kim = work.from(Agent.class)
                            .where(the(Agent::alias).is("kim"))
                            .one();
                    kim.iban = IBAN + "2";
                }));
        refused(
                CheckViolation.class,
                () -> store.run(work -> {
                    Agent weak = agent("weak", IBAN + "9");
                    weak.pin = 7;
                    work.add(weak);
                }));
        refused(
                CheckViolation.class,
                () -> store.run(work -> work.from(Agent.class)
                        .update(number(Agent::pin).to(number(Agent::pin).minus(number(Agent::pin))))));
        refused(
                UniqueViolation.class,
                () -> store.run(
                        work -> work.from(Agent.class).update(the(Agent::iban).to(IBAN))));
        refused(
                NotNullViolation.class,
                () -> store.sql("insert into " + table + " (version, iban, pin) values (1, :iban, :pin)")
                        .with("iban", Secret.of(IBAN + "7"))
                        .with("pin", Secret.of(PIN))
                        .execute());
        refused(
                UniqueViolation.class,
                () -> store.sql("Update " + table + " set IBAN = :iban")
                        .with("iban", Secret.of(IBAN))
                        .execute());
        refused(
                UniqueViolation.class,
                () -> store.sql("update " + table + " set iban = :iban where alias in ('kim', 'lee')")
                        .executeAll(List.of(Map.of("iban", Secret.of(IBAN)), Map.of("iban", IBAN))));
        refused(
                ConcurrentChangeException.class,
                () -> store.run(work -> {
                    Agent kim = work.from(Agent.class)
                            .where(the(Agent::alias).is("kim"))
                            .one();
                    TestDatabase.execute(source, "select 1");
                    work.sql("update agent set version = 7, pin = :pin where alias = 'kim'")
                            .with("pin", Secret.of(PIN + 2))
                            .execute();
                    work.row(Agent.class, kim.id).expectVersion(3);
                }));
    }

    @Test
    void whatPlainSqlSays() {
        Sql<?> sql = Sql.of("select alias from " + table + " where iban = :iban and pin in (:pins)");
        overheard.of(sql.with("iban", Secret.of(IBAN)));
        overheard.of(sql.with("iban", Secret.of(IBAN)).values());
        store.run(work -> {
            overheard.of(work.sql(sql).with("iban", Secret.of(IBAN)));
            assertThat(work.sql(sql)
                            .with("iban", Secret.of(IBAN))
                            .with("pins", List.of(Secret.of(PIN), Secret.of(PIN + 1)))
                            .list())
                    .hasSize(1);
            refused(
                    BathraException.class,
                    () -> work.sql(sql)
                            .with("iban", Secret.of(IBAN + "\0"))
                            .with("pins", List.of())
                            .list());
            refused(
                    BathraException.class,
                    () -> work.sql(sql)
                            .with("iban", Secret.of(new StringBuilder(IBAN)))
                            .with("pins", PIN)
                            .list());
        });
        refused(
                StatementException.class,
                () -> store.sql("select nothing_known(:x)").with("x", IBAN).list());
        refused(
                StatementException.class,
                () -> store.sql("select nothing_known(:x) from " + table)
                        .with("x", Secret.of(IBAN))
                        .list());
        if (database == TestDatabase.H2 || database == TestDatabase.POSTGRESQL) {
            refused(
                    StatementException.class,
                    () -> store.sql("select cast(cast(:x as varchar(40)) as integer)")
                            .with("x", IBAN)
                            .list());
        }
    }

    @Test
    void whatQueriesSay() {
        Condition<Agent> is = the(Agent::iban).is(IBAN);
        overheard.of(is);
        overheard.of(
                anyOf(is, text(Agent::iban).startsWith(IBAN), the(Agent::pin).in(PIN, 7)));
        overheard.of(the(Agent::pin).to(PIN));
        overheard.of(number(Agent::pin).plus(PIN).above(PIN));
        store.run(work -> {
            List<Query<Agent>> queries = List.of(
                    work.from(Agent.class).where(is),
                    work.from(Agent.class).where(text(Agent::iban).lower().is(IBAN)),
                    work.from(Agent.class).where(text(Agent::iban).contains(IBAN)),
                    work.from(Agent.class)
                            .where(
                                    the(Agent::iban).in(IBAN, IBAN + "2"),
                                    the(Agent::cover).is(Cover.CLANDESTINE)),
                    work.from(Agent.class)
                            .where(inside(Agent::safe).the(Safe::code).is(ROOM_CODE)),
                    work.from(Agent.class)
                            .where(the(Agent::agency, Agency::seal).is(SEAL)),
                    work.from(Agent.class).where(number(Agent::pin).plus(1).above(PIN)));
            for (Query<Agent> query : queries) {
                overheard.of(query);
                overheard.of(query.sql());
                overheard.of(query.explain());
                overheard.of(query.as(the(Agent::alias)));
                overheard.of(query.as(the(Agent::alias)).explain());
                overheard.of(query.count());
            }
            work.add(agent("max", IBAN + "6"));
            for (Query<Agent> query : queries) {
                overheard.of(query.pending(Pending.OVERLAY).sql());
                overheard.of(query.pending(Pending.OVERLAY).explain());
            }
            work.discard();
            Query<Agent> named = work.from(Agent.class).where(the(Agent::iban).is(parameter("iban", String.class)));
            overheard.of(named.with("iban", IBAN));
            refused(BathraException.class, () -> named.with("iban", PIN).list());
            refused(
                    BathraException.class,
                    () -> named.with("iban", List.of(IBAN)).list());
            refused(BathraException.class, () -> named.with("ibn", IBAN).list());
            refused(BathraException.class, () -> named.with("iban", IBAN + "\0").list());
            refused(
                    BathraException.class,
                    () -> work.from(Agent.class)
                            .where(the(Agent::pin).in(parameters("pins", Integer.class)))
                            .with("pins", List.of(PIN, IBAN))
                            .list());
            refused(
                    NotExactlyOneException.class,
                    () -> work.from(Agent.class).where(the(Agent::pin).is(PIN)).one());
            refused(
                    NotExactlyOneException.class,
                    () -> work.from(Agent.class)
                            .where(the(Agent::pin).is(PIN))
                            .as(the(Agent::iban))
                            .one());
            refused(
                    NotExactlyOneException.class,
                    () -> work.findOrAdd(Agent.class, the(Agent::pin).is(PIN), Agent::new));
            refused(
                    NotExactlyOneException.class,
                    () -> work.changeOrAdd(Agent.class, the(Agent::pin).is(PIN), Agent::new, agent -> agent.pin = 1));
            overheard.of(work.trace());
        });
    }

    @Test
    void whatBulkSays() {
        refused(InvalidChangesException.class, () -> insert(Map.of("iban", PIN)));
        refused(InvalidChangesException.class, () -> insert(Map.of("pin", IBAN)));
        refused(InvalidChangesException.class, () -> insert(Map.of("word", IBAN)));
        refused(InvalidChangesException.class, () -> insert(Map.of("safe.code", PIN)));
        refused(InvalidChangesException.class, () -> insert(Map.of("safe.code", ROOM_CODE + " and more")));
        refused(InvalidChangesException.class, () -> insert(Map.of("agency.seal", PIN)));
        refused(InvalidChangesException.class, () -> insert(Map.of("agency.seal", SEAL + "X")));
        refused(UniqueViolation.class, () -> insert(Map.of("iban", IBAN)));
        List<Map<String, String>> texts = new ArrayList<>();
        for (String pin : List.of(HUSH, "" + PIN + PIN, "" + PIN)) {
            texts.add(Map.of("alias", "a" + texts.size(), "version", "1", "pin", pin, "cover", "CLANDESTINE"));
        }
        texts.add(Map.of(
                "alias", "b", "iban", IBAN, "cover", "CLANDESTINE", "agency.seal", SEAL, "safe.code", ROOM_CODE));
        texts.replaceAll(row -> {
            Map<String, String> same = new LinkedHashMap<>(row);
            same.remove("version");
            for (String name : List.of("iban", "agency.seal", "safe.code", "pin")) {
                same.putIfAbsent(name, "");
            }
            return same;
        });
        overheard.of(store.bulk(Agent.class)
                .texts()
                .rejectTo(overheard::of)
                .onProgress(overheard::of)
                .insert(texts));
        List<Agent> agents = List.of(
                agent("p", IBAN),
                agent("q", IBAN + "22"),
                agent("r", IBAN + " that is too long"),
                agent("kim", IBAN),
                agent("kim", IBAN + "2"));
        agents.forEach(agent -> agent.marks.clear());
        overheard.of(store.bulk(Agent.class).rejectTo(overheard::of).insert(agents.subList(0, 3)));
        overheard.of(store.bulk(Agent.class).upsert(agents.subList(3, 4), On.on(Agent::alias)));
        refused(UniqueViolation.class, () -> store.bulk(Agent.class).upsert(agents.subList(4, 5), On.on(Agent::alias)));
    }

    private void insert(Map<String, Object> values) {
        Map<String, Object> row = new LinkedHashMap<>(values);
        row.put("alias", "max");
        row.putIfAbsent("cover", Cover.CLANDESTINE);
        store.bulk(Agent.class).maps().insert(List.of(row));
    }

    @Test
    void whatStandsInRowsAndCannotBeRead() {
        for (String wrong : List.of("cover = '" + HUSH + "'", "word = '" + HUSH + "'")) {
            TestDatabase.execute(source, "update agent set cover = 'OPEN', word = null");
            TestDatabase.execute(source, "update agent set " + wrong);
            refused(
                    BathraException.class,
                    () -> store.run(work -> overheard.of(work.from(Agent.class).list())));
            refused(
                    BathraException.class,
                    () -> store.run(work -> overheard.of(
                            work.from(Agent.class).as(the(Agent::cover)).list().toString()
                                    + work.sql("select * from agent")
                                            .as(Agent.class)
                                            .list())));
        }
    }

    @Test
    void whatListenersAreTold() {
        Model heard = Model.of(
                "agency",
                Entity.of(Agency.class, Agency::new)
                        .key(Agency::name, assigned())
                        .column(Agency::seal, unique(), secret(), length(20))
                        .beforeUpdate((agency, changes) -> overheard.of(changes)));
        try (Store other = Trips.open(heard, source)) {
            other.run(work -> Objects.requireNonNull(work.require(Agency.class, "north")).seal = SEAL + "2");
        }
    }

    @Test
    void urlsAreShownWithoutUserAndPassword() {
        overheard.of("");
        store.run(work -> work.from(Agent.class).count());
        for (String url : List.of(
                "jdbc:nothing://me:" + SEAL + "@localhost/harbour",
                "jdbc:nothing:harbour?user=me&password=" + SEAL,
                "jdbc:mariadb://me:" + SEAL + "@localhost:1/harbour",
                "jdbc:mariadb://localhost:1/harbour?password=" + SEAL + "&user=me",
                "jdbc:postgresql://localhost:1/harbour?user=me&password=" + SEAL,
                "jdbc:h2:mem:x;USER=me;PASSWORD=" + SEAL + ";NONSENSE=1",
                "jdbc:sqlite:/nowhere/at/all.db?password=" + SEAL)) {
            refused(DatabaseUnreachableException.class, () -> Trips.open(MODEL, url));
        }
        assertThatThrownBy(() -> Trips.open(MODEL, "jdbc:nothing://me:" + SEAL + "@localhost/harbour?x=1", "me", SEAL))
                .isInstanceOf(DatabaseUnreachableException.class)
                .hasMessageContaining("jdbc:nothing://localhost/harbour?x=1");
    }
}
