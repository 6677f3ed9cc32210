package io.bathra.contract;

import static io.bathra.Terms.retrying;
import static io.bathra.bulk.On.on;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.bulk.BulkResult;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/**
 * Ten callers that write the same rows at once, each in an order of its own, into a table whose key the database draws.
 */
@OnEachDatabase
class OverlappingUpsertsTest {
    private static final int CALLERS = 10;
    private static final int ROWS = 300;

    static final class Tally {
        Long id;
        String code;
        int number;

        static Tally of(int code, int number) {
            Tally tally = new Tally();
            tally.code = "T" + code;
            tally.number = number;
            return tally;
        }

        String code() {
            return code;
        }

        int number() {
            return number;
        }
    }

    /** A server that crashes did so within a few times. */
    private final int rounds;

    private final Store store;

    OverlappingUpsertsTest(TestDatabase database) {
        rounds = database == TestDatabase.MARIADB ? 20 : 3;
        store = Trips.open(
                Model.of("tallies", Entity.of(Tally.class, Tally::new).column(Tally::code, length(10), unique())),
                database.empty());
    }

    @AfterEach
    void close() {
        store.close();
    }

    @Test
    void allAreDoneAndTheServerIsStillThere() {
        AtomicInteger attempts = new AtomicInteger();
        for (int round = 0; round < rounds; round++) {
            store.schema().recreate("tallies");
            List<CompletableFuture<BulkResult>> callers = new ArrayList<>();
            for (int caller = 0; caller < CALLERS; caller++) {
                List<Tally> rows = new ArrayList<>();
                for (int code = 0; code < ROWS; code++) {
                    rows.add(Tally.of(caller * 30 + code, caller));
                }
                Collections.shuffle(rows, new Random(31 * round + caller));
                callers.add(CompletableFuture.supplyAsync(
                        () -> store.call(retrying(100), work -> {
                            attempts.incrementAndGet();
                            return work.bulk(Tally.class).upsert(rows, on(Tally::code));
                        }),
                        command -> new Thread(command).start()));
            }
            long inserted =
                    callers.stream().mapToLong(one -> one.join().inserted()).sum();
            long there = store.call(work -> work.from(Tally.class).count());
            assertThat(there).isEqualTo(ROWS + 30 * (CALLERS - 1)).isEqualTo(inserted);
        }
        assertThat(attempts.get())
                .as("since each writes its rows in the order of their codes, they wait for one another and seldom fail")
                .isLessThan(2 * rounds * CALLERS);
    }
}
