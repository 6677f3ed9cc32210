package io.bathra.contract;

import static io.bathra.query.Ask.longSum;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Standing;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.answer.Pending;
import io.bathra.query.Ask;
import io.bathra.query.Query;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * Random pending changes, seen by random queries without being stored: the same as if they were, and as plain Java
 * says.
 */
@OnEachDatabase
class OverlayTest extends SampleContract {
    private static final int ROUNDS = Boolean.getBoolean("bathra.long") ? 25 : 12;
    private static final int QUERIES = 4;

    OverlayTest(TestDatabase database) {
        super(database);
    }

    record Tally(Object key, long count, Long sum) {}

    /** What a query answers, told by objects where there are any. */
    private record Answer(List<Sample> list, long count, boolean exists, List<Tally> groups) {}

    private static Answer ask(Query<Sample> query, Ordered order, Asked<Integer> key) {
        return new Answer(
                query.orderBy(order.ordering()).list(),
                query.count(),
                query.exists(),
                query.groupBy(key.expr())
                        .as(Tally::new, anything(key), Ask.count(), longSum(number(Sample::whole)))
                        .list());
    }

    private void change(UnitOfWork work) {
        Sample sample = some(rows);
        switch (random.nextInt(8)) {
            case 0, 1 -> work.add(newSample());
            case 2, 3, 4 -> fill(sample);
            case 5 -> sample.parent.set(some(rows));
            case 6 -> sample.parent.clear();
            default -> {
                if (rows.size() > 1) {
                    rows.remove(sample);
                    gone.add(sample);
                    work.remove(sample);
                }
            }
        }
    }

    /** The rows as a unit has read them. */
    private void read(UnitOfWork work) {
        rows.clear();
        gone.clear();
        rows.addAll(work.from(Sample.class).list());
        rows.forEach(row -> row.children.size());
    }

    @Test
    void anOverlayIsLikeAFlushThatNobodySees() {
        store();
        for (int round = 0; round < ROUNDS; round++) {
            random = new Random(round);
            try (UnitOfWork work = store.begin()) {
                read(work);
                long stored = rows.size();
                for (int changes = random.nextInt(12); changes >= 0; changes--) {
                    change(work);
                }
                work.pending(Pending.OVERLAY);
                List<Said> asked = new ArrayList<>();
                List<Ordered> orders = new ArrayList<>();
                List<Asked<Integer>> keys = new ArrayList<>();
                List<Answer> overlaid = new ArrayList<>();
                int before = work.trace().statements().size();
                for (int q = 0; q < QUERIES; q++) {
                    Said said = said(2);
                    Ordered order = ordered();
                    Asked<Integer> key = wholeNumber();
                    Answer answer = ask(query(work, said), order, key);
                    String what = "round " + round + ": " + said.condition() + " order by " + order.ordering();
                    assertThat(answer.list())
                            .as(what)
                            .containsExactlyInAnyOrderElementsOf(
                                    rows.stream().filter(said::holds).toList());
                    assertThat(answer.list()).as(what).isSortedAccordingTo(order.comparator());
                    assertThat(answer.count()).as(what).isEqualTo(answer.list().size());
                    asked.add(said);
                    orders.add(order);
                    keys.add(key);
                    overlaid.add(answer);
                }
                assertThat(work.trace()
                                .statements()
                                .subList(before, work.trace().statements().size()))
                        .allMatch(line ->
                                line.sql().startsWith("select") || line.sql().startsWith("with"));
                seenElsewhere(stored);
                work.flush();
                for (int q = 0; q < QUERIES; q++) {
                    Answer flushed = ask(query(work, asked.get(q)).pending(Pending.IGNORE), orders.get(q), keys.get(q));
                    Answer overlay = overlaid.get(q);
                    String what = "round " + round + ", query " + q + ": "
                            + asked.get(q).condition();
                    assertThat(overlay.list()).as(what).containsExactlyElementsOf(flushed.list());
                    assertThat(overlay.exists()).as(what).isEqualTo(flushed.exists());
                    assertThat(overlay.groups()).as(what).containsExactlyInAnyOrderElementsOf(flushed.groups());
                }
            }
        }
    }

    /** On SQLite a second unit would wait for the first, so it only reads. */
    private void seenElsewhere(long stored) {
        try (UnitOfWork elsewhere = store.begin(Terms.reading())) {
            assertThat(elsewhere.from(Sample.class).count()).isEqualTo(stored);
        }
    }

    private static Query<Sample> query(UnitOfWork work, Said said) {
        return work.from(Sample.class).where(said.condition());
    }

    @Test
    void pendingObjectsComeBackAsThemselves() {
        store();
        try (UnitOfWork work = store.begin()) {
            read(work);
            Sample added = new Sample();
            added.name = "new";
            added.whole = 500_000;
            Sample child = new Sample();
            child.name = "child";
            child.parent.set(added);
            work.add(child);
            Sample changed = rows.get(0);
            changed.name = "changed";
            changed.tags.add("pending");
            work.remove(rows.get(1));
            Query<Sample> all = work.from(Sample.class).pending(Pending.OVERLAY);
            assertThat(all.where(Ask.text(Sample::parent, Sample::name).is("new"))
                            .one())
                    .isSameAs(child);
            assertThat(all.where(the(Sample::name).is("changed")).one()).isSameAs(changed);
            assertThat(all.where(Ask.any(Sample::tags, Ask.textElement().is("pending")))
                            .list())
                    .containsExactly(changed);
            assertThat(all.where(Ask.any(Sample::children, the(Sample::name).is("child")))
                            .one())
                    .isSameAs(added);
            assertThat(all.list())
                    .hasSize(rows.size() + 1)
                    .doesNotContain(rows.get(1))
                    .contains(added);
            assertThat(all.orderBy(the(Sample::whole).descending()).limit(1).list())
                    .containsExactly(added);
            assertThat(all.where(the(Sample::name).is("new"))
                            .as(the(Sample::id))
                            .list())
                    .containsOnlyNulls();
            assertThat(all.page(50, null).items()).hasSize(50);
            assertThat(work.standing(added)).isEqualTo(Standing.NEW);
            assertThat(work.standing(changed)).isEqualTo(Standing.DIRTY);
            assertThat(added.id).isNull();
            assertThat(all.beside(Sample.class, Ask.matching(the(Sample::name), the(Sample::name)))
                            .whereRight(the(Sample::name).is("new"))
                            .list())
                    .hasSize(1)
                    .allMatch(row -> row.left() == added && row.right() == added);
            Query<Sample> ignoring = work.from(Sample.class).pending(Pending.IGNORE);
            assertThat(ignoring.where(the(Sample::name).is("new")).exists()).isFalse();
            assertThat(ignoring.count()).isEqualTo(rows.size());
            assertThat(work.standing(added)).isEqualTo(Standing.NEW);
            assertThat(work.from(Sample.class)
                            .where(the(Sample::name).is("new"))
                            .one())
                    .isSameAs(added);
            assertThat(work.standing(added)).isEqualTo(Standing.CLEAN);
        }
    }

    @Test
    void manyRowsMayBePending() {
        store();
        try (UnitOfWork work = store.begin()) {
            for (int i = 0; i < 700; i++) {
                Sample sample = new Sample();
                sample.whole = 1_000_000 + i;
                work.add(sample);
            }
            Query<Sample> many = work.from(Sample.class)
                    .pending(Pending.OVERLAY)
                    .where(number(Sample::whole).atLeast(1_000_100));
            assertThat(many.count()).isEqualTo(600);
            assertThat(many.orderBy(the(Sample::whole).descending()).limit(1).one().whole)
                    .isEqualTo(1_000_699);
        }
    }

    /** On SQLite a unit that may write keeps others from writing anyway. */
    @Test
    void nobodyWaitsForAnOverlay() {
        store();
        try (UnitOfWork work = store.begin()) {
            read(work);
            Sample changed = rows.get(0);
            changed.name = "seen here alone";
            work.remove(rows.get(1));
            assertThat(work.from(Sample.class).pending(Pending.OVERLAY).count()).isEqualTo(rows.size() - 1);
            if (!store.databaseName().equals("SQLite")) {
                store.run(other -> {
                    other.require(Sample.class, changed.id).whole = 77;
                    other.remove(other.require(Sample.class, rows.get(1).id));
                });
            }
            assertThat(work.trace().toString()).doesNotContain("update").doesNotContain("delete");
        }
    }

    /** Rows that nobody has read follow the delete rules as well, and keep what they hold in the database. */
    @Test
    void whatARemovalTakesAlongIsSeen() {
        store();
        long parent;
        try (UnitOfWork work = store.begin()) {
            read(work);
            parent = rows.stream()
                    .filter(row -> row.children.size() > 1)
                    .min(Comparator.comparing(Sample::id))
                    .orElseThrow()
                    .id;
        }
        try (UnitOfWork work = store.begin()) {
            work.pending(Pending.OVERLAY);
            Sample removed = work.require(Sample.class, parent);
            long orphans = work.from(Sample.class)
                    .where(the(Sample::parent, Sample::id).isNull())
                    .count();
            long children = work.from(Sample.class)
                    .where(the(Sample::parent, Sample::id).is(parent))
                    .count();
            long roots = removed.parent.key() == null ? 1 : 0;
            work.remove(removed);
            Query<Sample> all = work.from(Sample.class);
            assertThat(all.where(the(Sample::parent, Sample::id).is(parent)).count())
                    .isZero();
            List<Sample> now =
                    all.where(the(Sample::parent, Sample::id).isNull()).list();
            assertThat(now).hasSize((int) (orphans + children - roots));
            work.row(Sample.class, now.get(0).id).set(Sample::name, "by handle");
            assertThat(all.where(the(Sample::name).is("by handle")).count()).isEqualTo(1);
            work.discard(removed);
            assertThat(all.where(the(Sample::parent, Sample::id).is(parent)).list())
                    .hasSize((int) children);
        }
    }
}
