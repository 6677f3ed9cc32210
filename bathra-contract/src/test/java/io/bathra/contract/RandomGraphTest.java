package io.bathra.contract;

import static io.bathra.model.Declare.deferrable;
import static io.bathra.model.Declare.enforcedBy;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.model.Declare.ordered;
import static io.bathra.model.Declare.removeOrphans;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static io.bathra.model.Declare.uniquePair;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Savepoint;
import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.attr.DeleteRule;
import io.bathra.attr.Enforcer;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.UniqueViolation;
import io.bathra.link.Later;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.OnChosenDatabases;
import io.bathra.testing.TenSeconds;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import javax.sql.DataSource;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.lifecycle.AddLifecycleHook;

/**
 * Random work on a graph that has everything: links to itself in rings, one-to-one, unique values that change hands,
 * parts, an ordered pivot, inlined values, versions, delete rules. Whatever was committed is read back as the objects
 * had it.
 */
@AddLifecycleHook(TenSeconds.class)
@AddLifecycleHook(OnChosenDatabases.class)
class RandomGraphTest {
    record Point(int x, Integer y) {}

    static final class Node {
        private Long id;
        private String code;
        private Integer rank;
        private int weight;
        private Point point;
        private int revision;
        private List<String> notes = new ArrayList<>();
        private final Map<String, Integer> tags = new LinkedHashMap<>();
        private final Link<Node> parent = Link.empty();
        private final Links<Node> children = Links.empty();
        private final Link<Node> next = Link.empty();
        private final Link<Node> previous = Link.empty();
        private final Links<Node> peers = Links.empty();
        private final Links<Node> peersOf = Links.empty();
        private final Later<String> remark = Later.empty();

        String code() {
            return code;
        }

        Integer rank() {
            return rank;
        }

        int weight() {
            return weight;
        }

        int revision() {
            return revision;
        }

        List<String> notes() {
            return notes;
        }

        Map<String, Integer> tags() {
            return tags;
        }

        Link<Node> parent() {
            return parent;
        }

        Links<Node> children() {
            return children;
        }

        Link<Node> next() {
            return next;
        }

        Link<Node> previous() {
            return previous;
        }

        Links<Node> peers() {
            return peers;
        }

        Links<Node> peersOf() {
            return peersOf;
        }

        @Override
        public String toString() {
            return code;
        }
    }

    /** The same cases each time: whoever looks for new ones takes another number. */
    private static final String SEED = "2026";

    /** So many models differ in what they declare of the same classes. */
    private static final int MODELS = 30;

    private static Model model(int number) {
        DeleteRule rule = DeleteRule.values()[number % 3];
        boolean byUnit = rule != DeleteRule.RESTRICT && number % 2 == 0;
        boolean orphans = number % 5 == 1;
        boolean late = number % 5 > 2;
        Entity<Node> node = Entity.of(Node.class, Node::new)
                .link(Node::parent, onDelete(rule), enforcedBy(byUnit ? Enforcer.UNIT : Enforcer.DATABASE))
                .link(Node::previous, Node::next)
                .parts(Node::notes)
                .parts(Node::tags);
        node = orphans
                ? node.links(Node::children, Node::parent, removeOrphans())
                : node.links(Node::children, Node::parent);
        node = late
                ? node.column(Node::code, required(), length(6), unique(), deferrable())
                        .link(Node::next, unique(), deferrable())
                : node.column(Node::code, required(), length(6), unique()).link(Node::next, unique());
        if (number % 7 != 2) {
            node = node.column(Node::rank, unique());
        }
        if (number % 7 != 3) {
            node = node.version(Node::revision);
        }
        node = number % 4 == 1
                ? node.pivot(Node::peers, Node::peersOf, ordered(), uniquePair())
                : node.pivot(Node::peers, Node::peersOf, ordered());
        return Model.of("nodes", node);
    }

    /** The databases in which the tables of each model are. */
    private record Place(TestDatabase database, int model) {}

    private static final Map<Place, DataSource> SOURCES = new ConcurrentHashMap<>();
    private static final Map<Place, Store> STORES = new ConcurrentHashMap<>();

    @Property(tries = 2000, seed = SEED)
    void onH2(
            @ForAll long seed,
            @ForAll @IntRange(max = MODELS - 1) int model,
            @ForAll @IntRange(min = 3, max = 40) int steps) {
        work(new Place(TestDatabase.H2, model), new Random(seed), steps);
    }

    @Property(tries = 2000, seed = SEED)
    void onSqlite(
            @ForAll long seed,
            @ForAll @IntRange(max = MODELS - 1) int model,
            @ForAll @IntRange(min = 3, max = 40) int steps) {
        work(new Place(TestDatabase.SQLITE, model), new Random(seed), steps);
    }

    @Property(tries = 2000, seed = SEED)
    void onPostgres(
            @ForAll long seed,
            @ForAll @IntRange(max = MODELS - 1) int model,
            @ForAll @IntRange(min = 3, max = 40) int steps) {
        work(new Place(TestDatabase.POSTGRESQL, model), new Random(seed), steps);
    }

    @Property(tries = 2000, seed = SEED)
    void onMariaDb(
            @ForAll long seed,
            @ForAll @IntRange(max = MODELS - 1) int model,
            @ForAll @IntRange(min = 3, max = 40) int steps) {
        work(new Place(TestDatabase.MARIADB, model), new Random(seed), steps);
    }

    private static Store store(Place place) {
        return STORES.computeIfAbsent(place, d -> {
            SOURCES.put(d, d.database().empty());
            Store store = Trips.open(model(d.model()), SOURCES.get(d));
            store.schema().createMissing();
            return store;
        });
    }

    private static void work(Place place, Random random, int steps) {
        Store store = store(place);
        for (String table : List.of("node_peers", "node_notes", "node_tags")) {
            TestDatabase.execute(SOURCES.get(place), "delete from " + table);
        }
        TestDatabase.execute(SOURCES.get(place), "update node set parent_id = null, next_id = null");
        TestDatabase.execute(SOURCES.get(place), "delete from node");
        for (int unit = 0; unit < 3; unit++) {
            List<String> expected;
            try (UnitOfWork work = store.begin()) {
                Graph graph = new Graph(work, random, unit);
                for (int step = 0; step < steps && !graph.refused; step++) {
                    graph.change();
                }
                graph.attempt(work::commit);
                if (graph.refused) {
                    continue; // what was committed before is the start of the next unit
                }
                assertThat(work.changes()).as("all is written").isEmpty();
                graph.nodes.forEach(node -> assertThat(work.standing(node)).isEqualTo(Standing.CLEAN));
                expected = graph.describe();
                assertThat(work.changes()).as("reading changes nothing").isEmpty();
            }
            try (UnitOfWork fresh = store.begin()) {
                Graph read = new Graph(fresh, random, unit);
                assertThat(read.describe()).containsExactlyElementsOf(expected);
                assertThat(fresh.changes()).isEmpty();
            }
        }
    }

    /** The objects of one unit, as they are in memory. */
    private static final class Graph {
        private final UnitOfWork work;
        private final Random random;
        private final List<Node> all;
        private List<Node> nodes;
        private boolean refused;
        private boolean forgotten;
        private int names;

        Graph(UnitOfWork work, Random random, int unit) {
            this.work = work;
            this.random = random;
            this.names = unit * 1000;
            all = new ArrayList<>(work.from(Node.class).list());
            nodes = List.copyOf(all);
        }

        /**
         * Rows may stand in the way of a removal, and what a rollback brings back may have a value that was given away
         * since.
         */
        void attempt(Runnable run) {
            try {
                run.run();
            } catch (InvalidChangesException e) {
                assertThat(e.problems())
                        .allSatisfy(problem -> assertThat(problem.reason())
                                .containsPattern("^leads to an object that|^must be unique, but"));
                refused = true;
            } catch (UniqueViolation e) {
                assertThat(forgotten).as("one of two that swap was let go").isTrue();
                refused = true;
            }
            nodes = all.stream()
                    .filter(node ->
                            work.standing(node) != Standing.UNTRACKED && work.standing(node) != Standing.REMOVED)
                    .toList();
        }

        void change() {
            attempt(this::changeSomething);
            if (!refused && all.stream().anyMatch(node -> work.standing(node) == Standing.REMOVED)) {
                attempt(work::flush); // so that the objects show what goes along
            }
        }

        private void changeSomething() {
            switch (random.nextInt(34)) {
                case 32 -> {
                    Node node = new Node();
                    node.code = "n" + names++;
                    work.bulk(Node.class).insert(List.of(node));
                    all.add(work.from(Node.class)
                            .where(text(Node::code).is(node.code))
                            .one());
                }
                case 33 -> {
                    work.flush();
                    one(node -> {
                        forgotten = true;
                        work.forget(node);
                        node.weight += 5;
                        work.adopt(node);
                    });
                }
                case 27, 28 -> afresh(node -> {});
                case 29, 30 ->
                    afresh(node -> {
                        work.row(Node.class, node.id).set(Node::weight, node.weight + 3);
                        if (random.nextBoolean()) {
                            work.flush();
                        }
                    });
                case 31 -> {
                    work.flush();
                    List<Node> known = nodes;
                    forgotten = true;
                    work.forgetAll();
                    all.replaceAll(node -> known.contains(node) ? work.require(Node.class, node.id) : node);
                }
                case 20, 21 -> place();
                case 22 -> inner();
                case 23 -> {
                    work.flush();
                    one(work::refresh);
                }
                case 24 -> work.discard();
                case 25 -> {
                    work.flush();
                    work.sql("update node set weight = weight + 1").execute();
                }
                case 26 ->
                    work.from(Node.class)
                            .where(number(Node::weight).atLeast(1))
                            .update(the(Node::weight).to(0));
                case 17 -> one(this::remove);
                case 18 -> work.flush();
                case 19 -> {
                    if (random.nextBoolean()) {
                        work.rollback();
                    } else {
                        work.commit();
                    }
                }
                default -> changeOne();
            }
        }

        /** Another object stands for the row from now on; meanwhile the row may be changed without one. */
        private void afresh(Consumer<Node> meanwhile) {
            work.flush();
            one(node -> {
                forgotten = true;
                work.forget(node);
                meanwhile.accept(node);
                all.set(all.indexOf(node), work.require(Node.class, node.id));
            });
        }

        /** What is done after a place leaves no trace when it goes back. */
        private void place() {
            Savepoint place = work.savepoint();
            List<Node> ever = List.copyOf(all);
            List<String> before = describe();
            changeSome();
            place.rollback();
            leftNoTrace(ever, before);
        }

        private void inner() {
            work.flush();
            List<Node> ever = List.copyOf(all);
            List<String> before = describe();
            assertThatThrownBy(() -> work.run(within -> {
                        changeSome();
                        throw new IllegalStateException("taken back");
                    }))
                    .hasMessage("taken back");
            leftNoTrace(ever, before);
        }

        private void changeSome() {
            for (int i = random.nextInt(4); i >= 0; i--) {
                changeOne();
                if (random.nextInt(3) == 0) {
                    try {
                        work.flush();
                    } catch (InvalidChangesException e) {
                        return; // which is taken back as well
                    }
                }
            }
        }

        private void leftNoTrace(List<Node> ever, List<String> before) {
            assertThat(work.changes()).as("nothing is asked for").isEmpty();
            all.retainAll(ever);
            attempt(() -> {});
            assertThat(describe()).containsExactlyElementsOf(before);
        }

        private void changeOne() {
            switch (random.nextInt(18)) {
                case 17 -> one(node -> node.remark.set("remark " + random.nextInt(9)));
                case 0, 1, 2 -> add();
                case 3 -> two((a, b) -> a.parent.set(b));
                case 4 -> one(node -> node.parent.clear());
                case 5 -> two((a, b) -> a.children.add(b));
                case 6 -> two((a, b) -> b.previous.set(a));
                case 7 ->
                    two((a, b) -> {
                        b.previous.find().ifPresent(before -> before.next.clear());
                        a.next.set(b);
                    });
                case 8 -> one(node -> node.next.clear());
                case 9 ->
                    two((a, b) -> {
                        String code = a.code;
                        a.code = b.code;
                        b.code = code;
                    });
                case 10 -> ranks();
                case 11, 12 -> one(node -> notes(node.notes));
                case 13 ->
                    one(node -> {
                        node.tags.remove("t" + random.nextInt(4));
                        node.tags.put("t" + random.nextInt(4), random.nextInt(9));
                    });
                case 14, 15 -> two(this::peers);
                case 16 ->
                    one(node -> {
                        node.point = random.nextInt(3) == 0
                                ? null
                                : new Point(random.nextInt(5), random.nextBoolean() ? null : random.nextInt(5));
                        node.weight += random.nextInt(2);
                    });
                default -> throw new IllegalStateException();
            }
        }

        private void add() {
            Node node = new Node();
            node.code = "n" + names++;
            node.notes.add("first");
            if (!nodes.isEmpty() && random.nextBoolean()) {
                Node other = nodes.get(random.nextInt(nodes.size()));
                if (random.nextBoolean()) {
                    node.parent.set(other);
                } else {
                    node.peers.add(other);
                }
            }
            work.add(node);
            all.add(node);
        }

        private void ranks() {
            List<Integer> ranks = new ArrayList<>();
            for (int i = 0; i < nodes.size(); i++) {
                ranks.add(random.nextInt(3) == 0 ? null : Integer.valueOf(i));
            }
            Collections.shuffle(ranks, random);
            for (int i = 0; i < nodes.size(); i++) {
                nodes.get(i).rank = ranks.get(i);
            }
        }

        private void notes(List<String> notes) {
            int at = notes.isEmpty() ? 0 : random.nextInt(notes.size());
            switch (random.nextInt(5)) {
                case 0 -> notes.add("note " + random.nextInt(4));
                case 1 -> notes.add(at, "note " + random.nextInt(4));
                case 2 -> Collections.shuffle(notes, random);
                case 3 -> notes.subList(0, at).clear();
                default -> {
                    if (!notes.isEmpty()) {
                        notes.set(at, "other " + random.nextInt(4));
                    }
                }
            }
        }

        private void peers(Node a, Node b) {
            switch (random.nextInt(7)) {
                case 0, 1 -> a.peers.add(b);
                case 2 -> a.peersOf.add(b);
                case 3 -> a.peers.remove(b);
                case 4 -> a.peersOf.remove(b);
                case 5 -> {
                    List<Node> some = new ArrayList<>(nodes);
                    Collections.shuffle(some, random);
                    a.peers.replaceAll(some.subList(0, random.nextInt(some.size())));
                }
                default -> {
                    if (a.peers.contains(b)) {
                        a.peers.move(b, random.nextInt(a.peers.size()));
                    } else {
                        a.peers.insert(random.nextInt(a.peers.size() + 1), b);
                    }
                }
            }
        }

        private void remove(Node node) {
            if (work.standing(node) == Standing.NEW || random.nextInt(3) > 0) {
                node.children.asList().forEach(child -> child.parent.clear());
                node.previous.find().ifPresent(before -> before.next.clear());
            }
            work.remove(node);
        }

        private void one(Consumer<Node> use) {
            if (!nodes.isEmpty()) {
                use.accept(nodes.get(random.nextInt(nodes.size())));
            }
        }

        private void two(BiConsumer<Node, Node> use) {
            one(a -> one(b -> use.accept(a, b)));
        }

        List<String> describe() {
            return describe(nodes);
        }

        private static List<String> describe(List<Node> some) {
            return some.stream()
                    .map(node -> node.code + " " + node.rank + " " + node.weight + " " + node.point + " in "
                            + node.parent.find().orElse(null) + " before "
                            + node.next.find().orElse(null) + " after "
                            + node.previous.find().orElse(null) + " " + node.notes + " " + new TreeMap<>(node.tags)
                            + " with " + node.peers.asList() + " of " + sorted(node.peersOf) + " around "
                            + sorted(node.children) + " " + node.remark.find().orElse(null))
                    .sorted()
                    .toList();
        }

        private static List<String> sorted(Links<Node> links) {
            return links.stream().map(Node::code).sorted().toList();
        }
    }
}
