package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.SchemaReport;
import io.bathra.Store;
import io.bathra.harbour.Harbour;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CyclicBarrier;
import org.h2.tools.Server;
import org.junit.jupiter.api.Test;

/** Several that create the same tables at the same time, as the instances of a service do that start together. */
@OnEachDatabase
class TogetherTest {
    private static final int MANY = 8;

    private final TestDatabase database;

    TogetherTest(TestDatabase database) {
        this.database = database;
    }

    /** Each has a store and connections of its own. */
    private static void createTogether(Model model, String url) {
        CyclicBarrier start = new CyclicBarrier(MANY);
        List<CompletableFuture<SchemaReport>> all = new ArrayList<>();
        for (int i = 0; i < MANY; i++) {
            all.add(CompletableFuture.supplyAsync(
                    () -> {
                        try (Store store = Trips.open(model, url)) {
                            start.await();
                            return store.schema().createMissing();
                        } catch (Exception e) {
                            throw new IllegalStateException(e);
                        }
                    },
                    command -> new Thread(command).start()));
        }
        List<String> executed = all.stream()
                .flatMap(one -> one.join().statements().stream())
                .filter(sql -> sql.startsWith("create table"))
                .toList();
        assertThat(executed).as("each table is created once").doesNotHaveDuplicates();
        assertThat(all).allSatisfy(one -> assertThat(one.join().missing()).isEmpty());
        try (Store store = Trips.open(model, url)) {
            assertThat(store.schema().verify()).isEmpty();
            assertThat(store.schema().createMissing().nothingToDo()).isTrue();
        }
    }

    @Test
    void allOfThemSucceed() {
        for (int round = 0; round < 5; round++) {
            String url = database.sharedUrl();
            try (Store anchor = Trips.open(Harbour.MODEL, url)) { // else an embedded database is closed in between
                createTogether(anchor.model().commitTokens("token_of_commit"), url);
            }
        }
    }

    @Test
    void onAServerOfH2Too() throws Exception {
        if (database != TestDatabase.H2) {
            return;
        }
        Server server = Server.createTcpServer(
                        "-tcpPort",
                        "0",
                        "-ifNotExists",
                        "-baseDir",
                        Files.createTempDirectory("bathra-test").toString())
                .start();
        try {
            for (int round = 0; round < 5; round++) {
                createTogether(Harbour.MODEL, "jdbc:h2:tcp://127.0.0.1:" + server.getPort() + "/./together" + round);
            }
        } finally {
            server.stop();
        }
    }
}
