package io.bathra.fleet;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.error.BathraException;
import io.bathra.error.CommitUnknownException;
import io.bathra.error.SerializationFailure;
import io.bathra.error.UniqueViolation;
import io.bathra.fleet.CuttingProxy.Cut;
import io.bathra.fleet.Docks.Berth;
import io.bathra.fleet.Docks.Docking;
import io.bathra.model.Difference;
import io.bathra.testing.OtherProcess;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfEnvironmentVariable;

/** A MariaDB cluster of three nodes, all of which take writes. */
@EnabledIfEnvironmentVariable(named = "FLEET", matches = ".+")
class GaleraTest {
    private static final String GALERA = "galera";
    private static final int NODES = 3;
    private static final int LARGE = 250_000;

    private static final AtomicInteger DATABASES = new AtomicInteger();

    private List<String> nodes;
    private final List<AutoCloseable> open = new ArrayList<>();

    @BeforeEach
    void emptyDatabase() {
        Fleet.tell(GALERA, "up");
        String database = "docks" + ProcessHandle.current().pid() + "_" + DATABASES.incrementAndGet();
        nodes = Fleet.urls(GALERA, database);
        Fleet.execute(Fleet.urls(GALERA, "mysql").get(0), "create database " + database);
        allHaveAll();
    }

    @AfterEach
    void close() throws Exception {
        for (AutoCloseable one : open) {
            one.close();
        }
    }

    private Store store(String url, int connections) {
        HikariDataSource pool = Fleet.pool(url, connections);
        Store store = Store.open(Docks.MODEL, pool);
        open.add(pool);
        return store;
    }

    /** Until the end of this test, nodes part from one that says nothing for as long as they do unless told otherwise. */
    private void nodesPartAfterFiveSeconds() {
        Fleet.tell(GALERA, "patience", "5");
        open.add(() -> {
            Fleet.tell(GALERA, "up");
            Fleet.tell(GALERA, "patience", "30");
        });
    }

    /** A URL of all nodes, of which a new connection goes to the first that is there and in the cluster. */
    private String together(int first) {
        StringBuilder hosts = new StringBuilder();
        for (int i = 0; i < NODES; i++) {
            hosts.append(i == 0 ? "" : ",").append(Fleet.address(nodes.get((first + i) % NODES)));
        }
        return nodes.get(0).replaceFirst("//[^/]+/", "//" + hosts + "/")
                + "&galeraAllowedState=4" // synced
                + "&connectTimeout=3000"; // a node that begins may take a connection long before it answers
    }

    /** Each node waits until it has what was committed on any of them. */
    private static void allHaveAll() {
        Fleet.urls(GALERA, "mysql").forEach(node -> Fleet.ask(node, "set session wsrep_sync_wait = 7", "select 1"));
    }

    private void areAllNodesEqual() {
        List<List<String>> contents = new ArrayList<>();
        for (String node : nodes) {
            contents.add(Fleet.ask(
                    node,
                    "set session wsrep_sync_wait = 7",
                    "checksum table berth, docking",
                    "select * from berth order by number",
                    "select count(*) from docking"));
        }
        assertThat(contents).as("what each of the nodes holds").containsOnly(contents.get(0));
    }

    private List<Store> storesOfAllNodes() {
        return List.of(store(together(0), 5), store(together(1), 5), store(together(2), 5));
    }

    @Test
    void nodesThatDieInTurnLoseNothing() {
        Docks.fill(store(nodes.get(0), 2));
        nodesPartAfterFiveSeconds();
        Clerks clerks = Clerks.begin("node clerk ", 12, storesOfAllNodes(), Fleet.RETRYING);
        for (int round = 0; round < (Fleet.LONG ? 5 : 1); round++) {
            for (int node = NODES; node >= 1; node--) {
                Fleet.sleep(2_000);
                Fleet.tell(GALERA, "kill", "" + node);
                Fleet.sleep(7_000); // the others go on without it
                Fleet.tell(GALERA, "node", "" + node);
                Fleet.tell(GALERA, "up");
            }
        }
        Fleet.sleep(2_000);
        clerks.end();
        Fleet.say("galera, each node ended by kill -9 in turn, 12 clerks: %s", clerks);
        clerks.haveAllSucceeded();
        Docks.holds(store(nodes.get(0), 2), clerks.acknowledged());
        areAllNodesEqual();
    }

    /** A machine that stands still for longer than nodes wait for each other parts them; connections stay. */
    @Test
    void nodesThatStandStillForAWhileLoseNothing() {
        Docks.fill(store(nodes.get(0), 2));
        nodesPartAfterFiveSeconds();
        Clerks clerks = Clerks.begin("still clerk ", 12, storesOfAllNodes(), Fleet.RETRYING);
        for (String some : List.of("1", "1 2", "1 2 3")) {
            Fleet.sleep(2_000);
            Fleet.tell(GALERA, "still", "9", some);
            Fleet.tell(GALERA, "up");
        }
        Fleet.sleep(2_000);
        clerks.end();
        Fleet.say("galera, one, two and all nodes stand still for 9 s, 12 clerks: %s", clerks);
        clerks.haveAllSucceeded();
        Docks.holds(store(nodes.get(0), 2), clerks.acknowledged());
        areAllNodesEqual();
    }

    /** Its node refuses COMMIT and ROLLBACK, and keeps the transaction for as long as there is its session. */
    @Test
    void aUnitThatIsPartedFromTheOthersHoldsNothingAfterwards() throws InterruptedException {
        Docks.fill(store(nodes.get(0), 2));
        nodesPartAfterFiveSeconds();
        Store store = store(together(2), 2);
        Thread still = new Thread(() -> Fleet.tell(GALERA, "still", "25", "1 2"));
        assertThatThrownBy(() -> store.run(work -> {
                    Docks.enter(work, "parted", 1);
                    work.flush();
                    still.start();
                    Fleet.until(
                            "for node 3 to be alone",
                            () -> Fleet.ask(nodes.get(2), "show status like 'wsrep_cluster_status'")
                                    .equals(List.of("wsrep_cluster_status non-Primary")));
                }))
                .isInstanceOf(CommitUnknownException.class);
        still.join();
        Fleet.tell(GALERA, "up");
        String open = "select count(*) from information_schema.innodb_trx where trx_rows_modified > 0";
        assertThat(Fleet.ask(nodes.get(2), open)) // once: to ask more often would have a lost session collected
                .as("transactions that hold what they have written on the node that was parted")
                .containsExactly("0");
        Docks.holds(store, 0);
        areAllNodesEqual();
    }

    /** Node 2 has still to apply what node 1 has committed, when somebody asks it whether a unit was committed. */
    @Test
    void anInquiryWaitsForWhatTheClusterHasCommitted() throws IOException {
        Docks.fill(store(nodes.get(0), 2));
        Fleet.execute(nodes.get(0), "create table large (id bigint primary key, text varchar(60))");
        int times = Fleet.LONG ? 20 : 5;
        int attempts = 0;
        for (int time = 0; time < times; time++) {
            Fleet.execute(nodes.get(0), "truncate table large");
            allHaveAll();
            attempts += aReplyIsLostBehindALargeTransaction(time);
        }
        Docks.holds(store(nodes.get(2), 2), times);
        assertThat(attempts)
                .as("attempts at units that were committed the first time")
                .isEqualTo(times);
        Fleet.say(
                "galera, reply lost behind a transaction of %,d rows that the node which is asked does not have yet:"
                        + " %d units, %d attempts",
                LARGE, times, attempts);
    }

    private int aReplyIsLostBehindALargeTransaction(int number) throws IOException {
        AtomicInteger attempts = new AtomicInteger();
        try (CuttingProxy proxy = new CuttingProxy(List.of(Fleet.address(nodes.get(0))))) {
            String through = nodes.get(0)
                    .replace(Fleet.address(nodes.get(0)), proxy.addresses().get(0));
            AtomicReference<String> leadsTo = new AtomicReference<>(through);
            Store store = Store.open(Docks.MODEL, Fleet.leadingTo(leadsTo::get));
            store.run(reading -> reading.require(Berth.class, 0));
            Fleet.execute(nodes.get(0), "insert into large select seq, repeat('x', 60) from seq_1_to_" + LARGE);
            store.run(Fleet.RETRYING, work -> {
                Docks.enter(work, "lost", number);
                if (attempts.incrementAndGet() == 1) {
                    leadsTo.set(nodes.get(1));
                    proxy.cutNext(Cut.AFTER_THE_SERVER_HAS_ANSWERED);
                }
            });
            assertThat(proxy.cuts()).isEqualTo(1);
        }
        return attempts.get();
    }

    @Test
    void aReplyToCommitThatIsCutIsFoundOut() {
        Docks.fill(store(nodes.get(0), 2));
        CuttingProxy proxy = new CuttingProxy(nodes.stream().map(Fleet::address).toList());
        open.add(proxy);
        String url = nodes.get(0).replaceFirst("//[^/]+/", "//" + String.join(",", proxy.addresses()) + "/");
        Fleet.say("galera, %s", CutCommits.of(store(url, 3), proxy, Fleet.RETRYING));
        areAllNodesEqual();
    }

    @Test
    void aCommitThatIsCutWhileTheServerWaitsForARowIsDoneOnce() throws Exception {
        CuttingProxy proxy = new CuttingProxy(List.of(Fleet.address(nodes.get(0))));
        open.add(proxy);
        String through = nodes.get(0)
                .replace(Fleet.address(nodes.get(0)), proxy.addresses().get(0));
        Store store = store(through, 3);
        Docks.fill(store);
        CutCommits.whileTheServerWaits(store, proxy, Fleet.RETRYING, nodes.get(0));
        areAllNodesEqual();
    }

    @Test
    void aUnitReadsWhatWasWrittenThroughAnotherNode() {
        Docks.fill(store(nodes.get(0), 2));
        Store here = store(nodes.get(0), 2);
        Store there = store(nodes.get(1), 2);
        Fleet.execute(nodes.get(0), "create table large (id bigint primary key, text varchar(60))");
        Map<Boolean, Integer> stale = new TreeMap<>();
        int times = 10;
        for (int time = 0; time < times; time++) {
            for (boolean upToDate : List.of(false, true)) {
                Fleet.execute(
                        nodes.get(0),
                        "truncate table large",
                        "insert into large select seq, repeat('x', 60) from seq_1_to_20000");
                int number = 2 * time + (upToDate ? 1 : 0);
                Docks.enter(here, Terms.retrying(5), "reader", number);
                Terms terms = upToDate ? Terms.reading().upToDate() : Terms.reading();
                boolean seen = there.call(
                        terms,
                        work -> work.from(Docking.class).list().stream().anyMatch(one -> one.number() == number));
                stale.merge(upToDate, seen ? 0 : 1, Integer::sum);
            }
        }
        Fleet.say(
                "galera, reads through another node right after a commit: %d of %d stale, %d of %d with upToDate()",
                stale.get(false), times, stale.get(true), times);
        assertThat(stale.get(true)).isZero();
    }

    @Test
    void aTransactionBeyondTheClustersLimitSaysWhichAndLeavesNothing() {
        Store store = store(nodes.get(0), 2);
        Docks.fill(store);
        for (String limit : List.of("wsrep_max_ws_size = 65536", "wsrep_max_ws_rows = 500")) {
            String name = limit.split(" ")[0];
            String before = Fleet.ask(nodes.get(0), "select @@global." + name).get(0);
            Fleet.execute(nodes.get(0), "set global " + limit);
            try {
                assertThatThrownBy(() -> store.run(work -> {
                            Berth berth = work.require(Berth.class, 1);
                            IntStream.range(0, 5_000).forEach(i -> work.add(new Docking("a large flush", i, berth)));
                        }))
                        .isInstanceOf(BathraException.class)
                        .hasMessageContaining("more than a cluster takes at once (" + name + ")")
                        .hasMessageContaining("nothing was committed; do it in several units of work");
            } finally {
                Fleet.execute(nodes.get(0), "set global " + name + " = " + before);
            }
        }
        Docks.holds(store, 0);
    }

    /** Without a table for it, the server would lose the order of things at a savepoint: the unit ends instead. */
    @Test
    void withoutTheTableOfTokensSavepointsLoseNothingEither() {
        HikariDataSource pool = Fleet.pool(nodes.get(0), 2);
        open.add(pool);
        Store store = Store.open(Docks.WITHOUT_TOKENS, pool);
        Docks.fill(store);
        store.run(
                work -> { // nothing to lose: it begins again behind the scenes
                    work.require(Berth.class, 1);
                    assertThatThrownBy(() -> work.run(inner -> {
                                Docks.enter(inner, "inner", 1);
                                inner.flush();
                                throw new IllegalArgumentException("taken back");
                            }))
                            .hasMessage("taken back");
                    Docks.enter(work, "outer", 1);
                });
        assertThatThrownBy(() -> store.run(work -> {
                    work.from(Berth.class)
                            .where(the(Berth::number).is(0))
                            .forUpdate()
                            .one();
                    Docks.enter(work, "held", 0);
                    work.add(new Berth(1));
                    assertThatThrownBy(work::flush)
                            .isInstanceOf(UniqueViolation.class)
                            .satisfies(e -> assertThat(e.getSuppressed())
                                    .singleElement()
                                    .isInstanceOf(SerializationFailure.class));
                    work.flush();
                }))
                .hasMessageContaining("the other servers of the cluster would keep what is taken back")
                .hasMessageContaining("commitTokens(...)");
        Docks.holds(store, 1);
        areAllNodesEqual();
    }

    @Test
    void eightProcessesBeginAtOnceOnAnEmptyCluster() throws Exception {
        int ships = Fleet.LONG ? 200 : 40;
        List<OtherProcess> processes = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            processes.add(OtherProcess.run(
                    ClerkProcess.class, "tables", nodes.get(i % NODES), "process" + i + " ", "1", "" + ships));
        }
        int acknowledged = 0;
        for (OtherProcess process : processes) {
            acknowledged += ClerkProcess.acknowledged(process.output());
        }
        Store store = store(nodes.get(1), 2);
        assertThat(store.schema().verify()).allMatch(GaleraTest::isGenerator);
        Fleet.say("galera, eight processes at once on an empty cluster: %d units acknowledged", acknowledged);
        assertThat(acknowledged).isEqualTo(8 * ships);
        Docks.holds(store, acknowledged);
        areAllNodesEqual();
    }

    @Test
    void eightProcessesApplyTheSameChangesAtOnce() throws Exception {
        List<OtherProcess> processes = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            processes.add(OtherProcess.run(
                    ClerkProcess.class, "changes", nodes.get(i % NODES), "process" + i + " ", "1", "20"));
        }
        int acknowledged = 0;
        for (OtherProcess process : processes) {
            acknowledged += ClerkProcess.acknowledged(process.output());
        }
        Store store = store(nodes.get(2), 2);
        assertThat(store.schema().verify()).allMatch(GaleraTest::isGenerator);
        Fleet.say("galera, eight processes apply the same change files at once: %d units acknowledged", acknowledged);
        Docks.holds(store, 8 * 20);
        areAllNodesEqual();
    }

    /** What nodes note of a sequence may overwrite one another, and then keys are drawn again. */
    private static boolean isGenerator(Difference difference) {
        return difference.found().contains("but the generator is at");
    }

    @Test
    void whoMeetsAKeyThatWasDrawnBeforeMovesTheGeneratorOn() {
        Store store = store(nodes.get(0), 2);
        Docks.fill(store);
        Docks.enter(store, Terms.retrying(2), "before", 1);
        Fleet.execute(
                nodes.get(0),
                "insert into docking (id, clerk, number, berth_id) select seq, 'by another node', seq, 1 from seq_1_to_9000"
                        + " where seq not in (select id from docking)");
        AtomicInteger attempts = new AtomicInteger();
        Store other = store(nodes.get(0), 2);
        other.run(Terms.retrying(2), work -> {
            attempts.incrementAndGet();
            Docks.enter(work, "behind", 2);
        });
        assertThat(attempts.get()).isEqualTo(2);
        assertThatThrownBy(() -> store(nodes.get(0), 2).run(work -> work.add(new Berth(1))))
                .as("what is no key that was drawn is a violation as ever")
                .isInstanceOf(UniqueViolation.class);
    }

    /** Five hundred who want five rows, through all nodes. */
    @Test
    void aHerdLosesNoUnit() {
        Docks.fill(store(nodes.get(0), 2));
        List<Store> stores = IntStream.range(0, NODES)
                .mapToObj(node -> store(nodes.get(node), 50))
                .toList();
        Clerks herd = Clerks.run("herd ", 500, stores, Fleet.RETRYING, Fleet.LONG ? 20 : 2);
        Fleet.say("galera, 500 threads on %d rows through three nodes: %s", Docks.BERTHS, herd);
        herd.haveAllSucceeded();
        Docks.holds(stores.get(0), herd.acknowledged());
        areAllNodesEqual();
    }
}
