package io.bathra.changes;

import static io.bathra.model.Declare.assigned;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.DatabaseProduct;
import io.bathra.Store;
import io.bathra.evolve.Drafted;
import io.bathra.evolve.History.Wish;
import io.bathra.evolve.Shown;
import io.bathra.evolve.Verdict;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A model changes, and the next file is drafted, read, checked and shown. */
class SchemaChangesTest {
    /** The pilots of the first release. */
    static final class First {
        static final class Pilot {
            Long id;
            String badge;
            String phone;
            int weight;

            Long id() {
                return id;
            }

            String badge() {
                return badge;
            }

            String phone() {
                return phone;
            }

            int weight() {
                return weight;
            }
        }

        static final Model MODEL = Model.of(
                "pilots",
                Entity.of(Pilot.class, Pilot::new)
                        .column(Pilot::badge, required(), length(3), unique())
                        .column(Pilot::phone, length(20)));
    }

    /** Those of the second one. */
    static final class Second {
        static final class Boat {
            int number;

            int number() {
                return number;
            }
        }

        static final class Pilot {
            Long id;
            String badge;
            String mobile;
            String country;
            int weight;
            final Link<Boat> boat = Link.empty();

            Long id() {
                return id;
            }

            String badge() {
                return badge;
            }

            String mobile() {
                return mobile;
            }

            String country() {
                return country;
            }

            int weight() {
                return weight;
            }

            Link<Boat> boat() {
                return boat;
            }
        }

        static final Model MODEL = Model.of(
                "pilots",
                Entity.of(Boat.class, Boat::new).key(Boat::number, assigned()),
                Entity.of(Pilot.class, Pilot::new)
                        .column(Pilot::badge, required(), length(3), unique())
                        .column(Pilot::mobile, length(20))
                        .column(Pilot::country, required(), length(2))
                        .link(Pilot::boat)
                        .check(the(Pilot::weight).above(0)));
    }

    @TempDir
    Path folder;

    private SchemaChanges changes;

    @BeforeEach
    void writeTheFirstFile() {
        changes = SchemaChanges.of(folder.resolve("changes"))
                .withClock(Clock.fixed(Instant.parse("2026-11-20T10:00:00Z"), ZoneOffset.UTC));
        changes.write(changes.draft("The first model!", First.MODEL, Wish.NONE));
        changes = changes.withClock(Clock.fixed(Instant.parse("2026-12-03T10:00:00Z"), ZoneOffset.UTC));
    }

    private static Wish wish(boolean inTwoSteps) {
        return new Wish(
                Map.of("Pilot.phone", "mobile"),
                Map.of("Pilot.country", SchemaChanges.fill("Pilot.country", "NO")),
                inTwoSteps);
    }

    @Test
    void aSecondDraftHasNothingToDoAndTellsWhatWasCompared() {
        Drafted drafted = changes.draft("more", First.MODEL, Wish.NONE);
        assertThat(drafted.nothingToDo()).isTrue();
        assertThat(drafted.lookedAt()).isEqualTo("1 entity of 'pilots' compared with 1 file");
        assertThat(changes.history().leadsTo(First.MODEL)).isTrue();
        assertThat(changes.history().leadsTo(Second.MODEL)).isFalse();
        assertThat(folder.resolve("changes/2026-11-20-the-first-model.yaml")).exists();
    }

    @Test
    void theDifferenceIsWrittenAsTheNextFile() throws IOException {
        List<Path> files = changes.write(changes.draft("pilots' boats", Second.MODEL, wish(false)));
        assertThat(files).containsExactly(folder.resolve("changes/2026-12-03-pilots-boats.yaml"));
        assertThat(Files.readString(files.get(0))).isEqualTo("""
                        bathra: 1
                        after: 2026-11-20-the-first-model
                        steps:
                          - rename attribute: Pilot.phone
                            to: mobile
                          - create entity: Boat
                            key: [number]
                            attributes:
                              number: integer
                          - add attribute: Pilot.country
                            type: text 2
                            required: true
                            fill: { value: "NO" }
                          - add link: Pilot.boat
                            to: Boat
                          - add check: Pilot
                            that: { above: [weight, 0] }
                        """);
        assertThat(changes.history().leadsTo(Second.MODEL)).isTrue();
        assertThatThrownBy(() -> changes.draft("pilots boats", First.MODEL, Wish.NONE))
                .hasMessageContaining("is there already");
    }

    @Test
    void nothingIsTakenForRenamedAndTheFileSaysWhatMayBe() {
        Drafted drafted = changes.draft("boats", Second.MODEL, Wish.NONE);
        assertThat(drafted.possible()).extracting(Object::toString).contains("Pilot.phone=mobile");
        assertThat(drafted.wanting()).containsExactly("Pilot.country");
        String text = SchemaChanges.text(drafted.change().orElseThrow());
        assertThat(text)
                .contains("  - add attribute: Pilot.mobile\n")
                .contains("  - drop attribute: Pilot.phone\n    values: lost\n")
                .contains("# Pilot.phone goes and mobile comes; if it only has another name, draft with --renamed"
                        + " Pilot.phone=mobile\n");
        assertThatThrownBy(() ->
                        changes.draft("boats", Second.MODEL, new Wish(Map.of("Pilot.fone", "mobile"), Map.of(), false)))
                .hasMessageContaining("no 'fone'")
                .hasMessageContaining("'phone'");
        assertThatThrownBy(() ->
                        changes.draft("boats", Second.MODEL, new Wish(Map.of("Pilot.phone", "boat"), Map.of(), false)))
                .hasMessageContaining("cannot have become Pilot.boat");
    }

    @Test
    void whatTheReleaseBeforeDoesNotSurviveIsTold() {
        changes.write(changes.draft("boats", Second.MODEL, wish(false)));
        Map<String, Verdict> verdicts = changes.history().check("2026-12-03-boats").stream()
                .collect(Collectors.toMap(Verdict::step, one -> one));
        assertThat(verdicts.get("rename Pilot.phone to mobile").reads()).isEqualTo(Verdict.Fate.BREAKS);
        assertThat(verdicts.get("add attribute Pilot.country").inserts()).isEqualTo(Verdict.Fate.BREAKS);
        assertThat(verdicts.get("add attribute Pilot.country").reads()).isEqualTo(Verdict.Fate.GOES_ON);
        assertThat(verdicts.get("create entity Boat").isHarmless()).isTrue();
        assertThat(verdicts.get("add link Pilot.boat").isHarmless()).isTrue();
    }

    @Test
    void inTwoStepsTheReleaseBeforeSurvivesTheFirst() {
        Drafted drafted = changes.draft("boats", Second.MODEL, wish(true));
        assertThat(drafted.changes()).hasSize(2);
        changes.write(drafted);
        assertThat(changes.history().check("2026-12-03-boats")).allMatch(Verdict::isHarmless);
        assertThat(changes.history().leadsTo(Second.MODEL)).isTrue();
        String first = SchemaChanges.text(drafted.changes().get(0));
        assertThat(first).contains("backfill: Pilot.mobile\n    term: phone\n").doesNotContain("required: true");
        String second = SchemaChanges.text(drafted.changes().get(1));
        assertThat(second)
                .contains("after: 2026-12-03-boats\n")
                .contains("drop attribute: Pilot.phone")
                .contains("required: { from: false, to: true }")
                .contains("add check: Pilot");
    }

    @Test
    void whatIsExecutedIsShownForEachProduct() {
        changes.write(changes.draft("boats", Second.MODEL, wish(false)));
        for (DatabaseProduct product : DatabaseProduct.values()) {
            List<Shown> shown = changes.history().show("2026-12-03-boats", product, null);
            assertThat(shown).hasSize(5).allMatch(step -> !step.statements().isEmpty());
            assertThat(shown.get(0).statements().get(0).sql()).contains("phone").contains("mobile");
        }
        assertThatThrownBy(() -> changes.history().show("2026-12-03-boat", DatabaseProduct.H2, null))
                .hasMessageContaining("did you mean '2026-12-03-boats'");
    }

    @Test
    void whatIsExecutedLeadsFromOneModelToTheOther() {
        changes.write(changes.draft("boats", Second.MODEL, wish(false)));
        try (Store before = Store.open(First.MODEL, "jdbc:h2:mem:pilots;DB_CLOSE_DELAY=-1")) {
            before.schema().createMissing();
            before.run(work -> {
                First.Pilot pilot = new First.Pilot();
                pilot.badge = "P01";
                pilot.phone = "112";
                pilot.weight = 80;
                work.add(pilot);
            });
            changes.history().show("2026-12-03-boats", DatabaseProduct.H2, null).stream()
                    .flatMap(step -> step.statements().stream())
                    .forEach(statement ->
                            before.sql(statement.sql()).withoutTransaction().execute());
        }
        try (Store after = Store.open(Second.MODEL, "jdbc:h2:mem:pilots")) {
            assertThat(after.schema().verify()).isEmpty();
            after.run(work -> {
                Second.Pilot pilot = work.from(Second.Pilot.class).one();
                assertThat(pilot.mobile).isEqualTo("112");
                assertThat(pilot.country).isEqualTo("NO");
            });
        }
    }

    @Test
    void theFilesOfAProgramAreReadFromItsClassPath() {
        SchemaChanges inside = SchemaChanges.of(SchemaChangesTest.class, "history");
        assertThat(inside.history().changes()).extracting(Object::toString).containsExactly("2026-11-20-seals");
        assertThatThrownBy(() -> SchemaChanges.of(SchemaChangesTest.class, "nowhere"))
                .hasMessageContaining("no folder 'nowhere'");
    }

    @Test
    void namesThatDifferFromConventionStandInTheFileAndRewriteNothing() {
        Model shouting = Model.of(
                        "pilots",
                        name -> "X" + name.toUpperCase(Locale.ROOT),
                        Entity.of(First.Pilot.class, First.Pilot::new)
                                .column(First.Pilot::badge, required(), length(3), unique())
                                .column(First.Pilot::phone, length(20)))
                .commitTokens("token_of_commits");
        SchemaChanges other = SchemaChanges.of(folder.resolve("named"));
        Drafted first = other.draft("first", shouting, Wish.NONE);
        assertThat(SchemaChanges.text(first.change().orElseThrow()))
                .contains("    table: XPILOT\n")
                .contains("      badge: { type: text 3, required: true, column: XBADGE }\n")
                .contains("  - create commit tokens: token_of_commits\n")
                .doesNotContain("name:");
        other.write(first);
        assertThat(other.draft("more", shouting, Wish.NONE).nothingToDo()).isTrue();
        Drafted drafted = changes.draft("names", shouting, Wish.NONE);
        assertThat(SchemaChanges.text(drafted.change().orElseThrow()))
                .contains("  - rename entity: Pilot\n    table: XPILOT\n")
                .contains("  - rename attribute: Pilot.badge\n    column: XBADGE\n");
        changes.write(drafted);
        assertThat(changes.history().leadsTo(shouting)).isTrue();
    }
}
