package io.bathra.contract;

import static io.bathra.Terms.retrying;
import static io.bathra.model.Declare.databaseDefault;
import static io.bathra.model.Declare.length;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.error.CommitUnknownException;
import io.bathra.junit.Faults;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.schema.Schema;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

/** A connection that is lost exactly at COMMIT: with commit tokens, work is done once. */
@OnEachDatabase
class CommitTokenTest {
    static final class Delivery {
        Long id;
        int number;
        String remark;

        Delivery() {}

        Delivery(int number) {
            this.number = number;
        }

        String remark() {
            return remark;
        }
    }

    private static final Model MODEL = Model.of("deliveries", Entity.of(Delivery.class, Delivery::new));

    private final Faults faults;

    /** Where no server is behind it, a few of them tell as much. */
    private final int times;

    CommitTokenTest(TestDatabase database) {
        faults = Faults.in(database.empty());
        boolean made = database == TestDatabase.H2 || database == TestDatabase.SQLITE;
        times = made ? 100 : Boolean.getBoolean("bathra.long") ? 1_000 : 80;
    }

    private long count(Store store, String from) {
        return store.sql("select count(*) from " + from).as(Long.class).one();
    }

    /** Each unit adds a row; half of the commits are cut off before the server has them, half of them afterwards. */
    private void eachIsDoneOnce(Store store) {
        store.schema().createMissing();
        Random random = new Random(7);
        AtomicInteger attempts = new AtomicInteger();
        for (int i = 0; i < times; i++) {
            int number = i;
            if (random.nextBoolean()) {
                faults.onCommit().connectionLost();
            } else {
                faults.onCommit().replyIsLost();
            }
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
                .isBetween(times * 13 / 10, times * 17 / 10);
        assertThat(count(store, "commit_token"))
                .as(
                        "tokens that have served are deleted; those of who has asked about what was not done stay for an hour")
                .isLessThanOrEqualTo(101 + attempts.get() - times);
    }

    @Test
    void aThousandLostRepliesInARow() {
        eachIsDoneOnce(Trips.open(MODEL.commitTokens("commit_token"), faults.source()));
        assertThat(faults.waiting()).isEmpty();
        assertThat(faults.open()).isZero();
    }

    /** The unit is not committed; the token of who asks is, which he does not hear. */
    @Test
    void whoAsksMayLoseAReplyHimself() {
        Store store = Trips.open(MODEL.commitTokens("commit_token"), faults.source());
        store.schema().createMissing();
        AtomicInteger attempts = new AtomicInteger();
        AtomicInteger lost = new AtomicInteger();
        Store heard = store.heardBy(statement -> {
            if (statement.purpose().equals("commit token") && lost.getAndIncrement() == 1) {
                faults.onCommit().replyIsLost(); // that of the inquiry
            }
            return null;
        });
        faults.onCommit().connectionLost();
        heard.run(retrying(5), work -> {
            attempts.incrementAndGet();
            work.add(new Delivery(1));
        });
        assertThat(attempts.get()).isEqualTo(2);
        assertThat(count(store, "delivery")).isEqualTo(1);
        assertThat(faults.waiting()).isEmpty();
    }

    /** A server may come to the work long after somebody has asked about it. */
    @Test
    void theTokenOfWhoHasAskedStaysForAnHour() {
        Instant[] now = {Instant.parse("2026-04-01T06:30:00Z")};
        Store store = Trips.open(MODEL.commitTokens("commit_token"), faults.source())
                .withClock(new Clock() {
                    @Override
                    public ZoneOffset getZone() {
                        return ZoneOffset.UTC;
                    }

                    @Override
                    public Clock withZone(ZoneId zone) {
                        return this;
                    }

                    @Override
                    public Instant instant() {
                        return now[0];
                    }
                });
        store.schema().createMissing();
        faults.onCommit().connectionLost();
        store.run(retrying(2), work -> work.add(new Delivery(0)));
        String token = store.sql("select min(token) from commit_token")
                .as(String.class)
                .one();
        for (int i = 1; i <= 220; i++) {
            int number = i;
            store.run(retrying(2), work -> work.add(new Delivery(number)));
        }
        String count = "commit_token where token = '" + token + "'";
        assertThat(count(store, count)).isEqualTo(1);
        now[0] = now[0].plus(Duration.ofMinutes(61));
        for (int i = 221; i <= 330; i++) {
            int number = i;
            store.run(retrying(2), work -> work.add(new Delivery(number)));
        }
        assertThat(count(store, count)).isZero();
    }

    /** What the database has made is read back before the commit, which then needs a trip of its own. */
    @Test
    void tokensAreDeletedWhereverTheirCommitGoes() {
        Model model = Model.of(
                "deliveries",
                Entity.of(Delivery.class, Delivery::new)
                        .column(Delivery::remark, length(20), databaseDefault("'none'")));
        Store store = Trips.open(model.commitTokens("commit_token"), faults.source());
        store.schema().createMissing();
        for (int i = 0; i < 250; i++) {
            int number = i;
            store.run(retrying(2), work -> work.add(new Delivery(number)));
        }
        assertThat(count(store, "commit_token")).isLessThanOrEqualTo(101);
    }

    @Test
    void withoutTokensNobodyKnows() {
        Store store = Trips.openAsDeclared(MODEL, faults.source());
        store.schema().createMissing();
        faults.onCommit().replyIsLost();
        assertThatThrownBy(() -> store.run(retrying(3), work -> work.add(new Delivery(1))))
                .isInstanceOf(CommitUnknownException.class)
                .hasMessageContaining("look in the database");
        assertThat(count(store, "delivery")).isEqualTo(1);
        assertThat(faults.open()).isZero();
    }

    @Test
    void whereNothingWasWrittenNothingIsUnknown() {
        Store store = Trips.open(MODEL.commitTokens("commit_token"), faults.source());
        store.schema().createMissing();
        for (Terms terms : List.of(retrying(2), retrying(2).readOnly())) {
            faults.onCommit().replyIsLost();
            long found = store.call(terms, work -> work.from(Delivery.class).count());
            assertThat(found).isZero();
            faults.clear(); // where a read needs no transaction, none was committed
        }
        assertThat(faults.open()).isZero();
    }

    @Test
    void whenTheDatabaseStaysAwayNobodyKnowsEither() {
        Store store = Trips.open(MODEL.commitTokens("commit_token"), faults.source());
        store.schema().createMissing();
        faults.onCommit().replyIsLost();
        assertThatThrownBy(() -> store.run(retrying(2), work -> {
                    work.add(new Delivery(1));
                    work.flush();
                    faults.onConnection().always().failsWith(() -> new SQLException("still dead", "08006"));
                }))
                .isInstanceOf(CommitUnknownException.class)
                .satisfies(unknown -> assertThat(unknown.getSuppressed()).hasSize(1));
        faults.clear();
        assertThat(count(store, "delivery")).isEqualTo(1);
        assertThat(faults.open()).isZero();
    }

    @Test
    void workInPlainSqlIsDoneOnceToo() {
        Store store = Trips.open(MODEL.commitTokens("commit_token"), faults.source());
        store.schema().createMissing();
        for (int number = 0; number < 2; number++) {
            int own = number;
            if (number == 0) {
                faults.onCommit().connectionLost();
            } else {
                faults.onCommit().replyIsLost();
            }
            store.transaction(
                    retrying(2),
                    tx -> tx.sql("insert into delivery (number) values (:number)")
                            .with("number", own)
                            .execute());
        }
        assertThat(count(store, "delivery")).isEqualTo(2);
        try (UnitOfWork work = store.begin()) {
            work.add(new Delivery(3));
            work.commit();
        }
        assertThat(count(store, "commit_token"))
                .as("only work that may be done again has one; who has asked leaves another one")
                .isEqualTo(3);
    }

    @Test
    void tokensHaveTheTimeOfTheStoresClock() {
        Instant time = Instant.parse("2026-04-01T06:30:00Z");
        Store store = Trips.open(MODEL.commitTokens("commit_token"), faults.source())
                .withClock(Clock.fixed(time, ZoneOffset.UTC));
        store.schema().createMissing();
        store.run(retrying(2), work -> work.add(new Delivery(1)));
        assertThat(store.sql("select " + Schema.TOKEN_TIME + " from commit_token")
                        .as(Instant.class)
                        .one())
                .isEqualTo(time);
    }
}
