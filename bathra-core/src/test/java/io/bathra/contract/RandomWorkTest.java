package io.bathra.contract;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.harbour.Berth;
import io.bathra.harbour.Harbour;
import io.bathra.harbour.Movement;
import io.bathra.harbour.Operator;
import io.bathra.harbour.PortCall;
import io.bathra.harbour.Vessel;
import io.bathra.testing.TestDatabase;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.function.Consumer;
import java.util.stream.Stream;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;

/**
 * Random work on a graph, flushed, rolled back and committed at random: what a fresh unit reads is what the objects
 * say, and both sides of every association agree.
 */
class RandomWorkTest {
    private static final LocalDateTime START = LocalDateTime.of(2026, 4, 1, 0, 0);

    @Property(tries = 150)
    void whatIsCommittedIsWhatTheObjectsSay(@ForAll Random random, @ForAll @IntRange(min = 5, max = 60) int steps) {
        work(TestDatabase.H2, random, steps);
    }

    @Property(tries = 40)
    void onSqliteToo(@ForAll Random random, @ForAll @IntRange(min = 5, max = 60) int steps) {
        work(TestDatabase.SQLITE, random, steps);
    }

    private static void work(TestDatabase database, Random random, int steps) {
        try (Store store = Store.open(Harbour.MODEL, database.empty())) {
            store.schema().createMissing();
            for (int unit = 0; unit < 2; unit++) {
                List<String> expected;
                try (UnitOfWork work = store.begin()) {
                    Graph graph = new Graph(work, random, unit);
                    for (int step = 0; step < steps; step++) {
                        graph.change();
                    }
                    work.commit();
                    graph.bothSidesAgree();
                    graph.all()
                            .forEach(object -> assertThat(work.standing(object)).isEqualTo(Standing.CLEAN));
                    expected = graph.describe();
                }
                try (UnitOfWork fresh = store.begin()) {
                    Graph read = new Graph(fresh, random, unit);
                    assertThat(read.describe()).containsExactlyInAnyOrderElementsOf(expected);
                    read.bothSidesAgree();
                }
            }
        }
    }

    /** The objects of one unit, as they are in memory. */
    private static final class Graph {
        private final UnitOfWork work;
        private final Random random;
        private final List<Operator> operators;
        private final List<Vessel> vessels;
        private final List<Berth> berths;
        private final List<PortCall> calls;
        private final List<Movement> movements;
        private int names;

        Graph(UnitOfWork work, Random random, int unit) {
            this.work = work;
            this.random = random;
            this.names = unit * 10_000;
            operators = new ArrayList<>(work.from(Operator.class).list());
            vessels = new ArrayList<>(work.from(Vessel.class).list());
            berths = new ArrayList<>(work.from(Berth.class).list());
            calls = new ArrayList<>(work.from(PortCall.class).list());
            movements = new ArrayList<>(work.from(Movement.class).list());
        }

        void change() {
            switch (random.nextInt(16)) {
                case 0 -> operators.add(added(new Operator("operator " + names++)));
                case 1, 2 -> vessels.add(added(new Vessel("" + (9_000_000 + names), "vessel " + names++)));
                case 3 -> berths.add(added(new Berth("b" + names++)));
                case 4, 5 ->
                    any(vessels, vessel -> {
                        PortCall call = new PortCall(vessel, START.plusHours(names++));
                        calls.add(random.nextBoolean() ? added(call) : reached(vessel, call));
                    });
                case 6 ->
                    any(calls, call -> {
                        Movement movement = new Movement("movement " + names++);
                        call.movements().add(movement);
                        movements.add(movement);
                    });
                case 7 ->
                    any(
                            vessels,
                            vessel -> any(operators, operator -> {
                                if (random.nextBoolean()) {
                                    vessel.operator().set(operator);
                                } else {
                                    operator.vessels().add(vessel);
                                }
                            }));
                case 8 -> any(vessels, vessel -> vessel.operator().clear());
                case 9 ->
                    any(
                            calls,
                            call -> any(vessels, vessel -> {
                                if (random.nextBoolean()) {
                                    call.vessel().set(vessel);
                                } else {
                                    vessel.calls().add(call);
                                }
                            }));
                case 10 ->
                    any(berths, berth -> any(berths, outer -> berth.within().set(outer)));
                case 11 -> any(calls, call -> any(berths, berth -> call.berth().set(berth)));
                case 12 -> any(vessels, vessel -> vessel.name("vessel " + names++));
                case 13 -> remove();
                case 14 -> work.flush();
                default -> work.rollback();
            }
        }

        private <T> T added(T object) {
            work.add(object);
            return object;
        }

        private PortCall reached(Vessel vessel, PortCall call) {
            vessel.calls().add(call);
            return call;
        }

        private void remove() {
            any(movements, this::remove);
            if (random.nextInt(3) == 0) {
                any(calls, this::remove);
            }
            if (random.nextInt(4) == 0) {
                any(vessels, vessel -> {
                    List.copyOf(vessel.calls()).forEach(this::remove);
                    work.remove(vessel);
                    vessels.remove(vessel);
                });
            }
            if (random.nextInt(4) == 0) {
                any(berths, berth -> {
                    calls.stream()
                            .filter(call -> call.berth().find().orElse(null) == berth)
                            .forEach(call -> call.berth().clear());
                    List.copyOf(berth.parts()).forEach(part -> part.within().clear());
                    work.remove(berth);
                    berths.remove(berth);
                });
            }
        }

        private void remove(Movement movement) {
            work.remove(movement);
            movements.remove(movement);
        }

        private void remove(PortCall call) {
            List.copyOf(call.movements()).forEach(this::remove);
            work.remove(call);
            calls.remove(call);
        }

        private <T> void any(List<T> list, Consumer<T> use) {
            if (!list.isEmpty()) {
                use.accept(list.get(random.nextInt(list.size())));
            }
        }

        List<Object> all() {
            return Stream.of(operators, vessels, berths, calls, movements)
                    .<Object>flatMap(List::stream)
                    .toList();
        }

        List<String> describe() {
            List<String> lines = new ArrayList<>();
            operators.forEach(operator -> lines.add(operator.name()));
            vessels.forEach(vessel -> lines.add(vessel.imo() + " " + vessel.name() + " of "
                    + vessel.operator().find().map(Operator::name).orElse("nobody")));
            berths.forEach(berth -> lines.add(berth.code() + " within "
                    + berth.within().find().map(Berth::code).orElse("nothing")));
            calls.forEach(
                    call -> lines.add(call.eta() + " " + call.vessel().get().imo() + " at "
                            + call.berth().find().map(Berth::code).orElse("anchor")));
            movements.forEach(movement ->
                    lines.add(movement.kind() + " of " + movement.call().get().eta()));
            return lines;
        }

        void bothSidesAgree() {
            operators.forEach(one -> assertThat(one.vessels())
                    .containsExactlyInAnyOrderElementsOf(vessels.stream()
                            .filter(vessel -> vessel.operator().find().orElse(null) == one)
                            .toList()));
            vessels.forEach(one -> assertThat(one.calls())
                    .containsExactlyInAnyOrderElementsOf(calls.stream()
                            .filter(call -> call.vessel().get() == one)
                            .toList()));
            berths.forEach(one -> assertThat(one.parts())
                    .containsExactlyInAnyOrderElementsOf(berths.stream()
                            .filter(berth -> berth.within().find().orElse(null) == one)
                            .toList()));
            calls.forEach(one -> assertThat(one.movements())
                    .containsExactlyInAnyOrderElementsOf(movements.stream()
                            .filter(movement -> movement.call().get() == one)
                            .toList()));
        }
    }
}
