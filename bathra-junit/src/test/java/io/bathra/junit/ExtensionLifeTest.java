package io.bathra.junit;

import static io.bathra.junit.BathraAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.platform.engine.discovery.DiscoverySelectors.selectClass;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.junit.Harbour.PortCall;
import io.bathra.junit.Harbour.Vessel;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.platform.engine.TestExecutionResult;
import org.junit.platform.engine.discovery.ClassSelector;
import org.junit.platform.testkit.engine.EngineExecutionResults;
import org.junit.platform.testkit.engine.EngineTestKit;

/** How the extension is registered, what it gives to tests, and which tests it fails. */
class ExtensionLifeTest {
    private static EngineExecutionResults run(Class<?>... tests) {
        return EngineTestKit.engine("junit-jupiter")
                .configurationParameter("junit.jupiter.conditions.deactivate", "*")
                .configurationParameter("junit.jupiter.execution.parallel.enabled", "true")
                .configurationParameter("junit.jupiter.execution.parallel.mode.classes.default", "concurrent")
                .selectors(Arrays.stream(tests).map(one -> selectClass(one)).toArray(ClassSelector[]::new))
                .execute();
    }

    private static List<String> failures(Class<?> tests) {
        return run(tests).testEvents().failed().stream()
                .map(event -> event.getTestDescriptor().getDisplayName() + ": "
                        + event.getRequiredPayload(TestExecutionResult.class)
                                .getThrowable()
                                .orElseThrow()
                                .getMessage())
                .sorted()
                .toList();
    }

    @Test
    void whatAFailedTestHasExecutedIsAPage() {
        run(TooMuch.class);
        assertThat(Path.of("target", "bathra-pages", "TooMuch.aReadsTwice.html"))
                .content()
                .contains("TooMuch.aReadsTwice, which has failed", "select count(*)");
    }

    // ---- tests that have to fail

    @AtMost(1)
    static class TooMuch {
        @RegisterExtension
        StoreExtension db = StoreExtension.of(Harbour.MODEL);

        @Test
        void aReadsTwice() {
            db.store().run(work -> work.from(Vessel.class).count());
            db.store().run(work -> work.from(Vessel.class).count());
        }

        @Test
        @AtMost(2)
        void bReadsTwiceAndMay() {
            aReadsTwice();
        }

        @Test
        void cWaitsForAFault() {
            db.faults().on(3).deadlock();
            db.store().run(work -> work.from(Vessel.class).count());
        }

        @Test
        void dKeepsAConnection() throws SQLException {
            Connection kept = db.source().getConnection();
            assertThat(kept.isClosed()).isFalse();
        }
    }

    @Test
    void aTestFailsThatDoesMoreThanItMay() {
        List<String> failures = failures(TooMuch.class);
        assertThat(failures).hasSize(3);
        assertThat(failures.get(0))
                .startsWith("aReadsTwice(): [@AtMost(1) aReadsTwice()]")
                .contains("at most 1 statement expected, but there were 2\nexecuted:".replace("\\\n", "\n"))
                .contains("select count(*)");
        assertThat(failures.get(1))
                .contains("asked for, but it has not happened: a deadlock at statement 3")
                .contains("faults().clear()");
        assertThat(failures.get(2)).contains("1 connection was not given back");
    }

    static class NoRight {
        @RegisterExtension
        StoreExtension db =
                StoreExtension.of(Harbour.MODEL).on(TestDatabase.at("jdbc:h2:mem:noright", "visitor", "calm"));

        @Test
        void neverBegins() {}
    }

    @Test
    void aMissingRightIsTold() throws SQLException {
        try (Connection admin = new UrlSource("jdbc:h2:mem:noright;DB_CLOSE_DELAY=-1", "sa", "").getConnection();
                var statement = admin.createStatement()) {
            statement.execute("create user if not exists visitor password 'calm'");
        }
        assertThat(failures(NoRight.class))
                .singleElement()
                .asString()
                .contains("each class of tests gets a schema of its own, but H2 refused 'create schema")
                .contains("grant the user of the tests the right to create one");
        assertThatThrownBy(() -> TestDatabase.at("jdbc:postgresql://127.0.0.1:1/none", "me", "secret")
                        .empty())
                .hasMessageContaining("there is no connection to jdbc:postgresql://127.0.0.1:1/none")
                .hasMessageNotContaining("secret");
    }

    // ---- classes at the same time

    static class First extends Concurrent {}

    static class Second extends Concurrent {}

    static class Third extends Concurrent {}

    abstract static class Concurrent {
        @RegisterExtension
        static final StoreExtension H2 = StoreExtension.of(Harbour.MODEL);

        @RegisterExtension
        final StoreExtension postgres = StoreExtension.of(Harbour.MODEL).on(TestDatabase.postgresql());

        @RepeatedTest(20)
        void seesItsOwnRowsAlone() {
            postgres.add(new Vessel("9000001", getClass().getSimpleName()));
            assertThat(postgres.rows("vessel", "id", "name"))
                    .isEqualTo(
                            "vessel\n  id       | name\n  vessel#1 | %s\n".replace("\\\n", "\n"),
                            getClass().getSimpleName());
        }
    }

    @Test
    void classesMayRunAtTheSameTime() {
        run(First.class, Second.class, Third.class)
                .testEvents()
                .assertStatistics(all -> all.succeeded(60).failed(0));
    }

    // ---- ways to register

    @Nested
    @WithStore(model = Harbour.class, on = WithStore.Database.SQLITE)
    class Annotated {
        @RepeatedTest(2)
        void parametersAreFilled(Store store, UnitOfWork work, StoreExtension db) {
            assertThat(store).isSameAs(db.store());
            assertThat(store.databaseName()).isEqualTo("SQLite");
            work.add(new Vessel("9000001", "Nordlicht"));
            assertThat(work.from(Vessel.class).count()).isEqualTo(1);
        }
    }

    static final class StaticTest {
        @RegisterExtension
        static final StoreExtension DB = StoreExtension.of(Harbour.MODEL)
                .at(Instant.parse("2026-07-01T00:00:00Z"))
                .filledBy(store -> store.run(work -> work.add(new Vessel("9000009", "always there"))));

        @BeforeAll
        static void before() {
            assertThat(DB.store().databaseName()).isEqualTo("H2");
        }

        @RepeatedTest(2)
        void eachFindsTheSame() {
            assertThat(DB.statements()).none();
            PortCall call = new PortCall(new Vessel("9000001", "Nordlicht"), 1);
            DB.add(call);
            assertThat(call.noted).isEqualTo("2026-07-01T00:00:00Z");
            DB.assertRows("""
                    vessel
                      id       | imo
                      vessel#1 | 9000009
                      vessel#2 | 9000001
                    """);
        }
    }

    @Test
    void aStaticExtensionIsThereBeforeAllTests() {
        run(StaticTest.class)
                .testEvents()
                .assertStatistics(all -> all.succeeded(2).failed(0));
    }
}
