package io.bathra.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.FlushPlan;
import io.bathra.error.BathraException;
import io.bathra.error.UnorderableChangesException;
import io.bathra.harbour.Berth;
import io.bathra.harbour.Harbour;
import io.bathra.harbour.Movement;
import io.bathra.harbour.Operator;
import io.bathra.harbour.PortCall;
import io.bathra.harbour.Vessel;
import io.bathra.link.Link;
import io.bathra.mapping.Mapping;
import io.bathra.model.Declare;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

/** Plans made of objects alone: no database, no store. */
class FlushPlanTest {
    private static List<String> steps(FlushPlan plan) {
        return plan.steps().stream().map(FlushPlan.Step::toString).toList();
    }

    @Test
    void parentsComeBeforeTheirChildrenInOneStepATable() {
        List<Object> movements = new ArrayList<>();
        Operator operator = new Operator("Nordlicht");
        for (int v = 0; v < 3; v++) {
            Vessel vessel = new Vessel("900000" + v, "North " + v);
            vessel.operator().set(operator);
            PortCall call = new PortCall(vessel, LocalDateTime.of(2026, 4, 1, 6, 30));
            call.berth().set(new Berth("N" + v));
            for (int m = 0; m < 2; m++) {
                Movement movement = new Movement("shift");
                movement.call().set(call);
                movements.add(movement);
            }
        }
        FlushPlan plan = FlushPlan.ofNew(Harbour.MODEL, movements.toArray());
        assertThat(steps(plan))
                .containsExactly(
                        "insert operator (1 row)",
                        "insert vessel (3 rows)",
                        "insert berth (3 rows)",
                        "insert port_call (3 rows)",
                        "insert movement (6 rows)");
        assertThat(plan.steps().get(3).why())
                .isEqualTo("after insert berth (PortCall.berth); after insert vessel (PortCall.vessel)");
        assertThat(plan.rowCount()).isEqualTo(16);
        assertThat(plan)
                .hasToString(FlushPlan.ofNew(Harbour.MODEL, movements.toArray()).toString());
        assertThat(plan.toString().lines()).hasSize(6).first().asString().startsWith("#  operation  table");
    }

    @Test
    void nothingNewGivesAnEmptyPlan() {
        assertThat(FlushPlan.ofNew(Harbour.MODEL).isEmpty()).isTrue();
        assertThat(FlushPlan.ofNew(Harbour.MODEL)).hasToString("nothing to flush");
    }

    @Test
    void aChainOfAHundredThousandIsNoProblem() {
        Berth first = new Berth("0");
        Berth last = first;
        for (int i = 1; i < 100_000; i++) {
            Berth next = new Berth(String.valueOf(i));
            last.within().set(next);
            last = next;
        }
        List<String> rows = FlushPlan.ofNew(Harbour.MODEL, first).steps().get(0).rows();
        assertThat(rows).hasSize(100_000).startsWith("Berth (new #100000)").endsWith("Berth (new #1)");
    }

    /** Two entities that need one another: no link can be left out at first. */
    static final class Lock {
        private Long id;
        private final Link<Key> key = Link.empty();

        Link<Key> key() {
            return key;
        }
    }

    static final class Key {
        private Long id;
        private final Link<Lock> lock = Link.empty();
        private final Link<Lock> spareOf = Link.empty();

        Link<Lock> lock() {
            return lock;
        }

        Link<Lock> spareOf() {
            return spareOf;
        }
    }

    @Test
    void aRingThatCannotBeCutIsPrinted() {
        Model model = Model.of(
                "locks",
                Entity.of(Lock.class, Lock::new).link(Lock::key, Declare.required()),
                Entity.of(Key.class, Key::new).link(Key::lock, Declare.required()));
        Lock lock = new Lock();
        Key key = new Key();
        lock.key().set(key);
        key.lock().set(lock);
        assertThatThrownBy(() -> FlushPlan.ofNew(model, lock))
                .isInstanceOf(UnorderableChangesException.class)
                .hasMessageContaining("Lock (new #1).key -> Key (new #2).lock -> Lock (new #1)");
    }

    @Test
    void aRingOverTwoTablesIsCutAtItsNullableLink() {
        Model model = Model.of(
                "locks",
                Entity.of(Lock.class, Lock::new).link(Lock::key, Declare.required()),
                Entity.of(Key.class, Key::new));
        Lock lock = new Lock();
        Key key = new Key();
        lock.key().set(key);
        key.spareOf().set(lock);
        FlushPlan plan = FlushPlan.ofNew(model, lock);
        assertThat(steps(plan)).containsExactly("insert key (1 row)", "insert lock (1 row)", "update key (1 row)");
        assertThat(plan.steps().get(2).columns()).containsExactly("spareOf");
    }

    @Test
    void bothSidesMayNotContradictOneAnother() {
        Vessel one = new Vessel("9000001", "one");
        Vessel other = new Vessel("9000002", "other");
        PortCall call = new PortCall(one, LocalDateTime.MIN);
        other.calls().add(call);
        assertThatThrownBy(() -> FlushPlan.ofNew(Harbour.MODEL, other))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("holds a PortCall whose vessel leads to another Vessel");
    }

    /**
     * Whatever the shape of a forest of berths, and in whatever order they are added, each comes after the one it lies
     * in.
     */
    @Property(tries = 200)
    void everyBerthComesAfterTheOneItLiesIn(@ForAll @IntRange(min = 1, max = 60) int size, @ForAll Random random) {
        List<Berth> berths = new ArrayList<>();
        for (int i = 0; i < size; i++) {
            Berth berth = new Berth(String.valueOf(i));
            if (i > 0 && random.nextInt(4) > 0) {
                berth.within().set(berths.get(random.nextInt(i)));
            }
            berths.add(berth);
        }
        List<Berth> shuffled = new ArrayList<>(berths);
        Collections.shuffle(shuffled, random);
        Plan plan = Plan.ofNew(Mapping.of(Harbour.MODEL), shuffled.toArray());
        assertThat(plan.steps()).hasSize(1);
        Map<Object, Integer> place = new HashMap<>();
        plan.steps().get(0).changes().forEach(change -> place.put(change.entry().object(), place.size()));
        assertThat(place).hasSize(size);
        for (Berth berth : berths) {
            berth.within()
                    .find()
                    .ifPresent(outer -> assertThat(place.get(outer)).isLessThan(place.get(berth)));
        }
    }
}
