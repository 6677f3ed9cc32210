package io.bathra.spring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.History.Wish;
import io.bathra.model.Model;
import io.bathra.model.ModelSource;
import io.bathra.spring.Boats.Boat;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.ExtendWith;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.autoconfigure.EnableAutoConfiguration;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.boot.test.system.CapturedOutput;
import org.springframework.boot.test.system.OutputCaptureExtension;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.jdbc.core.JdbcTemplate;

/** How the store is set up by properties. */
@ExtendWith(OutputCaptureExtension.class)
class PropertiesTest {
    @Configuration(proxyBeanMethods = false)
    @EnableAutoConfiguration
    static class BySource {
        @Bean
        ModelSource source() {
            return () -> Boats.MODEL;
        }
    }

    @Configuration(proxyBeanMethods = false)
    @EnableAutoConfiguration
    static class Nothing {}

    private static ConfigurableApplicationContext open(Class<?> configuration, String name, String... properties) {
        String[] all = java.util.stream.Stream.concat(
                        java.util.stream.Stream.of(
                                "spring.datasource.url=jdbc:h2:mem:" + name + ";DB_CLOSE_DELAY=-1",
                                "spring.main.banner-mode=off"),
                        java.util.stream.Stream.of(properties))
                .toArray(String[]::new);
        return new SpringApplicationBuilder(configuration)
                .web(WebApplicationType.NONE)
                .properties(all)
                .run();
    }

    @Test
    void tablesAreLeftAloneUnlessSomebodySaysSo() {
        try (ConfigurableApplicationContext office = open(BySource.class, "leave")) {
            assertThat(office.getBean(JdbcTemplate.class)
                            .queryForObject(
                                    "select count(*) from information_schema.tables where table_schema = 'PUBLIC'",
                                    Integer.class))
                    .isZero();
        }
    }

    @Test
    void tablesAreComparedAndTheApplicationDoesNotStartWhereTheyDiffer(CapturedOutput output) {
        try (ConfigurableApplicationContext office = open(BySource.class, "compare", "bathra.tables=make-missing")) {
            assertThat(office.getBean(Store.class).schema().verify()).isEmpty();
        }
        open(BySource.class, "compare", "bathra.tables=compare").close();
        try (ConfigurableApplicationContext office = open(BySource.class, "compare")) {
            office.getBean(JdbcTemplate.class).execute("alter table boat drop column calls");
        }
        assertThatThrownBy(() -> open(BySource.class, "compare", "bathra.tables=compare"))
                .rootCause()
                .hasMessageContaining("bathra.tables=compare")
                .hasMessageContaining("boat.calls");
        assertThat(output).contains("boat.calls");
    }

    @Test
    void changeFilesAreAskedForOrApplied(@TempDir Path folder, CapturedOutput output) {
        SchemaChanges drafts = SchemaChanges.of(folder);
        drafts.write(drafts.draft("boats", Boats.MODEL, Wish.NONE));
        String files = "bathra.changes.folder=" + folder;
        assertThatThrownBy(() -> open(BySource.class, "changes", "bathra.tables=changes", files))
                .rootCause()
                .hasMessageContaining("boats");
        open(BySource.class, "changes", "bathra.tables=changes", files, "bathra.changes.at-start=apply")
                .close();
        try (ConfigurableApplicationContext office = open(BySource.class, "changes", "bathra.tables=changes", files)) {
            assertThat(office.getBean(Store.class).schema().verify()).isEmpty();
        }
        assertThat(output).contains("boats");
    }

    @Test
    void withoutAModelTheMessageSaysWhatToDeclare(CapturedOutput output) {
        assertThatThrownBy(() -> open(Nothing.class, "nothing"))
                .rootCause()
                .hasMessageContaining("declare a bean of type io.bathra.model.Model");
        assertThat(output).contains("declare a bean of type io.bathra.model.Model");
    }

    @Test
    void statementsAreLoggedWithoutValuesAndSlowOnesWarnedOf(CapturedOutput output) {
        try (ConfigurableApplicationContext office = open(
                BySource.class,
                "log",
                "bathra.tables=make-missing",
                "bathra.log.statements=true",
                "logging.level.io.bathra.statements=debug")) {
            office.getBean(Units.class).run(work -> work.add(new Boat("secretive")));
        }
        assertThat(output)
                .containsPattern("DEBUG.*insert into boat .*1 rows.*for flush")
                .doesNotContain("secretive");
        try (ConfigurableApplicationContext office =
                open(BySource.class, "log", "bathra.tables=make-missing", "bathra.log.slower-than=0ms")) {
            office.getBean(Units.class).run(work -> work.add(new Boat("another")));
        }
        assertThat(output).containsPattern("WARN.*slow: .*insert into boat");
    }

    @Test
    void theRestReachesTheStore() {
        try (ConfigurableApplicationContext office = open(
                BySource.class,
                "rest",
                "bathra.tables=make-missing",
                "bathra.commit-tokens=boat_token",
                "bathra.limits.entities=2",
                "bathra.limits.open-for=1h",
                "bathra.keys-ahead=0",
                "bathra.send-together=false")) {
            Model model = office.getBean(Store.class).model();
            assertThat(model.commitTokens()).isEqualTo("boat_token");
            office.getBean(JdbcTemplate.class).queryForList("select * from boat_token");
        }
        assertThatThrownBy(() -> open(BySource.class, "wrong", "bathra.tables=sometimes"))
                .hasStackTraceContaining("bathra.tables");
    }

    @Test
    void standbysAreReadFrom() {
        try (ConfigurableApplicationContext office =
                open(Standby.class, "primary", "bathra.tables=make-missing", "bathra.standbys=behind")) {
            Store store = office.getBean(Store.class);
            store.run(work -> work.add(new Boat("Skua")));
            assertThat(store.<Long, RuntimeException>call(
                            io.bathra.Terms.reading(),
                            work -> work.from(Boat.class).count()))
                    .as("on a standby that will never get it")
                    .isZero();
        }
    }

    @Configuration(proxyBeanMethods = false)
    @EnableAutoConfiguration
    static class Standby extends BySource {
        @Bean
        @org.springframework.context.annotation.Primary
        javax.sql.DataSource ahead() {
            return source("ahead");
        }

        @Bean
        javax.sql.DataSource behind() {
            javax.sql.DataSource behind = source("behind");
            Store.open(Boats.MODEL, behind).schema().createMissing();
            return behind;
        }

        private static javax.sql.DataSource source(String name) {
            return new org.springframework.jdbc.datasource.DriverManagerDataSource(
                    "jdbc:h2:mem:" + name + ";DB_CLOSE_DELAY=-1");
        }
    }

    @Test
    void everyPropertyIsDescribed() throws Exception {
        String metadata = new String(
                BathraProperties.class
                        .getResourceAsStream("/META-INF/spring-configuration-metadata.json")
                        .readAllBytes(),
                java.nio.charset.StandardCharsets.UTF_8);
        assertThat(List.of(
                        "bathra.tables",
                        "bathra.changes.folder",
                        "bathra.changes.at-start",
                        "bathra.schema",
                        "bathra.commit-tokens",
                        "bathra.limits.entities",
                        "bathra.limits.open-for",
                        "bathra.keys-ahead",
                        "bathra.send-together",
                        "bathra.through-pooler",
                        "bathra.standbys",
                        "bathra.log.statements",
                        "bathra.log.slower-than",
                        "bathra.observations.texts"))
                .allSatisfy(name -> assertThat(metadata)
                        .containsPattern("\"name\": \"" + name + "\",\\s+\"type\": \"[^\"]+\",\\s+\"description\""));
    }
}
