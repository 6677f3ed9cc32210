package io.bathra.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.ConnectionLostException;
import io.bathra.error.DatabaseUnreachableException;
import io.bathra.fleet.Docks.Berth;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfEnvironmentVariable;

/** A PostgreSQL primary and its standby, which has each commit before it is acknowledged. */
@EnabledIfEnvironmentVariable(named = "FLEET", matches = ".+")
class FailoverTest {
    private static final String POSTGRES = "postgres";
    private static final int AWAY_MILLIS = 10_000;

    private final List<AutoCloseable> open = new ArrayList<>();
    private List<String> servers;
    private String primary;

    /** A pair of its own for each test, since a primary dies once. */
    @BeforeEach
    void freshPair() {
        Fleet.tell(POSTGRES, "again");
        servers = Fleet.urls(POSTGRES, "postgres");
        primary = "jdbc:postgresql://" + Fleet.address(servers.get(0)) + "," + Fleet.address(servers.get(1))
                + "/postgres?user=postgres&targetServerType=primary&connectTimeout=2";
    }

    @AfterEach
    void close() throws Exception {
        for (AutoCloseable one : open) {
            one.close();
        }
    }

    private HikariDataSource pool(String url, int connections) {
        HikariDataSource pool = Fleet.pool(url, connections);
        open.add(pool);
        return pool;
    }

    @Test
    void unitsRideOverAFailover() {
        Store store = Store.open(Docks.MODEL, pool(primary, 8));
        Docks.fill(store);
        Clerks clerks = Clerks.begin("failover clerk ", 8, List.of(store), Fleet.RETRYING);
        Fleet.sleep(3_000);
        int before = clerks.acknowledged();
        Fleet.tell(POSTGRES, "kill", "1");
        Fleet.sleep(AWAY_MILLIS);
        int meanwhile = clerks.acknowledged();
        Fleet.tell(POSTGRES, "promote", "2");
        Fleet.sleep(4_000);
        clerks.end();
        Fleet.say(
                "postgres, primary killed under load and standby promoted %d s later, 8 clerks: %s",
                AWAY_MILLIS / 1_000, clerks);
        clerks.haveAllSucceeded();
        assertThat(clerks.longestMillis()).isGreaterThan(AWAY_MILLIS);
        assertThat(clerks.acknowledged()).as("units after the failover").isGreaterThan(meanwhile);
        assertThat(meanwhile - before).as("units while there was no primary").isLessThan(before);
        Docks.holds(store, clerks.acknowledged());
    }

    @Test
    void aReplyToCommitThatIsCutIsFoundOut() {
        CuttingProxy proxy = new CuttingProxy(List.of(Fleet.address(servers.get(0))));
        open.add(proxy);
        // the text of a statement that the server has prepared does not go over again, and could not be seen
        String url = "jdbc:postgresql://" + proxy.addresses().get(0) + "/postgres?user=postgres&prepareThreshold=0";
        Store store = Store.open(Docks.MODEL, pool(url, 3));
        Docks.fill(store);
        Fleet.say("postgres, %s", CutCommits.of(store, proxy, Fleet.RETRYING));
    }

    @Test
    void aCommitThatIsCutWhileTheServerWaitsForARowIsDoneOnce() throws Exception {
        CuttingProxy proxy = new CuttingProxy(List.of(Fleet.address(servers.get(0))));
        open.add(proxy);
        String url = "jdbc:postgresql://" + proxy.addresses().get(0) + "/postgres?user=postgres&prepareThreshold=0";
        Store store = Store.open(Docks.MODEL, pool(url, 3));
        Docks.fill(store);
        CutCommits.whileTheServerWaits(store, proxy, Fleet.RETRYING, servers.get(0));
    }

    @Test
    void messagesTellADeadServerFromAnExhaustedPoolAndAServerThatTakesNoWrites() {
        HikariDataSource single = Fleet.pool(servers.get(0), 1, 5_000);
        open.add(single);
        Store store = Store.open(Docks.MODEL, single);
        Docks.fill(store);
        Store onStandby = Store.open(Docks.MODEL, pool(servers.get(1), 1));
        assertThatThrownBy(() -> onStandby.run(work -> work.add(new Berth(77))))
                .hasMessageContaining(
                        "the database takes no writes here, since the transaction or the server is read-only")
                .hasMessageContaining("connect to a server that takes writes");
        try (UnitOfWork holder = store.begin()) {
            holder.from(Berth.class).forUpdate().list();
            assertThatThrownBy(() -> store.run(work -> work.require(Berth.class, 1)))
                    .isInstanceOf(DatabaseUnreachableException.class)
                    .hasMessageContaining("no connection was free in time")
                    .hasMessageContaining("close units of work sooner, or let the pool have more connections");
            Fleet.tell(POSTGRES, "kill", "1");
            assertThatThrownBy(() -> holder.from(Berth.class).list())
                    .as("on the connection that the unit has")
                    .isInstanceOf(ConnectionLostException.class)
                    .hasMessageContaining("the connection to PostgreSQL was lost");
        }
        assertThatThrownBy(() -> store.run(work -> work.require(Berth.class, 1)))
                .isInstanceOf(DatabaseUnreachableException.class)
                .hasMessageContaining("no connection to the database")
                .hasMessageContaining("check that it runs");
    }
}
