package io.bathra.contract;

import static io.bathra.Terms.retrying;
import static io.bathra.bulk.On.on;
import static io.bathra.bulk.Overwrite.overwrite;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.secret;
import static io.bathra.model.Declare.unique;
import static io.bathra.query.Ask.given;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.bulk.Bulk;
import io.bathra.bulk.BulkResult;
import io.bathra.bulk.Overwrite;
import io.bathra.bulk.Rejection;
import io.bathra.error.BathraException;
import io.bathra.error.Flaw;
import io.bathra.error.InvalidChangesException;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Upserts that compute what becomes of a row that is there, and upserts of rows that are not whole. */
@OnEachDatabase
class UpsertTest {
    static final class Score {
        Long id;
        String pilot;
        String rank;
        int points;
        BigDecimal tonnes;
        String pin;
        int revision;

        Score() {}

        Score(String pilot, int points) {
            this.pilot = pilot;
            this.points = points;
            this.rank = "new";
            this.tonnes = new BigDecimal(points).movePointLeft(1);
        }

        Long id() {
            return id;
        }

        String pilot() {
            return pilot;
        }

        String rank() {
            return rank;
        }

        int points() {
            return points;
        }

        BigDecimal tonnes() {
            return tonnes;
        }

        String pin() {
            return pin;
        }

        int revision() {
            return revision;
        }
    }

    private static final Overwrite<Score> ADDED = overwrite(
            number(Score::points).to(number(Score::points).plus(given(Score::points))),
            number(Score::tonnes)
                    .to(number(Score::tonnes).plus(given(Score::tonnes)).orElse(BigDecimal.ZERO)));

    private final TestDatabase database;
    private final Store store;
    private final Bulk<Score, Score> bulk;

    UpsertTest(TestDatabase database) {
        this.database = database;
        store = Trips.open(
                Model.of(
                        "scores",
                        Entity.of(Score.class, Score::new)
                                .column(Score::pilot, required(), length(20), unique())
                                .column(Score::rank, required(), length(20))
                                .column(Score::pin, length(20), secret())
                                .version(Score::revision)),
                database.empty());
        store.schema().createMissing();
        bulk = store.bulk(Score.class);
        bulk.insert(List.of(new Score("Ada", 10), new Score("Bo", 20)));
    }

    @AfterEach
    void close() {
        store.close();
    }

    private List<String> scores() {
        return store.call(
                work -> work.from(Score.class).orderBy(the(Score::pilot).ascending()).list().stream()
                        .map(score -> score.pilot + " " + score.rank + " " + score.points + " "
                                + (score.tonnes == null ? null : score.tonnes.setScale(2)) + " v"
                                + score.revision)
                        .toList());
    }

    private static BulkResult expect(BulkResult result, long inserted, long updated, long unchanged) {
        assertThat(List.of(result.inserted(), result.updated(), result.unchanged()))
                .containsExactly(inserted, updated, unchanged);
        return result;
    }

    @Test
    void aRowThatIsThereIsComputedAndANewOneIsWhatIsGiven() {
        Score nothing = new Score("Bo", 0);
        expect(
                bulk.upsert(List.of(new Score("Ada", 5), nothing, new Score("Cy", 7)), on(Score::pilot), ADDED),
                1,
                1,
                1);
        assertThat(scores()).containsExactly("Ada new 15 1.50 v1", "Bo new 20 2.00 v0", "Cy new 7 0.70 v0");
    }

    @Test
    void rowsOfTheSameValueCountOneAfterTheOther() {
        List<Score> many = new ArrayList<>();
        for (int i = 0; i < 25; i++) {
            many.add(new Score(i % 2 == 0 ? "Ada" : "Dee", 1));
        }
        expect(bulk.portion(10).upsert(many, on(Score::pilot), ADDED), 1, 24, 0);
        assertThat(scores()).containsExactly("Ada new 23 2.30 v13", "Bo new 20 2.00 v0", "Dee new 12 1.20 v11");
    }

    @Test
    void byTheKeyThatTheDatabaseDraws() {
        Score ada = store.call(work -> work.from(Score.class)
                .where(the(Score::pilot).is("Ada"))
                .first()
                .orElseThrow());
        ada.points = 4;
        Overwrite<Score> both = overwrite(
                number(Score::points)
                        .to(number(Score::points).times(given(Score::points)).plus(2)),
                the(Score::rank).to(the(Score::pilot)),
                number(Score::tonnes).toNull());
        expect(bulk.upsert(List.of(ada), on(Score::id), both), 0, 1, 0);
        assertThat(scores()).first().isEqualTo("Ada Ada 42 null v1");
    }

    @Test
    void nothingIsLostAmongThreads() {
        List<CompletableFuture<Void>> threads = new ArrayList<>();
        for (int thread = 0; thread < 6; thread++) {
            threads.add(CompletableFuture.runAsync(() -> {
                for (int i = 0; i < 20; i++) {
                    store.run(
                            retrying(100),
                            work -> work.bulk(Score.class)
                                    .upsert(List.of(new Score("Eve", 1)), on(Score::pilot), ADDED));
                }
            }));
        }
        threads.forEach(CompletableFuture::join);
        assertThat(scores()).last().isEqualTo("Eve new 120 12.00 v119");
    }

    @Test
    void rowsThatAreThereNeedNotBeWhole() {
        List<Rejection> rejected = new ArrayList<>();
        List<Map<String, Object>> rows =
                List.of(Map.of("pilot", "Ada", "points", 11), Map.of("pilot", "Fay", "points", 1));
        expect(bulk.maps().rejectTo(rejected::add).upsert(rows, on(Score::pilot), overwrite(Score::points)), 0, 1, 0);
        assertThat(rejected)
                .containsExactly(new Rejection(
                        2,
                        "rank",
                        null,
                        Flaw.of(
                                Flaw.Code.REQUIRED,
                                "is required for a new row, and no Score has the row's pilot; give it a value")));
        assertThat(scores()).containsExactly("Ada new 11 1.00 v1", "Bo new 20 2.00 v0");
        assertThatThrownBy(() -> bulk.maps().upsert(rows, on(Score::pilot)))
                .isInstanceOf(InvalidChangesException.class)
                .hasMessageContaining("row 2 of Score.rank")
                .hasMessageContaining("is required for a new row");
    }

    @Test
    void entitiesWithoutARequiredValueToo() {
        Score half = new Score("Bo", 21);
        half.rank = null;
        expect(bulk.upsert(List.of(half, new Score("Gil", 1)), on(Score::pilot), overwrite(Score::points)), 1, 1, 0);
        expect(bulk.upsert(List.of(half), on(Score::pilot), ADDED), 0, 1, 0);
        assertThat(scores()).contains("Bo new 42 4.10 v2", "Gil new 1 0.10 v0");
        assertThatThrownBy(() -> bulk.upsert(List.of(half), on(Score::pilot), overwrite(Score::rank)))
                .isInstanceOf(InvalidChangesException.class)
                .hasMessageContaining("is required; give it a value");
    }

    @Test
    void whatCannotBeComputedIsRefusedBeforehand() {
        List<Score> rows = List.of(new Score("Ada", 1));
        assertThatThrownBy(() -> bulk.upsert(
                        rows, on(Score::pilot), overwrite(the(Score::pilot).to("x"))))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("tells which row is meant");
        assertThatThrownBy(() -> bulk.upsert(
                        rows, on(Score::pilot), overwrite(text(Score::pin).to("1234"))))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("a secret that would be written into the statement")
                .hasMessageNotContaining("1234");
        assertThatThrownBy(
                        () -> bulk.maps().upsert(List.of(Map.of("pilot", "Ada", "rank", "x")), on(Score::pilot), ADDED))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("Score.points is made use of by given(...)");
        assertThatThrownBy(() -> store.run(work ->
                        work.from(Score.class).update(number(Score::points).to(given(Score::points)))))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("given(points)")
                .hasMessageContaining("no row is given here");
    }

    @Test
    void aKeyThatIsGivenIsNotTakenForADrawnOne() {
        long ada = store.call(work -> work.from(Score.class)
                .where(the(Score::pilot).is("Ada"))
                .as(the(Score::id))
                .one());
        List<Map<String, Object>> rows = List.of(
                Map.of("id", ada, "pilot", "Ada", "rank", "new", "points", 10),
                Map.of("id", 7_000L, "pilot", "Hal", "rank", "new", "points", 1));
        expect(bulk.maps().upsert(rows, on(Score::pilot)), 1, 0, 1);
        List<Map<String, Object>> again = List.of(Map.of("id", ada, "pilot", "Ada", "rank", "old", "points", 10));
        expect(bulk.maps().upsert(again, on(Score::pilot)), 0, 1, 0);
        assertThat(scores()).contains("Ada old 10 1.00 v1", "Hal new 1 null v0");
    }
}
