package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.ApplyTerms;
import io.bathra.evolve.FileState;
import io.bathra.evolve.FileState.State;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Change files applied to a database: each once, in order, and nothing where rows are in the way. */
@OnEachDatabase
class ApplyTest {
    static final class Pilot {
        Long id;
        String badge;
        String mobile;
        String country;

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
    }

    private static final Model MODEL = Model.of(
            "pilots",
            Entity.of(Pilot.class, Pilot::new)
                    .column(Pilot::badge, required(), length(3), unique())
                    .column(Pilot::mobile, length(20))
                    .column(Pilot::country, required(), length(2)));

    private static final String FIRST = """
            bathra: 1
            steps:
              - create entity: Pilot
                key: [id]
                keys: generated
                attributes:
                  id: long
                  badge: text 10
                  phone: text 20
              - create entity: Seal
                key: [number]
                attributes:
                  number: integer
            """;

    private static final String SECOND = """
            bathra: 1
            after: 2026-11-20-first
            steps:
              - rename attribute: Pilot.phone
                to: mobile
              - add attribute: Pilot.country
                type: text 2
                required: true
                fill: { value: "NO" }
              - change attribute: Pilot.badge
                type: { from: text 10, to: text 3 }
                required: { from: false, to: true }
              - add unique: Pilot.badge
            """;

    private static final String THIRD = """
            bathra: 1
            after: 2026-12-03-second
            steps:
              - drop entity: Seal
                rows: lost
            """;

    private final TestDatabase database;
    private final List<String> told = new CopyOnWriteArrayList<>();

    @TempDir
    Path folder;

    private Store store;
    private SchemaChanges changes;

    ApplyTest(TestDatabase database) {
        this.database = database;
    }

    @BeforeEach
    void open() throws IOException {
        store = Store.open(MODEL, database.sharedUrl());
        write("2026-11-20-first", FIRST);
        changes = SchemaChanges.of(store, folder);
    }

    @AfterEach
    void close() {
        store.close();
    }

    private void write(String name, String text) throws IOException {
        Files.writeString(folder.resolve(name + ".yaml"), text);
    }

    private List<String> apply(ApplyTerms terms) {
        return changes.evolution().told(told::add).apply(terms);
    }

    private void insert(String badge, String phone) {
        store.sql("insert into pilot (badge, phone) values (:badge, :phone)")
                .with("badge", badge)
                .with("phone", phone)
                .execute();
    }

    private long pilots() {
        return store.sql("select count(*) from pilot").as(Long.class).one();
    }

    @Test
    void eachFileIsAppliedOnceAndRowsStay() throws IOException {
        assertThat(changes.apply()).containsExactly("2026-11-20-first");
        insert("P01", "112");
        insert("P02", null);
        assertThat(changes.apply()).isEmpty();
        assertThat(changes.evolution().nothingToDo()).isEqualTo("nothing to do: 1 file, which is applied");
        write("2026-12-03-second", SECOND);
        write("2026-12-04-third", THIRD);
        assertThat(changes.status())
                .extracting(FileState::state)
                .containsExactly(State.APPLIED, State.PENDING, State.PENDING);
        assertThatThrownBy(changes::require)
                .hasMessageContaining("2026-12-03-second is pending, 2026-12-04-third is pending");
        assertThatThrownBy(() -> apply(ApplyTerms.ALL))
                .hasMessageContaining("lost by '2026-12-04-third' (drop entity Seal)")
                .hasMessageContaining("--losing 2026-12-04-third");
        assertThat(changes.status().get(1).state()).as("nothing was done").isEqualTo(State.PENDING);
        assertThat(apply(ApplyTerms.ALL.until("2026-12-03-second"))).containsExactly("2026-12-03-second");
        assertThat(apply(ApplyTerms.ALL.losing("2026-12-04-third"))).containsExactly("2026-12-04-third");
        assertThat(told).contains("applied 2026-12-03-second", "applied 2026-12-04-third");
        changes.require();
        assertThat(store.schema().verify()).isEmpty();
        store.run(work -> {
            Pilot pilot = work.from(Pilot.class).list().get(0);
            assertThat(pilot.mobile + pilot.country).isEqualTo("112NO");
            Pilot fresh = new Pilot();
            fresh.badge = "P03";
            fresh.country = "SE";
            work.add(fresh);
        });
        assertThat(pilots()).isEqualTo(3);
        FileState first = changes.status().get(0);
        assertThat(first.by()).contains("process " + ProcessHandle.current().pid());
        assertThat(first.endedAt()).isNotNull();
    }

    @Test
    void rowsThatAreInTheWayAreToldAndNothingIsDone() throws IOException {
        changes.apply();
        insert("P01", "1");
        insert("P01", "2");
        insert("P0002", "3");
        insert(null, "4");
        write("2026-12-03-second", SECOND);
        assertThatThrownBy(() -> apply(ApplyTerms.ALL))
                .hasMessageContaining("rows are in the way of 'change attribute Pilot.badge' in 2026-12-03-second")
                .hasMessageContaining("rows with nothing in badge: 1 (id ")
                .hasMessageContaining("values of badge longer than 3: 1 (id ");
        store.sql("update pilot set badge = 'P02' where badge = 'P0002'").execute();
        store.sql("update pilot set badge = 'P03' where badge is null").execute();
        assertThatThrownBy(() -> apply(ApplyTerms.ALL))
                .hasMessageContaining("values of badge that are there more than once: 1 (badge 'P01' 2 times)")
                .hasMessageContaining("apply again");
        store.sql("delete from pilot where id = (select max(id) from (select id from pilot where badge = 'P01') p)")
                .execute();
        assertThat(apply(ApplyTerms.ALL)).containsExactly("2026-12-03-second");
        assertThat(pilots()).isEqualTo(3);
        assertThat(changes.evolution().status()).allMatch(one -> one.state() == State.APPLIED);
    }

    @Test
    void aBackfillInPortionsEndsOrIsRefused() throws IOException {
        changes.apply();
        for (int i = 0; i < 7; i++) {
            insert("P0" + i, null);
        }
        String text =
                "bathra: 1\nafter: 2026-11-20-first\nsteps:\n  - backfill: Pilot.phone\n    %s\n    portions: 2\n";
        write("2026-12-03-second", text.formatted("sql: { any: \"update pilot set phone = '1'\" }"));
        assertThatThrownBy(() -> apply(ApplyTerms.ALL)).hasMessageContaining("has written 14 rows of 7");
        store.sql("update pilot set phone = null").execute();
        write("2026-12-03-second", text.formatted("term: badge"));
        told.clear();
        apply(ApplyTerms.ALL);
        assertThat(told).contains("    2 rows", "    4 rows", "    6 rows", "    7 rows");
        assertThat(store.sql("select count(*) from pilot where phone = badge")
                        .as(Long.class)
                        .one())
                .isEqualTo(7);
    }

    /** A file of which nothing was done is as good as new. */
    @Test
    void whatWasRefusedAtItsFirstStepMayStillBeChanged() throws IOException {
        changes.apply();
        insert("P0001", "1");
        String text =
                "bathra: 1\nafter: 2026-11-20-first\nsteps:\n  - change attribute: Pilot.badge\n    type: { from: text 10,"
                        + " to: text %d }\n";
        write("2026-12-03-second", text.formatted(3));
        assertThatThrownBy(() -> apply(ApplyTerms.ALL)).hasMessageContaining("values of badge longer than 3: 1 (id 1)");
        assertThat(changes.status().get(1).state()).isEqualTo(State.PENDING);
        write("2026-12-03-second", text.formatted(6));
        assertThat(apply(ApplyTerms.ALL)).containsExactly("2026-12-03-second");
    }

    @Test
    void whatDoesNotFitIsToldBeforeAnythingIsDone() throws IOException {
        changes.apply();
        write("2026-12-03-second", SECOND);
        write("2026-11-20-first", FIRST.replace("text 20", "text 30"));
        assertThatThrownBy(() -> apply(ApplyTerms.ALL))
                .hasMessageContaining("'2026-11-20-first' was changed after it was applied on ");
        assertThat(changes.status().get(0).state()).isEqualTo(State.CHANGED);
        write("2026-11-20-first", FIRST + "# a note plays no part\n");
        store.sql("alter table pilot drop column phone").withoutTransaction().execute();
        assertThatThrownBy(() -> apply(ApplyTerms.ALL))
                .hasMessageContaining("the tables are not what the files before '2026-12-03-second' have made")
                .hasMessageContaining("pilot.phone");
        Files.delete(folder.resolve("2026-11-20-first.yaml"));
        write(
                "2026-12-03-second",
                "bathra: 1\nsteps:\n  - create entity: Other\n    key: [id]\n    attributes: { id: long }\n");
        assertThatThrownBy(() -> apply(ApplyTerms.ALL))
                .hasMessageContaining("has had '2026-11-20-first'")
                .hasMessageContaining("not among the files");
        assertThat(changes.status()).extracting(FileState::state).containsExactly(State.PENDING, State.MISSING);
        assertThatThrownBy(() -> store.schema().createMissing()).hasMessageContaining("change files");
        assertThatThrownBy(() -> store.schema().recreate("pilots")).hasMessageContaining("change files");
    }

    @Test
    void aDatabaseThatWasMadeOtherwiseIsAdopted() throws IOException {
        store.schema().createMissing();
        write("2026-11-20-first", FIRST.substring(0, FIRST.indexOf("  - create entity: Seal")));
        write("2026-12-03-second", SECOND);
        assertThatThrownBy(() -> apply(ApplyTerms.ALL)).hasMessageContaining("adopt them");
        assertThatThrownBy(() -> changes.evolution().adopt(ApplyTerms.ALL.until("2026-11-20-first")))
                .hasMessageContaining("the tables are not what the files make")
                .hasMessageContaining("pilot.phone");
        assertThat(changes.evolution().adopt(ApplyTerms.ALL)).hasSize(2);
        assertThat(changes.evolution().adopt(ApplyTerms.ALL)).isEmpty();
        assertThat(changes.apply()).isEmpty();
        changes.require();
    }

    @RepeatedTest(3)
    void ofManyWhoBeginAtOnceOneDoesTheWork() throws IOException {
        write("2026-12-03-second", SECOND);
        List<CompletableFuture<List<String>>> all = new ArrayList<>();
        for (int i = 0; i < 6; i++) {
            all.add(CompletableFuture.supplyAsync(() -> apply(ApplyTerms.ALL.waiting(Duration.ofMinutes(2)))));
        }
        List<Integer> applied =
                all.stream().map(one -> one.join().size()).sorted().toList();
        assertThat(applied.stream().mapToInt(Integer::intValue).sum()).isEqualTo(2);
        assertThat(told.stream().filter(line -> line.startsWith("applied")))
                .containsExactly("applied 2026-11-20-first", "applied 2026-12-03-second");
        assertThat(store.schema().verify()).isEmpty();
    }
}
