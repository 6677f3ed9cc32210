package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.withSettings;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import io.bathra.Isolation;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.changes.SchemaChanges;
import io.bathra.error.BathraException;
import io.bathra.evolve.ApplyTerms;
import io.bathra.harbour.Harbour;
import io.bathra.harbour.Operator;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.lang.reflect.InvocationTargetException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.jdbc.datasource.DelegatingDataSource;
import org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy;

/** Connections of data sources: with whose transactions they come, and how they go back. */
@OnEachDatabase
class LoanTest {
    private static final Terms ALL_TERMS = Terms.reading()
            .isolation(Isolation.SERIALIZABLE)
            .lockTimeout(Duration.ofSeconds(7))
            .statementTimeout(Duration.ofSeconds(9));

    private final TestDatabase database;
    private final DataSource source;
    private Connection only;
    private Store store;

    LoanTest(TestDatabase database) {
        this.database = database;
        this.source = database.empty();
    }

    /** All work is done on one connection, which nobody closes. */
    @BeforeEach
    void open() throws SQLException {
        only = source.getConnection();
        Connection shared = mock(Connection.class, withSettings().stubOnly().defaultAnswer(call -> {
            try {
                boolean closes = call.getMethod().getName().equals("close");
                return closes ? null : call.getMethod().invoke(only, call.getRawArguments());
            } catch (InvocationTargetException e) {
                throw e.getCause();
            }
        }));
        store = Trips.open(
                Harbour.MODEL, mock(DataSource.class, withSettings().stubOnly().defaultAnswer(call -> shared)));
        store.schema().createMissing();
    }

    @AfterEach
    void close() throws SQLException {
        only.close();
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = only.createStatement()) {
            statement.execute(sql);
        }
    }

    private String single(String sql) throws SQLException {
        try (Statement statement = only.createStatement();
                ResultSet result = statement.executeQuery(sql)) {
            return result.next() ? result.getString(1) : "none";
        }
    }

    private static void add(Store store, String code) {
        store.run(work -> work.add(new Operator(code)));
    }

    private static final String INSERT = "insert into operator (id, name) values (99, 'Work of the host')";
    private static final String COUNT = "select count(*) from operator";

    private void isRefused() {
        assertThatThrownBy(() -> add(store, "NEW"))
                .isExactlyInstanceOf(BathraException.class)
                .hasMessageContaining("somebody's transaction is under way")
                .hasMessageContaining("store.join(connection)");
    }

    @Test
    void workOfSomebodyElseIsNeitherCommittedNorLost() throws SQLException {
        only.setAutoCommit(false);
        execute(INSERT);
        isRefused();
        assertThat(only.getAutoCommit()).isFalse();
        assertThat(single(COUNT)).isEqualTo("1");
        try (UnitOfWork guest = store.join(only)) {
            guest.add(new Operator("GST"));
            guest.commit();
        }
        only.rollback();
        assertThat(single(COUNT)).isEqualTo("0");
        only.rollback();
        add(store, "NEW");
        assertThat(single(COUNT)).isEqualTo("1");
    }

    @Test
    void aTransactionThatWasBegunInSqlIsSeenToo() throws SQLException {
        execute(database == TestDatabase.H2 ? "set autocommit false" : "begin");
        execute(INSERT);
        isRefused();
        execute("rollback");
        assertThat(single(COUNT)).isEqualTo("0");
    }

    @Test
    void withoutAutoCommitAndWithNothingBegunItIsTaken() throws SQLException {
        only.setAutoCommit(false);
        assertThat(only.isValid(1)).isTrue();
        add(store, "ONE");
        assertThat(only.getAutoCommit()).isFalse();
        only.rollback();
        long counted =
                store.call(Terms.reading(), work -> work.from(Operator.class).count());
        assertThat(counted).isEqualTo(1);
        assertThatThrownBy(() -> store.run(work -> work.sql("drop nothing").execute()))
                .isInstanceOf(BathraException.class);
        add(store, "TWO");
        only.rollback();
        assertThat(single(COUNT)).isEqualTo("2");
        only.rollback();
    }

    @Test
    void aPoolMaySwitchAutoCommitOff() throws Exception {
        HikariConfig config = new HikariConfig();
        config.setDataSource(database.empty());
        config.setAutoCommit(false);
        config.setMaximumPoolSize(1);
        try (HikariDataSource pool = new HikariDataSource(config);
                Store pooled = Trips.open(Harbour.MODEL, pool)) {
            pooled.schema().createMissing();
            add(pooled, "ONE");
            Thread.sleep(600); // after half a second, the pool looks whether the connection is alive
            add(pooled, "TWO");
            try (Connection connection = pool.getConnection()) {
                assertThat(connection.getAutoCommit()).isFalse();
            }
            assertThat(pooled.sql(COUNT).as(Integer.class).one()).isEqualTo(2);
        }
    }

    /** What a session remembers beyond a transaction. */
    private List<String> settings() {
        return switch (database) {
            case H2 ->
                List.of(
                        "select isolation_level from information_schema.sessions where session_id = session_id()",
                        "call lock_timeout()",
                        "select setting_value from information_schema.settings where setting_name = 'QUERY_TIMEOUT'");
            case SQLITE -> List.of("pragma foreign_keys", "pragma query_only", "pragma busy_timeout");
            case POSTGRESQL ->
                List.of(
                        "show default_transaction_isolation",
                        "show lock_timeout",
                        "show statement_timeout",
                        "show default_transaction_read_only");
            case MARIADB ->
                List.of(
                        "select @@tx_isolation",
                        "select @@tx_read_only",
                        "select @@innodb_lock_wait_timeout",
                        "select @@lock_wait_timeout",
                        "select @@sql_mode",
                        "select @@max_statement_time");
        };
    }

    private List<String> setByHand() {
        return switch (database) {
            case H2 -> List.of("set lock_timeout 4321", "set query_timeout 87654");
            case SQLITE -> List.of("pragma foreign_keys = off", "pragma busy_timeout = 4321");
            case POSTGRESQL -> List.of("set lock_timeout = 4321", "set statement_timeout = 87654");
            case MARIADB ->
                List.of(
                        "set innodb_lock_wait_timeout = 43",
                        "set lock_wait_timeout = 44",
                        "set sql_mode = 'NO_ENGINE_SUBSTITUTION'",
                        "set max_statement_time = 87");
        };
    }

    private String all() throws SQLException {
        StringBuilder all = new StringBuilder();
        for (String query : settings()) {
            all.append(query).append(" -> ").append(single(query)).append('\n');
        }
        return all.append(only.getAutoCommit())
                .append(only.isReadOnly())
                .append(only.getTransactionIsolation())
                .toString();
    }

    @Test
    void everySettingGoesBackAsItCame() throws SQLException {
        assumeThat(database.isPooled())
                .as("a session behind a pooler is nobody's own")
                .isFalse();
        for (String statement : setByHand()) {
            execute(statement);
        }
        String before = all();
        store.run(ALL_TERMS, work -> work.from(Operator.class).count());
        assertThat(all()).isEqualTo(before);
        assertThatThrownBy(() -> store.run(ALL_TERMS, work -> {
                    work.from(Operator.class).count();
                    throw new IllegalStateException("given up");
                }))
                .hasMessage("given up");
        assertThat(all()).isEqualTo(before);
        add(store, "ONE");
        assertThat(all()).isEqualTo(before);
    }

    @Test
    void changesOfTheSchemaLeaveTheSessionAsItCameToo(@TempDir Path folder) throws Exception {
        assumeThat(database.isPooled())
                .as("a session behind a pooler is nobody's own")
                .isFalse();
        for (String statement : setByHand()) {
            execute(statement);
        }
        String before = all();
        Files.writeString(folder.resolve("2026-11-20-first.yaml"), """
                bathra: 1
                steps:
                  - create entity: Seal
                    key: [number]
                    attributes:
                      number: integer
                      place: text 12
                """);
        Files.writeString(folder.resolve("2026-12-03-second.yaml"), """
                bathra: 1
                after: 2026-11-20-first
                steps:
                  - change attribute: Seal.place
                    required: { from: false, to: true }
                  - add unique: Seal.place
                """);
        SchemaChanges changes = SchemaChanges.of(store, folder);
        changes.evolution().apply(ApplyTerms.ALL.until("2026-11-20-first"));
        assertThat(all()).isEqualTo(before);
        execute("insert into seal (number) values (1)");
        assertThatThrownBy(changes::apply).hasMessageContaining("rows with nothing in place");
        assertThat(all()).isEqualTo(before);
        execute("delete from seal");
        changes.apply();
        assertThat(all()).isEqualTo(before);
    }

    /** Behind a pooler, a session serves other clients between two transactions, and would take a level along. */
    @Test
    void theLevelIsThatOfTheTransactionAlone() throws Exception {
        List<String> inside = switch (database) {
            case H2 -> List.of(settings().get(0));
            case SQLITE -> List.of("select 'SERIALIZABLE'");
            case POSTGRESQL -> List.of("show transaction_isolation", "show default_transaction_isolation");
            case MARIADB ->
                List.of(
                        "select trx_isolation_level from information_schema.innodb_trx"
                                + " where trx_mysql_thread_id = connection_id()",
                        "select @@tx_isolation");
        };
        Terms terms = Terms.retrying(1).isolation(Isolation.SERIALIZABLE);
        List<String> levels = store.call(terms, work -> {
            work.add(new Operator("ONE"));
            work.flush();
            return inside.stream()
                    .map(query -> work.sql(query).as(String.class).one())
                    .toList();
        });
        assertThat(levels.get(0)).isEqualToIgnoringCase("serializable");
        if (levels.size() > 1) {
            assertThat(levels.get(1)).as("the session's").isNotEqualToIgnoringCase("serializable");
        }
        store.run(terms, work -> work.sql("select 1").as(Integer.class).one());
        Thread.sleep(200); // MariaDB's list of transactions is that of a tenth of a second ago
        String next = store.call(work -> {
            work.add(new Operator("TWO"));
            work.flush();
            return work.sql(inside.get(0)).as(String.class).one();
        });
        assertThat(next.equalsIgnoreCase("serializable")).isEqualTo(database == TestDatabase.SQLITE);
    }

    /** Behind a pooler, a session does not know what the driver has prepared in another, or knows something else by its name. */
    @Test
    void aSessionThatDoesNotKnowWhatTheDriverHasPreparedEndsAllWork() throws SQLException {
        assumeThat(database.isPooled())
                .as("behind a pooler the driver prepares nothing")
                .isFalse();
        assumeThat(database).isEqualTo(TestDatabase.POSTGRESQL);
        Runnable work = () -> store.transaction(tx -> assertThat(
                        tx.sql("select count(*) from vessel").as(Long.class).one())
                .isZero());
        for (int i = 0; i < 10; i++) {
            work.run();
        }
        execute("do $$ declare one record; begin for one in select name from pg_prepared_statements loop"
                + " execute format('deallocate %I', one.name); end loop; end $$");
        assertThatThrownBy(work::run)
                .hasMessageContaining("a pooler has given the transaction to another session")
                .hasMessageContaining("store.throughPooler()");
        assertThatThrownBy(() -> store.sql("select 1").as(Integer.class).one())
                .hasMessageContaining("this store does no more work");
    }

    @Test
    void aSourceOfOthersTransactionsIsRefusedWhenTheStoreIsOpened() {
        DataSource hosting = new TransactionAwareDataSourceProxy(source);
        assertThatThrownBy(() -> Trips.open(Harbour.MODEL, hosting))
                .isExactlyInstanceOf(BathraException.class)
                .hasMessageContaining("TransactionAwareDataSourceProxy")
                .hasMessageContaining("getTargetDataSource()");
        Trips.open(Harbour.MODEL, new DelegatingDataSource(source)).close();
    }
}
