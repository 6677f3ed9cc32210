package io.bathra.contract;

import static io.bathra.attr.DeleteRule.SET_NULL;
import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.onDelete;
import static io.bathra.query.Ask.all;
import static io.bathra.query.Ask.any;
import static io.bathra.query.Ask.date;
import static io.bathra.query.Ask.dateTime;
import static io.bathra.query.Ask.instant;
import static io.bathra.query.Ask.no;
import static io.bathra.query.Ask.not;
import static io.bathra.query.Ask.number;
import static io.bathra.query.Ask.text;
import static io.bathra.query.Ask.textElement;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.query.Ask;
import io.bathra.query.Condition;
import io.bathra.query.Expr;
import io.bathra.query.Ordering;
import io.bathra.query.Query;
import io.bathra.testing.TestDatabase;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Stream;

/** Random samples, and random questions for them, each with what plain Java says of it. */
abstract class SampleContract {
    enum Kind {
        LOW,
        HIGH,
        MIDDLE
    }

    static final class Sample {
        Long id;
        Integer whole;
        Long big;
        BigDecimal money;
        String name;
        LocalDate day;
        LocalDateTime moment;
        Instant at;
        Kind kind;
        List<String> tags = new ArrayList<>();
        final Link<Sample> parent = Link.empty();
        final Links<Sample> children = Links.empty();

        Long id() {
            return id;
        }

        Integer whole() {
            return whole;
        }

        Long big() {
            return big;
        }

        BigDecimal money() {
            return money;
        }

        String name() {
            return name;
        }

        LocalDate day() {
            return day;
        }

        LocalDateTime moment() {
            return moment;
        }

        Instant at() {
            return at;
        }

        Kind kind() {
            return kind;
        }

        List<String> tags() {
            return tags;
        }

        Link<Sample> parent() {
            return parent;
        }

        Links<Sample> children() {
            return children;
        }
    }

    private static final Model MODEL = Model.of(
            "samples",
            Entity.of(Sample.class, Sample::new)
                    .column(Sample::money, digits(12, 2))
                    .column(Sample::name, length(30))
                    .parts(Sample::tags)
                    .link(Sample::parent, onDelete(SET_NULL))
                    .links(Sample::children, Sample::parent));

    static final int ROWS = 80;
    static final List<String> NAMES = List.of(
            "",
            " ",
            "a",
            "A",
            "a ",
            "Zebra",
            "zebra",
            "ärmel",
            "été",
            "100%",
            "under_score",
            "it's",
            "a!b",
            "[x]",
            "*",
            "?",
            "\\",
            "ø",
            "straße",
            "Ab",
            "aB",
            "abc");
    static final ZoneId BERLIN = ZoneId.of("Europe/Berlin");
    static final ZoneId INDIA = ZoneOffset.ofHoursMinutes(5, 30);

    final Store store;
    final List<Sample> rows = new ArrayList<>();

    /** Those that are not there any more, whoever still leads to them. */
    final Set<Sample> gone = new HashSet<>();

    Random random = new Random(0);

    SampleContract(TestDatabase database) {
        store = Trips.open(MODEL, database.empty());
    }

    /** Something that can be asked, and what Java says it is. */
    record Asked<V>(Expr<Sample, V> expr, Function<Sample, V> value) {}

    /** A condition, and what Java says of it; null for unknown. */
    record Said(Condition<Sample> condition, Function<Sample, Boolean> truth) {
        boolean holds(Sample sample) {
            return Boolean.TRUE.equals(truth.apply(sample));
        }
    }

    // ---- rows

    <T> T some(List<T> list) {
        return list.get(random.nextInt(list.size()));
    }

    <T> T maybe(Supplier<T> value) {
        return random.nextInt(5) == 0 ? null : value.get();
    }

    int whole() {
        return random.nextInt(10) == 0 ? some(List.of(-100_000, 0, 100_000)) : random.nextInt(21) - 10;
    }

    long big() {
        return some(List.of(Long.MIN_VALUE, -1L, 0L, 7L, 1L << 40, Long.MAX_VALUE));
    }

    /** Quarters are exact as floating-point numbers too. */
    BigDecimal money() {
        return BigDecimal.valueOf(random.nextInt(400) - 200).multiply(new BigDecimal("0.25"));
    }

    LocalDate day() {
        return random.nextInt(10) == 0
                ? some(List.of(LocalDate.of(1583, 1, 1), LocalDate.of(9999, 12, 31), LocalDate.of(2024, 2, 29)))
                : LocalDate.of(2024, 1, 1).plusDays(random.nextInt(900));
    }

    LocalDateTime moment() {
        return day().atStartOfDay()
                .plusNanos(random.nextInt(86_400) * 1_000_000_000L + random.nextInt(1_000_000) * 1_000L);
    }

    Instant someInstant() {
        return random.nextInt(4) == 0
                ? some(List.of(
                        Instant.parse("2026-03-29T00:59:59.999999Z"),
                        Instant.parse("2026-03-29T01:00:00Z"),
                        Instant.parse("2026-10-25T01:00:00Z"),
                        Instant.parse("1971-01-01T00:00:00Z")))
                : Instant.parse("2024-01-01T00:00:00Z").plusSeconds(random.nextInt(80_000_000));
    }

    final void store() {
        store.schema().createMissing();
        store.run(work -> {
            for (int i = 0; i < ROWS; i++) {
                work.add(newSample());
            }
            work.flush();
            rows.forEach(row -> row.children.size());
        });
    }

    /** A sample that leads to one of those before it. */
    final Sample newSample() {
        Sample sample = new Sample();
        fill(sample);
        if (!rows.isEmpty() && random.nextInt(3) > 0) {
            sample.parent.set(some(rows));
        }
        rows.add(sample);
        return sample;
    }

    final void fill(Sample sample) {
        sample.whole = maybe(this::whole);
        sample.big = maybe(this::big);
        sample.money = maybe(this::money);
        sample.name = maybe(() -> some(NAMES));
        sample.day = maybe(this::day);
        sample.moment = maybe(this::moment);
        sample.at = maybe(this::someInstant);
        sample.kind = maybe(() -> some(List.of(Kind.values())));
        sample.tags.clear();
        for (int tag = random.nextInt(3); tag > 0; tag--) {
            sample.tags.add(some(NAMES));
        }
    }

    // ---- what is asked

    static <A, R> R unlessNull(A value, Function<A, R> function) {
        return value == null ? null : function.apply(value);
    }

    final Sample parent(Sample sample) {
        return sample.parent.find().filter(parent -> !gone.contains(parent)).orElse(null);
    }

    Stream<Sample> children(Sample sample) {
        return sample.children.stream().filter(child -> !gone.contains(child));
    }

    Asked<Integer> wholeNumber() {
        int constant = whole();
        return some(List.of(
                new Asked<>(the(Sample::whole), s -> s.whole),
                new Asked<>(the(Sample::parent, Sample::whole), s -> unlessNull(parent(s), p -> p.whole)),
                new Asked<>(number(Sample::whole).plus(constant), s -> unlessNull(s.whole, w -> w + constant)),
                new Asked<>(
                        number(Sample::whole).times(3).minus(constant),
                        s -> unlessNull(s.whole, w -> w * 3 - constant)),
                new Asked<>(
                        number(Sample::whole).dividedBy(constant),
                        s -> constant == 0 ? null : unlessNull(s.whole, w -> w / constant)),
                new Asked<>(
                        number(Sample::whole).plus(the(Sample::parent, Sample::whole)),
                        s -> unlessNull(parent(s), p -> s.whole == null || p.whole == null ? null : s.whole + p.whole)),
                new Asked<>(
                        number(Sample::whole).orElse(constant), s -> s.whole == null ? (Integer) constant : s.whole),
                new Asked<>(text(Sample::name).length(), s -> unlessNull(s.name, String::length)),
                new Asked<>(date(Sample::day).year(), s -> unlessNull(s.day, LocalDate::getYear)),
                new Asked<>(date(Sample::day).month(), s -> unlessNull(s.day, LocalDate::getMonthValue)),
                new Asked<>(dateTime(Sample::moment).day(), s -> unlessNull(s.moment, LocalDateTime::getDayOfMonth)),
                new Asked<>(dateTime(Sample::moment).minute(), s -> unlessNull(s.moment, LocalDateTime::getMinute)),
                new Asked<>(dateTime(Sample::moment).second(), s -> unlessNull(s.moment, LocalDateTime::getSecond)),
                new Asked<>(instant(Sample::at, BERLIN).hour(), s -> inZone(s, BERLIN, ZonedDateTime::getHour)),
                new Asked<>(instant(Sample::at, BERLIN).day(), s -> inZone(s, BERLIN, ZonedDateTime::getDayOfMonth)),
                new Asked<>(instant(Sample::at, INDIA).minute(), s -> inZone(s, INDIA, ZonedDateTime::getMinute)),
                new Asked<>(
                        instant(Sample::at, ZoneOffset.UTC).year(),
                        s -> inZone(s, ZoneOffset.UTC, ZonedDateTime::getYear))));
    }

    static Integer inZone(Sample sample, ZoneId zone, Function<ZonedDateTime, Integer> part) {
        return unlessNull(sample.at, at -> part.apply(at.atZone(zone)));
    }

    Asked<String> name() {
        String constant = some(NAMES);
        return some(List.of(
                new Asked<>(the(Sample::name), s -> s.name),
                new Asked<>(text(Sample::name).lower(), s -> unlessNull(s.name, n -> n.toLowerCase(Locale.ROOT))),
                new Asked<>(text(Sample::parent, Sample::name), s -> unlessNull(parent(s), p -> p.name)),
                new Asked<>(text(Sample::name).orElse(constant), s -> s.name == null ? constant : s.name)));
    }

    Asked<BigDecimal> moneyAsked() {
        BigDecimal constant = money();
        return some(List.of(
                new Asked<>(the(Sample::money), s -> s.money),
                new Asked<>(number(Sample::money).plus(constant), s -> unlessNull(s.money, m -> m.add(constant))),
                new Asked<>(
                        number(Sample::money).times(constant).minus(constant),
                        s -> unlessNull(s.money, m -> m.multiply(constant).subtract(constant)))));
    }

    // ---- conditions

    <V extends Comparable<? super V>> Said compared(Asked<V> asked, Asked<V> other, V constant) {
        Expr<Sample, V> expr = asked.expr();
        Function<Sample, Integer> toConstant =
                s -> unlessNull(asked.value().apply(s), v -> Integer.signum(v.compareTo(constant)));
        Function<Sample, Integer> toOther = s -> unlessNull(
                asked.value().apply(s), v -> unlessNull(other.value().apply(s), o -> Integer.signum(v.compareTo(o))));
        return switch (random.nextInt(13)) {
            case 0 -> new Said(expr.is(constant), truth(toConstant, 0));
            case 1 -> new Said(expr.isNot(constant), truth(toConstant, -1, 1));
            case 2 -> new Said(expr.above(constant), truth(toConstant, 1));
            case 3 -> new Said(expr.atLeast(constant), truth(toConstant, 0, 1));
            case 4 -> new Said(expr.below(constant), truth(toConstant, -1));
            case 5 -> new Said(expr.atMost(constant), truth(toConstant, -1, 0));
            case 6 -> new Said(expr.isNull(), s -> asked.value().apply(s) == null);
            case 7 -> new Said(expr.isNotNull(), s -> asked.value().apply(s) != null);
            case 8 -> new Said(expr.is(other.expr()), truth(toOther, 0));
            case 9 -> new Said(expr.above(other.expr()), truth(toOther, 1));
            case 10 -> new Said(expr.atMost(other.expr()), truth(toOther, -1, 0));
            case 11 -> new Said(expr.in(List.of(constant, constant)), truth(toConstant, 0));
            default -> new Said(expr.between(constant, constant), truth(toConstant, 0));
        };
    }

    static Function<Sample, Boolean> truth(Function<Sample, Integer> comparison, Integer... wanted) {
        return s -> unlessNull(comparison.apply(s), Arrays.asList(wanted)::contains);
    }

    Said textual() {
        String part = some(NAMES);
        String lower = part.toLowerCase(Locale.ROOT);
        Function<Function<String, Boolean>, Function<Sample, Boolean>> ofName = holds -> s -> unlessNull(s.name, holds);
        return switch (random.nextInt(7)) {
            case 0 -> new Said(text(Sample::name).startsWith(part), ofName.apply(n -> n.startsWith(part)));
            case 1 -> new Said(text(Sample::name).endsWith(part), ofName.apply(n -> n.endsWith(part)));
            case 2 -> new Said(text(Sample::name).contains(part), ofName.apply(n -> n.contains(part)));
            case 3 ->
                new Said(
                        text(Sample::name).ignoringCase().is(part),
                        ofName.apply(n -> n.toLowerCase(Locale.ROOT).equals(lower)));
            case 4 ->
                new Said(
                        text(Sample::name).ignoringCase().startsWith(part),
                        ofName.apply(n -> n.toLowerCase(Locale.ROOT).startsWith(lower)));
            case 5 -> new Said(text(Sample::name).like("_b%"), ofName.apply(n -> n.length() > 1 && n.charAt(1) == 'b'));
            default -> new Said(text(Sample::name).like("%!%"), ofName.apply(n -> n.endsWith("%")));
        };
    }

    Said ofElements(int depth) {
        Said inner = said(depth - 1);
        String tag = some(NAMES);
        return switch (random.nextInt(6)) {
            case 0 ->
                new Said(
                        any(Sample::children, inner.condition()),
                        s -> children(s).anyMatch(inner::holds));
            case 1 ->
                new Said(
                        no(Sample::children, inner.condition()),
                        s -> children(s).noneMatch(inner::holds));
            case 2 ->
                new Said(
                        all(Sample::children, inner.condition()),
                        s -> children(s).allMatch(inner::holds));
            case 3 -> new Said(any(Sample::children), s -> children(s).findAny().isPresent());
            case 4 -> new Said(any(Sample::tags, textElement().is(tag)), s -> s.tags.contains(tag));
            default ->
                new Said(
                        any(Sample::parent, Sample::tags, textElement().startsWith("a")),
                        s -> parent(s) != null && parent(s).tags.stream().anyMatch(t -> t.startsWith("a")));
        };
    }

    Said said(int depth) {
        if (depth > 0) {
            Said one = said(depth - 1);
            Said other = said(depth - 1);
            switch (random.nextInt(5)) {
                case 0:
                    return new Said(
                            Ask.allOf(one.condition(), other.condition()),
                            s -> and(one.truth.apply(s), other.truth.apply(s)));
                case 1:
                    return new Said(
                            Ask.anyOf(one.condition(), other.condition()),
                            s -> negated(and(negated(one.truth.apply(s)), negated(other.truth.apply(s)))));
                case 2:
                    return new Said(not(one.condition()), s -> negated(one.truth.apply(s)));
                case 3:
                    return ofElements(depth);
                default:
                    return one;
            }
        }
        return switch (random.nextInt(8)) {
            case 0, 1 -> compared(wholeNumber(), wholeNumber(), whole());
            case 2 -> compared(name(), name(), some(NAMES));
            case 3 -> compared(moneyAsked(), moneyAsked(), money());
            case 4 -> {
                Asked<Long> big = new Asked<>(the(Sample::big), s -> s.big);
                yield compared(big, big, big());
            }
            case 5 -> {
                Asked<LocalDate> day = new Asked<>(the(Sample::day), s -> s.day);
                yield compared(
                        day,
                        new Asked<>(the(Sample::parent, Sample::day), s -> unlessNull(parent(s), p -> p.day)),
                        day());
            }
            case 6 -> {
                Asked<Instant> at = new Asked<>(the(Sample::at), s -> s.at);
                yield compared(at, at, someInstant());
            }
            default -> textual();
        };
    }

    static Boolean negated(Boolean truth) {
        return truth == null ? null : (Boolean) !truth;
    }

    static Boolean and(Boolean one, Boolean other) {
        if (Boolean.FALSE.equals(one) || Boolean.FALSE.equals(other)) {
            return false;
        }
        return one == null || other == null ? null : (Boolean) true;
    }

    // ---- orderings

    record Ordered(Ordering<Sample> ordering, Comparator<Sample> comparator) {}

    <V extends Comparable<? super V>> Ordered ordered(Asked<V> asked) {
        boolean descending = random.nextBoolean();
        Ordering<Sample> ordering =
                descending ? asked.expr().descending() : asked.expr().ascending();
        boolean nullsFirst = !descending;
        if (random.nextInt(3) == 0) {
            nullsFirst = random.nextBoolean();
            ordering = nullsFirst ? ordering.nullsFirst() : ordering.nullsLast();
        }
        Comparator<V> plain = descending ? Comparator.reverseOrder() : Comparator.naturalOrder();
        Comparator<V> withNulls = nullsFirst ? Comparator.nullsFirst(plain) : Comparator.nullsLast(plain);
        return new Ordered(
                ordering,
                (a, b) ->
                        withNulls.compare(asked.value().apply(a), asked.value().apply(b)));
    }

    Ordered ordered() {
        return switch (random.nextInt(5)) {
            case 0 -> ordered(name());
            case 1 -> ordered(moneyAsked());
            case 2 -> ordered(new Asked<>(the(Sample::at), s -> s.at));
            case 3 -> ordered(new Asked<>(the(Sample::parent, Sample::big), s -> unlessNull(parent(s), p -> p.big)));
            default -> ordered(wholeNumber());
        };
    }

    @SuppressWarnings("unchecked")
    static Query<Sample> orderedBy(Query<Sample> query, List<Ordered> orders) {
        return query.orderBy(orders.stream().map(Ordered::ordering).toArray(Ordering[]::new));
    }

    static List<Long> ids(List<Sample> samples) {
        return samples.stream().map(Sample::id).toList();
    }

    @SuppressWarnings("unchecked") // what is read of it is only looked at as an object
    static Expr<Sample, Object> anything(Asked<?> asked) {
        return (Expr<Sample, Object>) asked.expr();
    }
}
