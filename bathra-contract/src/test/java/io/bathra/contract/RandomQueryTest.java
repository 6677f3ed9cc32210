package io.bathra.contract;

import static io.bathra.query.Ask.count;
import static io.bathra.query.Ask.countDistinct;
import static io.bathra.query.Ask.longSum;
import static io.bathra.query.Ask.max;
import static io.bathra.query.Ask.min;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.parameter;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.UnitOfWork;
import io.bathra.answer.Mark;
import io.bathra.answer.Page;
import io.bathra.query.Ask;
import io.bathra.query.Query;
import io.bathra.testing.OnEachDatabase;
import io.bathra.testing.TestDatabase;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/**
 * Random conditions, orderings, pages and groups on random rows, against the same said in plain Java: all four agree.
 */
@OnEachDatabase
class RandomQueryTest extends SampleContract {
    private static final int QUERIES = Boolean.getBoolean("bathra.long") ? 240 : 80;

    RandomQueryTest(TestDatabase database) {
        super(database);
    }

    @Test
    void entitiesInOrderAndByPages() {
        store();
        for (int seed = 1; seed <= QUERIES; seed++) {
            random = new Random(seed);
            Said said = said(3);
            List<Ordered> orders = new ArrayList<>();
            Comparator<Sample> comparator = (a, b) -> 0;
            for (int i = random.nextInt(3); i >= 0; i--) {
                Ordered order = ordered();
                orders.add(order);
                comparator = comparator.thenComparing(order.comparator());
            }
            List<Long> expected = ids(rows.stream()
                    .filter(said::holds)
                    .sorted(comparator.thenComparing(Sample::id))
                    .toList());
            String what = "seed " + seed + ": " + said.condition() + " order by " + orders;
            try (UnitOfWork work = store.begin()) {
                Query<Sample> query = work.from(Sample.class).where(said.condition());
                Query<Sample> ordered = orderedBy(query, orders);
                assertThat(ids(ordered.list())).as(what).isEqualTo(expected);
                assertThat(ordered.keys()).as(what).isEqualTo(expected);
                assertThat(query.count()).as(what).isEqualTo(expected.size());
                assertThat(query.exists()).as(what).isEqualTo(!expected.isEmpty());
                assertThat(byPages(ordered, 1 + random.nextInt(12))).as(what).isEqualTo(expected);
                assertThat(ordered.limit(5).offset(2).as(the(Sample::id)).list())
                        .as(what)
                        .isEqualTo(expected.stream().skip(2).limit(5).toList());
            }
        }
    }

    private static List<Long> byPages(Query<Sample> query, int size) {
        List<Long> ids = new ArrayList<>();
        Mark mark = null;
        do {
            Page<Sample> page = query.page(size, mark);
            ids.addAll(ids(page.items()));
            mark = page.next().map(Mark::toString).map(Mark::parse).orElse(null);
        } while (mark != null);
        return ids;
    }

    record Group(
            Object key, Object other, Long count, Long sum, String least, LocalDate last, Double average, Long kinds) {
        Group {
            average = average == null ? null : Math.rint(average * 1e6) / 1e6;
        }
    }

    @Test
    void groups() {
        store();
        for (int seed = 1; seed <= QUERIES / 4; seed++) {
            random = new Random(seed);
            Said said = said(1);
            Asked<Integer> key = wholeNumber();
            Asked<?> other = random.nextBoolean() ? new Asked<>(the(Sample::kind), s -> s.kind) : name();
            long more = random.nextInt(3);
            String what = "seed " + seed + ": " + said.condition() + " group by " + key.expr() + ", " + other.expr();
            Map<List<Object>, List<Sample>> groups = rows.stream()
                    .filter(said::holds)
                    .collect(Collectors.groupingBy(s ->
                            Arrays.asList(key.value().apply(s), other.value().apply(s))));
            List<Group> expected = groups.entrySet().stream()
                    .filter(group -> group.getValue().size() > more)
                    .map(group -> expected(group.getKey(), group.getValue()))
                    .toList();
            try (UnitOfWork work = store.begin()) {
                List<Group> read = work.from(Sample.class)
                        .where(said.condition())
                        .groupBy(key.expr(), other.expr())
                        .having(Ask.<Sample>count().above(more))
                        .orderBy(key.expr().ascending())
                        .as(
                                Group::new,
                                key.expr(),
                                anything(other),
                                count(),
                                longSum(number(Sample::whole)),
                                min(the(Sample::name)),
                                max(the(Sample::day)),
                                number(Sample::whole).average(),
                                countDistinct(the(Sample::kind)))
                        .list();
                assertThat(read).as(what).containsExactlyInAnyOrderElementsOf(expected);
                assertThat(read.stream().map(Group::key))
                        .as(what)
                        .isSortedAccordingTo((a, b) -> Comparator.nullsFirst(Comparator.<Integer>naturalOrder())
                                .compare((Integer) a, (Integer) b));
                assertThat(work.from(Sample.class)
                                .where(said.condition())
                                .orderBy(key.expr().descending())
                                .as(key.expr())
                                .distinct()
                                .list())
                        .as(what)
                        .isEqualTo(rows.stream()
                                .filter(said::holds)
                                .map(key.value())
                                .distinct()
                                .sorted(Comparator.nullsLast(Collections.reverseOrder()))
                                .toList());
            }
        }
    }

    private static Group expected(List<Object> key, List<Sample> samples) {
        List<Integer> wholes =
                samples.stream().map(Sample::whole).filter(Objects::nonNull).toList();
        return new Group(
                key.get(0),
                key.get(1),
                (long) samples.size(),
                wholes.isEmpty()
                        ? null
                        : (Long) wholes.stream().mapToLong(w -> w).sum(),
                samples.stream()
                        .map(Sample::name)
                        .filter(Objects::nonNull)
                        .min(Comparator.naturalOrder())
                        .orElse(null),
                samples.stream()
                        .map(Sample::day)
                        .filter(Objects::nonNull)
                        .max(Comparator.naturalOrder())
                        .orElse(null),
                wholes.isEmpty()
                        ? null
                        : (Double) wholes.stream().mapToInt(w -> w).average().orElseThrow(),
                samples.stream()
                        .map(Sample::kind)
                        .filter(Objects::nonNull)
                        .distinct()
                        .count());
    }

    /** One query value, asked again and again. */
    @Test
    void parametersAreGivenLater() {
        store();
        try (UnitOfWork work = store.begin()) {
            Query<Sample> query = work.from(Sample.class)
                    .where(the(Sample::whole).above(parameter("least", Integer.class)))
                    .orderBy(the(Sample::id).ascending());
            for (int least : List.of(-5, 0, 5)) {
                assertThat(ids(query.with("least", least).list()))
                        .isEqualTo(rows.stream()
                                .filter(s -> s.whole != null && s.whole > least)
                                .map(Sample::id)
                                .sorted()
                                .toList());
            }
        }
    }
}
