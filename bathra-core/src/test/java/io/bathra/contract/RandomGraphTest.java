package io.bathra.contract;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.ordered;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Standing;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import javax.sql.DataSource;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;

/**
 * Random work on a graph that has everything: links to itself in rings, one-to-one, unique values that change hands, parts,
 * an ordered pivot, inlined values, versions. Whatever was committed is read back as the objects had it.
 */
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

        String code() {
            return code;
        }

        Integer rank() {
            return rank;
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

    private static final Model MODEL = Model.of(
            "nodes",
            Entity.of(Node.class, Node::new)
                    .column(Node::code, required(), length(6), unique())
                    .column(Node::rank, unique())
                    .links(Node::children, Node::parent)
                    .link(Node::next, unique())
                    .link(Node::previous, Node::next)
                    .parts(Node::notes)
                    .parts(Node::tags)
                    .pivot(Node::peers, Node::peersOf, ordered())
                    .version(Node::revision));

    private static final Map<TestDatabase, DataSource> SOURCES = new EnumMap<>(TestDatabase.class);
    private static final Map<TestDatabase, Store> STORES = new EnumMap<>(TestDatabase.class);

    @Property(tries = 1000)
    void onH2(@ForAll Random random, @ForAll @IntRange(min = 3, max = 40) int steps) {
        work(TestDatabase.H2, random, steps);
    }

    @Property(tries = 1000)
    void onSqlite(@ForAll Random random, @ForAll @IntRange(min = 3, max = 40) int steps) {
        work(TestDatabase.SQLITE, random, steps);
    }

    @Property(tries = 200)
    void onPostgres(@ForAll Random random, @ForAll @IntRange(min = 3, max = 40) int steps) {
        work(TestDatabase.POSTGRESQL, random, steps);
    }

    @Property(tries = 200)
    void onMariaDb(@ForAll Random random, @ForAll @IntRange(min = 3, max = 40) int steps) {
        work(TestDatabase.MARIADB, random, steps);
    }

    private static Store store(TestDatabase database) {
        return STORES.computeIfAbsent(database, d -> {
            SOURCES.put(d, d.empty());
            Store store = Store.open(MODEL, SOURCES.get(d));
            store.schema().createMissing();
            return store;
        });
    }

    private static void work(TestDatabase database, Random random, int steps) {
        Store store = store(database);
        for (String table : List.of("node_peers", "node_notes", "node_tags")) {
            TestDatabase.execute(SOURCES.get(database), "delete from " + table);
        }
        TestDatabase.execute(SOURCES.get(database), "update node set parent_id = null, next_id = null");
        TestDatabase.execute(SOURCES.get(database), "delete from node");
        for (int unit = 0; unit < 3; unit++) {
            List<String> expected;
            try (UnitOfWork work = store.begin()) {
                Graph graph = new Graph(work, random, unit);
                for (int step = 0; step < steps; step++) {
                    graph.change();
                }
                work.commit();
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
        private final List<Node> nodes;
        private int names;

        Graph(UnitOfWork work, Random random, int unit) {
            this.work = work;
            this.random = random;
            this.names = unit * 1000;
            nodes = new ArrayList<>(work.from(Node.class).list());
        }

        void change() {
            switch (random.nextInt(20)) {
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
                case 17 -> one(this::remove);
                case 18 -> work.flush();
                default -> {
                    if (random.nextBoolean()) {
                        work.rollback();
                    } else {
                        work.commit();
                    }
                }
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
            nodes.add(node);
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
            node.children.asList().forEach(child -> child.parent.clear());
            node.previous.find().ifPresent(before -> before.next.clear());
            work.remove(node);
            nodes.remove(node);
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
            return nodes.stream()
                    .map(node -> node.code + " " + node.rank + " " + node.weight + " " + node.point + " in "
                            + node.parent.find().orElse(null) + " before "
                            + node.next.find().orElse(null) + " after "
                            + node.previous.find().orElse(null) + " " + node.notes + " " + new TreeMap<>(node.tags)
                            + " with " + node.peers.asList() + " of " + sorted(node.peersOf) + " around "
                            + sorted(node.children))
                    .sorted()
                    .toList();
        }

        private static List<String> sorted(Links<Node> links) {
            return links.stream().map(Node::code).sorted().toList();
        }
    }
}
