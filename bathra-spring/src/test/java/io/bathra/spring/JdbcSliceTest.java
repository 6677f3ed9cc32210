package io.bathra.spring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.model.Model;
import io.bathra.spring.Boats.Boat;
import io.bathra.spring.Office.Desk;
import org.junit.jupiter.api.Test;
import org.junit.platform.engine.discovery.DiscoverySelectors;
import org.junit.platform.testkit.engine.EngineTestKit;
import org.junit.platform.testkit.engine.Event;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.SpringBootConfiguration;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Import;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.test.context.TestPropertySource;

/** Tests of the database alone have the store, and a transaction that is rolled back. */
class JdbcSliceTest {
    @SpringBootConfiguration
    static class Slim {
        @Bean
        Model model() {
            return Boats.MODEL;
        }
    }

    @JdbcSlice
    @Import(Desk.class)
    @TestPropertySource(properties = "bathra.tables=make-missing")
    static class Sliced {
        @Autowired
        Units units;

        @Autowired
        Desk desk;

        @Autowired
        JdbcTemplate jdbc;

        @Test
        void whatIsStoredIsThere() {
            units.here().add(new Boat("Skua"));
            units.flush();
            assertThat(jdbc.queryForObject("select count(*) from boat", Integer.class))
                    .isEqualTo(1);
        }

        @Test
        void whatIsStoredIsTakenBack() {
            assertThat(units.here().from(Boat.class).count()).isZero();
            units.here().add(new Boat("Tern"));
        }

        @Test
        void whatCannotBeStoredFails() {
            units.here().add(new Boat("a name that is longer than twenty"));
        }

        @Test
        void whatWasRefusedAsExpectedDoesNotFail() {
            assertThatThrownBy(() -> desk.work(work -> {
                        work.add(new Boat("a name that is longer than twenty"));
                        work.flush();
                    }))
                    .hasMessageContaining("name");
        }

        @Test
        void whatFailsByItselfSaysWhy() {
            units.here().add(new Boat("a name that is longer than twenty"));
            throw new IllegalStateException("the test's own");
        }
    }

    @Test
    void aSliceHasUnitsAndATestThatLeavesWhatCannotBeStoredFails() {
        var run = EngineTestKit.engine("junit-jupiter")
                .selectors(DiscoverySelectors.selectClass(Sliced.class))
                .execute()
                .testEvents();
        assertThat(run.failed().stream().map(Event::getTestDescriptor).map(test -> test.getDisplayName()))
                .containsExactlyInAnyOrder("whatCannotBeStoredFails()", "whatFailsByItselfSaysWhy()");
        assertThat(run.failed().stream()
                        .map(event -> event.getPayload(org.junit.platform.engine.TestExecutionResult.class)
                                .orElseThrow()
                                .getThrowable()
                                .orElseThrow()
                                .getMessage()))
                .anyMatch(message -> message.contains("name = a name that is longer"))
                .anyMatch(message -> message.equals("the test's own"));
        assertThat(run.succeeded().count()).isEqualTo(3);
    }
}
