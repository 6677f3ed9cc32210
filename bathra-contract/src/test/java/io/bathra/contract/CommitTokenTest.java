package io.bathra.contract;

import static io.bathra.Terms.retrying;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.CommitUnknownException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.schema.Schema;
import io.bathra.testing.CuttingProxy;
import io.bathra.testing.CuttingProxy.Cut;
import io.bathra.testing.FaultySource;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;

/** A connection that is lost exactly at COMMIT: with commit tokens, work is done once. */
@OnEachDatabase
class CommitTokenTest {
    static final class Delivery {
        Long id;
        int number;

        Delivery() {}

        Delivery(int number) {
            this.number = number;
        }
    }

    private static final Model MODEL = Model.of("deliveries", Entity.of(Delivery.class, Delivery::new));

    private final TestDatabase database;

    /** Where the loss is made up, a few of them tell as much. */
    private final int times;

    CommitTokenTest(TestDatabase database) {
        this.database = database;
        boolean made = database == TestDatabase.H2 || database == TestDatabase.SQLITE;
        times = made ? 100 : Boolean.getBoolean("bathra.long") ? 1_000 : 80;
    }

    private long count(Store store, String from) {
        return store.sql("select count(*) from " + from).as(Long.class).one();
    }

    /** Each unit adds a row; half of the commits are cut off before the server has them, half of them afterwards. */
    private void eachIsDoneOnce(Store store, Consumer<Cut> cutNext) {
        store.schema().createMissing();
        Random random = new Random(7);
        AtomicInteger attempts = new AtomicInteger();
        for (int i = 0; i < times; i++) {
            int number = i;
            cutNext.accept(random.nextBoolean() ? Cut.BEFORE : Cut.AFTER);
            int answer = store.call(retrying(3), work -> {
                attempts.incrementAndGet();
                work.add(new Delivery(number));
                return number;
            });
            assertThat(answer).isEqualTo(number);
        }
        assertThat(count(store, "delivery")).isEqualTo(times);
        assertThat(store.sql("select count(distinct number) from delivery")
                        .as(Integer.class)
                        .one())
                .isEqualTo(times);
        assertThat(attempts.get())
                .as("those that were cut off before were done again")
                .isBetween(times * 14 / 10, times * 16 / 10);
        assertThat(count(store, "commit_token"))
                .as("tokens that have served are deleted")
                .isLessThanOrEqualTo(101);
    }

    @Test
    void aThousandLostRepliesInARow() throws IOException {
        Model model = MODEL.commitTokens("commit_token");
        if (database == TestDatabase.H2 || database == TestDatabase.SQLITE) { // no server to stand in front of
            FaultySource source = new FaultySource(database.empty());
            eachIsDoneOnce(Store.open(model, source.wrapped()), cut -> source.inject(loseReply(source, cut)));
            assertThat(source.open()).isZero();
            return;
        }
        try (CuttingProxy proxy = new CuttingProxy(database);
                Store store = Store.open(model, proxy.url())) {
            eachIsDoneOnce(store, proxy::cutNext);
            assertThat(proxy.isArmed()).isFalse();
        }
    }

    private FaultySource.Fault loseReply(FaultySource source, Cut cut) {
        return (connection, method, argument) -> {
            boolean commit = database == TestDatabase.SQLITE
                    ? method.equals("createStatement") && isCommitting()
                    : method.equals("commit");
            if (commit) {
                source.mend();
                if (cut == Cut.AFTER) {
                    commit(connection);
                }
                connection.close();
                throw new SQLException("the line is dead", "08006");
            }
        };
    }

    /** SQLite's commit is a statement like any other, so the caller has to be looked at. */
    private static boolean isCommitting() {
        return StackWalker.getInstance()
                .walk(frames -> frames.anyMatch(frame -> frame.getClassName().endsWith("SqliteDatabase")
                        && frame.getMethodName().equals("commit")));
    }

    private void commit(Connection connection) throws SQLException {
        if (database == TestDatabase.SQLITE) {
            try (var statement = connection.createStatement()) {
                statement.execute("commit");
            }
        } else {
            connection.commit();
        }
    }

    @Test
    void withoutTokensNobodyKnows() {
        FaultySource source = new FaultySource(database.empty());
        Store store = Store.open(MODEL, source.wrapped());
        store.schema().createMissing();
        source.inject(loseReply(source, Cut.AFTER));
        assertThatThrownBy(() -> store.run(retrying(3), work -> work.add(new Delivery(1))))
                .isInstanceOf(CommitUnknownException.class)
                .hasMessageContaining("look in the database");
        assertThat(count(store, "delivery")).isEqualTo(1);
        assertThat(source.open()).isZero();
    }

    @Test
    void whenTheDatabaseStaysAwayNobodyKnowsEither() {
        FaultySource source = new FaultySource(database.empty());
        Store store = Store.open(MODEL.commitTokens("commit_token"), source.wrapped());
        store.schema().createMissing();
        source.inject((connection, method, argument) -> {
            try {
                loseReply(source, Cut.AFTER).before(connection, method, argument);
            } catch (SQLException e) {
                source.inject((other, any, thing) -> {
                    throw new SQLException("still dead", "08006");
                });
                throw e;
            }
        });
        assertThatThrownBy(() -> store.run(retrying(2), work -> work.add(new Delivery(1))))
                .isInstanceOf(CommitUnknownException.class)
                .satisfies(unknown -> assertThat(unknown.getSuppressed()).hasSize(1));
        source.mend();
        assertThat(count(store, "delivery")).isEqualTo(1);
        assertThat(source.open()).isZero();
    }

    @Test
    void workInPlainSqlIsDoneOnceToo() {
        FaultySource source = new FaultySource(database.empty());
        Store store = Store.open(MODEL.commitTokens("commit_token"), source.wrapped());
        store.schema().createMissing();
        for (Cut cut : Cut.values()) {
            source.inject(loseReply(source, cut));
            store.transaction(
                    retrying(2),
                    tx -> tx.sql("insert into delivery (number) values (:number)")
                            .with("number", cut.ordinal())
                            .execute());
        }
        assertThat(count(store, "delivery")).isEqualTo(2);
        try (UnitOfWork work = store.begin()) {
            work.add(new Delivery(3));
            work.commit();
        }
        assertThat(count(store, "commit_token"))
                .as("only work that may be done again has one")
                .isEqualTo(2);
    }

    @Test
    void tokensHaveTheTimeOfTheStoresClock() {
        Instant time = Instant.parse("2026-04-01T06:30:00Z");
        Store store = Store.open(MODEL.commitTokens("commit_token"), database.empty())
                .withClock(Clock.fixed(time, ZoneOffset.UTC));
        store.schema().createMissing();
        store.run(retrying(2), work -> work.add(new Delivery(1)));
        assertThat(store.sql("select " + Schema.TOKEN_TIME + " from commit_token")
                        .as(Instant.class)
                        .one())
                .isEqualTo(time);
    }
}
