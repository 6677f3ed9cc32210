package io.bathra.spring;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import com.zaxxer.hikari.HikariDataSource;
import io.bathra.FlushReport;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitListener;
import io.bathra.UnitOfWork;
import io.bathra.spring.Boats.Boat;
import io.bathra.spring.Boats.Visit;
import io.bathra.spring.Office.Desk;
import io.bathra.spring.Office.Ears;
import io.bathra.spring.Office.Inner;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.dao.OptimisticLockingFailureException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.support.JdbcTransactionManager;
import org.springframework.transaction.IllegalTransactionStateException;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionTimedOutException;
import org.springframework.transaction.UnexpectedRollbackException;
import org.springframework.transaction.support.TransactionTemplate;

/** Units in transactions of every kind. */
@OnEachDatabase
class TransactionsTest {
    private static final Map<TestDatabase, ConfigurableApplicationContext> OFFICES = new EnumMap<>(TestDatabase.class);

    private final TestDatabase database;
    private final ConfigurableApplicationContext office;
    private final Units units;
    private final Desk desk;
    private final Inner inner;
    private final Store store;
    private final JdbcTemplate jdbc;

    TransactionsTest(TestDatabase database) {
        this.database = database;
        office = OFFICES.computeIfAbsent(database, one -> Office.open(url(one)));
        units = office.getBean(Units.class);
        desk = office.getBean(Desk.class);
        inner = office.getBean(Inner.class);
        store = office.getBean(Store.class);
        jdbc = office.getBean(JdbcTemplate.class);
    }

    private static String url(TestDatabase database) {
        return switch (database) {
            case H2 -> "jdbc:h2:mem:office";
            case SQLITE -> database.sharedUrl() + "&foreign_keys=on&transaction_mode=IMMEDIATE&busy_timeout=30000";
            default -> database.sharedUrl();
        };
    }

    @BeforeEach
    void nobodyIsThere() {
        store.schema().empty("boats");
        office.getBean(Ears.class).beforeCommit = work -> {};
        office.getBean(Ears.class).afterCommit = boat -> {};
    }

    @AfterEach
    void noConnectionIsOutAndNoUnitOpen() {
        HikariDataSource pool = (HikariDataSource) office.getBean(DataSource.class);
        assertThat(pool.getHikariPoolMXBean().getActiveConnections()).isZero();
        assertThat(office.getBean(OpenUnits.class).list()).isEmpty();
    }

    @AfterAll
    static void close() {
        OFFICES.values().forEach(ConfigurableApplicationContext::close);
        OFFICES.clear();
    }

    private List<String> names() {
        return jdbc.queryForList("select name from boat order by id", String.class);
    }

    @Test
    void aTransactionHasOneUnitWhichIsFlushedBeforeTheCommit() {
        List<UnitOfWork> seen = new ArrayList<>();
        desk.work(work -> {
            seen.add(work);
            seen.add(units.here());
            work.add(new Boat("Skua"));
        });
        desk.work(work -> {
            seen.add(work);
            work.from(Boat.class).one().rename("Great Skua");
        });
        assertThat(seen.get(0)).isSameAs(seen.get(1)).isNotSameAs(seen.get(2));
        assertThat(names()).containsExactly("Great Skua");
        assertThatThrownBy(() -> seen.get(0).add(new Boat("late"))).hasMessageContaining("closed");
    }

    @Test
    void whatAListenerChangesRightBeforeTheCommitIsStored() {
        Ears ears = office.getBean(Ears.class);
        ears.beforeCommit = work -> work.add(new Boat("by a listener"));
        desk.land("Skua");
        assertThat(names()).containsExactlyInAnyOrder("Skua", "by a listener");
        nobodyIsThere();
        ears.beforeCommit = work -> work.add(new Boat("by the first"));
        desk.announce("Skua");
        assertThat(names()).containsExactly("by the first");
    }

    @Test
    void whatIsDoneAfterTheCommitMeetsSettledObjectsAndNoUnit() {
        List<String> heard = new ArrayList<>();
        office.getBean(Ears.class).beforeCommit = work -> {
            Boat boat = work.from(Boat.class).one();
            work.listen(new UnitListener() {
                @Override
                public void committed(UnitOfWork unit, FlushReport report) {
                    heard.add("ours: " + unit.standing(boat));
                }
            });
        };
        office.getBean(Ears.class).afterCommit = boat -> {
            heard.add("spring's: " + boat.id());
            assertThatThrownBy(units::here)
                    .isInstanceOf(IllegalTransactionStateException.class)
                    .hasMessageContaining("has ended")
                    .hasMessageContaining("REQUIRES_NEW");
            if (database != TestDatabase.SQLITE) { // whose driver has begun the next transaction already
                inner.apart(work -> work.require(Boat.class, boat.id()).rename("renamed"));
            }
        };
        desk.land("Skua");
        assertThat(heard).containsExactly("ours: " + Standing.CLEAN, "spring's: 1");
        assertThat(names()).containsExactly(database == TestDatabase.SQLITE ? "Skua" : "renamed");
    }

    @Test
    void aRollbackGoesBackInMemoryToo() {
        desk.work(work -> work.add(new Boat("Skua")));
        Boat[] known = new Boat[1];
        assertThatThrownBy(() -> desk.work(work -> {
                    known[0] = work.from(Boat.class).one();
                    known[0].rename("Gull");
                    work.add(new Boat("Tern"));
                    work.flush();
                    throw new IllegalArgumentException("no");
                }))
                .hasMessage("no");
        assertThat(names()).containsExactly("Skua");
        assertThat(known[0].name()).isEqualTo("Skua");
        assertThat(known[0].revision()).isZero();
    }

    @Test
    void rollbackRulesAreSprings() {
        assertThatThrownBy(() -> desk.whatever(work -> {
                    work.add(new Boat("Skua"));
                    throw new IllegalStateException("never mind");
                }))
                .hasMessage("never mind");
        assertThat(names()).containsExactly("Skua");
    }

    @Test
    void whatTheDatabaseRefusesAtTheCommitIsSpringsErrorAndLeavesNothing() {
        desk.work(work -> work.add(new Boat("Skua")));
        assertThatThrownBy(() -> desk.work(work -> {
                    work.add(new Boat("Tern"));
                    work.add(new Boat("Skua"));
                }))
                .isInstanceOf(DuplicateKeyException.class)
                .hasMessageContaining("Boat.name = Skua");
        assertThat(names()).containsExactly("Skua");
    }

    @Test
    void somebodyElsesChangeIsAnOptimisticFailure() {
        assumeThat(database).as("which has one writer").isNotEqualTo(TestDatabase.SQLITE);
        desk.work(work -> work.add(new Boat("Skua")));
        assertThatThrownBy(() -> desk.work(work -> {
                    work.from(Boat.class).one().rename("Gull");
                    inner.apart(other -> other.from(Boat.class).one().rename("Tern"));
                }))
                .isInstanceOf(OptimisticLockingFailureException.class);
        assertThat(names()).containsExactly("Tern");
    }

    @Test
    void outsideOfATransactionThereIsNoUnitButWorkCanBeDone() {
        assertThatThrownBy(units::here)
                .isInstanceOf(IllegalTransactionStateException.class)
                .hasMessageContaining("@Transactional")
                .hasMessageContaining("units.call(...)");
        units.run(work -> work.add(new Boat("Skua")));
        desk.plain(() -> units.run(work -> work.from(Boat.class).one().rename("Gull")));
        assertThat(names()).containsExactly("Gull");
        desk.work(work -> inner.without(() -> assertThatThrownBy(units::here).hasMessageContaining("no transaction")));
        units.flush(); // where there is no unit, nothing is done
    }

    @Test
    void aTransactionOfAnotherDataSourceHasNoUnit() {
        DataSource other = new org.springframework.jdbc.datasource.DriverManagerDataSource("jdbc:h2:mem:other");
        TransactionTemplate elsewhere = new TransactionTemplate(new JdbcTransactionManager(other));
        elsewhere.executeWithoutResult(status -> {
            assertThatThrownBy(units::here)
                    .isInstanceOf(IllegalTransactionStateException.class)
                    .hasMessageContaining("not one of this store's data source");
            desk.work(work -> work.add(new Boat("Skua"))); // whose synchronizations are those of the other one
            assertThat(names()).containsExactly("Skua");
            assertThatThrownBy(() -> desk.work(work -> {
                        work.add(new Boat("Tern"));
                        throw new IllegalArgumentException("no");
                    }))
                    .hasMessage("no");
            assertThatThrownBy(units::here).hasMessageContaining("not one of this store's data source");
        });
        assertThat(names()).containsExactly("Skua");
    }

    @Test
    void aReadOnlyTransactionHasAUnitThatReads() {
        desk.work(work -> work.add(new Boat("Skua")));
        desk.reading(work -> assertThat(work.from(Boat.class).count()).isEqualTo(1));
        assertThatThrownBy(() -> desk.reading(work -> work.add(new Boat("Tern"))))
                .hasMessageContaining("read-only");
        desk.reading(work -> work.from(Boat.class).one().rename("nobody stores that"));
        assertThat(names()).containsExactly("Skua");
    }

    @Test
    void theIsolationLevelIsSprings() {
        desk.serializable(work -> {
            work.add(new Boat("Skua"));
            int level = jdbc.execute((java.sql.Connection connection) -> connection.getTransactionIsolation());
            assertThat(level).isEqualTo(java.sql.Connection.TRANSACTION_SERIALIZABLE);
        });
        assertThat(names()).containsExactly("Skua");
    }

    @Test
    void aTimeoutIsObeyed() {
        assertThatThrownBy(() -> desk.inASecond(work -> {
                    work.add(new Boat("Skua"));
                    sleep(1_100);
                }))
                .as("at the flush")
                .isInstanceOf(TransactionTimedOutException.class);
        assertThatThrownBy(() -> desk.inASecond(work -> {
                    sleep(1_100);
                    units.here();
                }))
                .as("when the unit is asked for")
                .isInstanceOf(TransactionTimedOutException.class);
        if (database == TestDatabase.POSTGRESQL) {
            assertThatThrownBy(() -> desk.inASecond(work -> work.sql("select cast(pg_sleep(10) as text)")
                            .as(String.class)
                            .one()))
                    .as("by a statement")
                    .hasMessageContaining("took longer than it may");
        }
        assertThat(names()).isEmpty();
    }

    private static void sleep(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Test
    void aTransactionApartHasAUnitOfItsOwn() {
        assumeThat(database).as("which has one writer").isNotEqualTo(TestDatabase.SQLITE);
        assertThatThrownBy(() -> desk.work(outer -> {
                    outer.add(new Boat("outer"));
                    inner.apart(apart -> {
                        assertThat(apart).isNotSameAs(outer);
                        apart.add(new Boat("apart"));
                    });
                    assertThat(units.here()).isSameAs(outer);
                    throw new IllegalArgumentException("no");
                }))
                .hasMessage("no");
        assertThat(names()).containsExactly("apart");
    }

    @Test
    void aNestedTransactionGoesBackWithItsObjects() {
        desk.work(work -> {
            Boat boat = new Boat("Skua");
            work.add(boat);
            assertThatThrownBy(() -> inner.nested(nested -> {
                        assertThat(nested).isSameAs(work);
                        boat.rename("Gull");
                        nested.add(new Visit(boat, "nested"));
                        nested.flush();
                        assertThat(jdbc.queryForObject("select name from boat", String.class))
                                .isEqualTo("Gull");
                        throw new IllegalArgumentException("no");
                    }))
                    .hasMessage("no");
            assertThat(boat.name()).isEqualTo("Skua");
            assertThat(work.standing(boat)).isEqualTo(Standing.CLEAN);
            inner.nested(nested -> nested.add(new Visit(boat, "kept")));
            boat.count();
        });
        assertThat(jdbc.queryForList("select name, calls, revision from boat"))
                .singleElement()
                .satisfies(row -> assertThat(row.get("name")).isEqualTo("Skua"))
                .satisfies(row ->
                        assertThat(((Number) row.get("calls")).intValue()).isEqualTo(1));
        assertThat(jdbc.queryForList("select remark from visit", String.class)).containsExactly("kept");
    }

    @Test
    void aUnitThatBeganInANestedTransactionGoesWithIt() {
        desk.plain(() -> {
            assertThatThrownBy(() -> inner.nested(nested -> {
                        nested.add(new Boat("nested"));
                        nested.flush();
                        throw new IllegalArgumentException("no");
                    }))
                    .hasMessage("no");
            units.here().add(new Boat("outer"));
        });
        assertThat(names()).containsExactly("outer");
    }

    @Test
    void whatIsRefusedInANestedTransactionByAFlushCanBeGotOver() {
        desk.work(work -> work.add(new Boat("Skua")));
        desk.work(work -> {
            work.add(new Boat("Tern"));
            assertThatThrownBy(() -> inner.nested(nested -> {
                        nested.add(new Boat("Skua"));
                        nested.flush();
                    }))
                    .hasMessageContaining("Boat.name = Skua");
            work.add(new Boat("Gull"));
        });
        assertThat(names()).containsExactly("Skua", "Tern", "Gull");
    }

    @Test
    void templatesAndRollbackOnly() {
        TransactionTemplate template = new TransactionTemplate(office.getBean(PlatformTransactionManager.class));
        template.executeWithoutResult(status -> units.here().add(new Boat("Skua")));
        template.executeWithoutResult(status -> {
            units.here().add(new Boat("Tern"));
            status.setRollbackOnly();
        });
        assertThatThrownBy(() -> template.executeWithoutResult(status -> {
                    units.here().add(new Boat("Gull"));
                    try {
                        desk.work(work -> {
                            throw new IllegalArgumentException("no");
                        });
                    } catch (IllegalArgumentException e) {
                        assertThat(e).hasMessage("no");
                    }
                }))
                .isInstanceOf(UnexpectedRollbackException.class);
        assertThat(names()).containsExactly("Skua");
    }

    @Test
    void jdbcSeesWhatIsPendingWhenSomebodyAsksForIt() {
        TransactionTemplate template = new TransactionTemplate(office.getBean(PlatformTransactionManager.class));
        template.executeWithoutResult(status -> {
            units.here().add(new Boat("Skua"));
            assertThat(names()).isEmpty();
            units.flush();
            assertThat(names()).containsExactly("Skua");
            units.here().add(new Boat("Tern"));
            status.flush();
            assertThat(names()).containsExactly("Skua", "Tern");
        });
    }

    @Test
    void manyAtOnceKeepTheirCountsAndLeaveNothingBehind() throws Exception {
        desk.work(work -> work.add(new Boat("Skua")));
        ExecutorService threads = threads();
        int requests = 200;
        CountDownLatch go = new CountDownLatch(1);
        List<Future<?>> all = new ArrayList<>();
        for (int i = 0; i < requests; i++) {
            String remark = "call " + i;
            all.add(threads.submit(() -> {
                go.await();
                desk.work(work -> {
                    Boat boat = work.from(Boat.class)
                            .where(the(Boat::name).is("Skua"))
                            .forUpdate()
                            .one();
                    boat.count();
                    work.add(new Visit(boat, remark));
                });
                return null;
            }));
        }
        go.countDown();
        for (Future<?> one : all) {
            one.get();
        }
        threads.shutdown();
        assertThat(jdbc.queryForObject("select calls from boat", Integer.class)).isEqualTo(requests);
        assertThat(jdbc.queryForObject("select count(*) from visit", Integer.class))
                .isEqualTo(requests);
    }

    /** Virtual ones, where the virtual machine has them. */
    private static ExecutorService threads() throws Exception {
        return Runtime.version().feature() >= 21
                ? (ExecutorService) Executors.class
                        .getMethod("newVirtualThreadPerTaskExecutor")
                        .invoke(null)
                : Executors.newFixedThreadPool(20);
    }
}
