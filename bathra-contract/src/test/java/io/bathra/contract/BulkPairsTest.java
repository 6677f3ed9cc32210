package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.ordered;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.table;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.bulk.BulkResult;
import io.bathra.bulk.On;
import io.bathra.bulk.Pair;
import io.bathra.bulk.Rejection;
import io.bathra.error.InvalidChangesException;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Pairs in any number, neither side of which is read as objects. */
@OnEachDatabase
class BulkPairsTest {
    static final class Call {
        private Long id;
        private String reference;
        private final Links<Pilot> pilots = Links.empty();
        private final Links<Pilot> reserve = Links.empty();

        Call() {}

        Call(String reference) {
            this.reference = reference;
        }

        String reference() {
            return reference;
        }

        Links<Pilot> pilots() {
            return pilots;
        }

        Links<Pilot> reserve() {
            return reserve;
        }
    }

    static final class Pilot {
        private Long id;
        private String licence;
        private final Links<Call> calls = Links.empty();

        Pilot() {}

        Pilot(String licence) {
            this.licence = licence;
        }

        String licence() {
            return licence;
        }

        Links<Call> calls() {
            return calls;
        }
    }

    static final Entity<?>[] ENTITIES = {
        Entity.of(Call.class, Call::new)
                .column(Call::reference, required(), length(10), unique())
                .pivot(Call::pilots, Pilot::calls, table("pilotage"))
                .pivot(Call::reserve, table("reserve"), ordered()),
        Entity.of(Pilot.class, Pilot::new).column(Pilot::licence, required(), length(10), unique())
    };

    static final Model MODEL = Model.of("pilots", ENTITIES);

    private final Store store;

    BulkPairsTest(TestDatabase database) {
        store = Trips.open(MODEL, database.empty());
        store.schema().createMissing();
        store.bulk(Call.class).insert(IntStream.range(0, 100).mapToObj(i -> new Call("C" + i)));
        store.bulk(Pilot.class).insert(IntStream.range(0, 50).mapToObj(i -> new Pilot("P" + i)));
    }

    private static List<Pair> pairs(int calls, int each) {
        List<Pair> pairs = new ArrayList<>();
        for (int call = 0; call < calls; call++) {
            for (int i = 0; i < each; i++) {
                pairs.add(Pair.of("C" + call, "P" + (call + i) % 50));
            }
        }
        return pairs;
    }

    private List<String> pilots(String call) {
        return store.call(work -> work.from(Call.class).list().stream()
                .filter(one -> one.reference.equals(call))
                .flatMap(one -> one.pilots.stream())
                .map(pilot -> pilot.licence)
                .sorted()
                .toList());
    }

    @Test
    void pairsAreAddedByWhatIsUniqueOnEachSide() {
        var bulk = store.bulk(Call.class)
                .pairs(Call::pilots)
                .owners(Call::reference)
                .others(Pilot::licence);
        assertThat(bulk.add(pairs(10, 3)).inserted()).isEqualTo(30);
        BulkResult more = bulk.add(pairs(100, 10));
        assertThat(List.of(more.inserted(), more.skipped())).containsExactly(970L, 30L);
        assertThat(pilots("C99")).hasSize(10).contains("P49", "P8");
        BulkResult removed = bulk.remove(List.of(Pair.of("C99", "P49"), Pair.of("C99", "P30"), Pair.of("C99", "P49")));
        assertThat(List.of(removed.removed(), removed.skipped())).containsExactly(1L, 2L);
        assertThat(pilots("C99")).hasSize(9);
    }

    @Test
    void theOtherSideDoesItAsWellAndEntitiesAndKeysTellRowsToo() {
        store.run(work -> {
            Pilot pilot = work.from(Pilot.class).limit(1).list().get(0);
            Call call = work.from(Call.class).limit(1).list().get(0);
            assertThat(pilot.calls).isEmpty();
            BulkResult result = work.bulk(Pilot.class)
                    .pairs(Pilot::calls)
                    .add(List.of(Pair.of(pilot, call.id), Pair.of(pilot.id, call)));
            assertThat(List.of(result.inserted(), result.skipped())).containsExactly(1L, 1L);
            assertThat(pilot.calls).as("a read collection is read anew").containsExactly(call);
            assertThat(call.pilots).containsExactly(pilot);
        });
    }

    @Test
    void endsThatAreNotThereAreReported() {
        List<Pair> pairs = new ArrayList<>(pairs(100, 5));
        pairs.set(17, Pair.of("C1", "nobody"));
        pairs.set(200, Pair.of("nowhere", "P1"));
        var bulk = store.bulk(Call.class)
                .pairs(Call::pilots)
                .owners(Call::reference)
                .others(Pilot::licence);
        assertThatThrownBy(() -> bulk.add(pairs))
                .isInstanceOf(InvalidChangesException.class)
                .hasMessageContaining("row 18 of Call.pilots.Pilot.licence = nobody: names no Pilot");
        assertThat(pilots("C1")).isEmpty();
        List<Rejection> rejections = new ArrayList<>();
        var rejecting = store.bulk(Call.class)
                .rejectTo(rejections::add)
                .pairs(Call::pilots)
                .owners(Call::reference)
                .others(Pilot::licence);
        assertThat(rejecting.add(pairs.stream()).inserted()).isEqualTo(498);
        assertThat(rejections).extracting(Rejection::row).containsExactly(18L, 201L);
        rejections.clear();
        BulkResult byKey = store.bulk(Call.class)
                .rejectTo(rejections::add)
                .pairs(Call::reserve)
                .others(Pilot::licence)
                .add(List.of(Pair.of(-1L, "P1")));
        assertThat(byKey.rejected()).isOne();
        assertThat(rejections)
                .singleElement()
                .satisfies(rejection -> assertThat(rejection.reason())
                        .isEqualTo("leads to no Call; store that first, or mend the value"));
    }

    @Test
    void toolsNameEverythingAtRunTime() {
        List<Object> keys = store.call(work -> work.from(Call.class).keys());
        String first = keys.get(0).toString();
        String second = keys.get(1).toString();
        BulkResult result = store.bulk(Call.class)
                .pairs("pilots")
                .texts()
                .others(On.named(List.of("licence")))
                .add(List.of(Pair.of(first, "P1"), Pair.of(second, "P1"), Pair.of(second, "P2")));
        assertThat(result.inserted()).isEqualTo(3);
        assertThatThrownBy(() -> store.bulk(Call.class).pairs("pilots").texts().add(List.of(Pair.of("first", "1"))))
                .hasMessageContaining("Call.id = first: is not a whole number, such as 42");
        assertThatThrownBy(() -> store.bulk(Call.class).pairs("reference"))
                .hasMessageContaining("Call.reference is no pivot");
    }

    @Test
    void aReplacementWritesOnlyTheDifference() {
        var bulk = store.bulk(Call.class)
                .pairs(Call::pilots)
                .owners(Call::reference)
                .others(Pilot::licence);
        bulk.add(pairs(3, 4)); // C0: P0-P3, C1: P1-P4, C2: P2-P5
        Map<String, List<String>> wanted = new LinkedHashMap<>();
        wanted.put("C0", List.of("P0", "P1", "P2", "P3"));
        wanted.put("C1", List.of("P4", "P9", "P9"));
        wanted.put("C2", List.of());
        BulkResult result = bulk.replace(wanted);
        assertThat(List.of(result.inserted(), result.removed(), result.unchanged()))
                .containsExactly(1L, 7L, 5L);
        assertThat(pilots("C0")).containsExactly("P0", "P1", "P2", "P3");
        assertThat(pilots("C1")).containsExactly("P4", "P9");
        assertThat(pilots("C2")).isEmpty();
    }

    @Test
    void anOrderIsKept() {
        var bulk = store.bulk(Call.class)
                .pairs(Call::reserve)
                .owners(Call::reference)
                .others(Pilot::licence);
        bulk.add(List.of(Pair.of("C0", "P3"), Pair.of("C0", "P1")));
        bulk.add(List.of(Pair.of("C0", "P2")));
        assertThat(reserve("C0")).containsExactly("P3", "P1", "P2");
        BulkResult result = bulk.replace(Map.of("C0", List.of("P1", "P4", "P3")));
        assertThat(List.of(result.inserted(), result.removed())).containsExactly(1L, 1L);
        assertThat(reserve("C0")).containsExactly("P1", "P4", "P3");
    }

    private List<String> reserve(String call) {
        try (UnitOfWork work = store.begin()) {
            Call found = work.from(Call.class).list().stream()
                    .filter(one -> one.reference.equals(call))
                    .findFirst()
                    .orElseThrow();
            return found.reserve.asList().stream().map(pilot -> pilot.licence).toList();
        }
    }
}
