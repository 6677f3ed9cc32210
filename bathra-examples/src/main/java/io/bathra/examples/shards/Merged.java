package io.bathra.examples.shards;

import static io.bathra.query.Ask.the;

import io.bathra.attr.Attr;
import io.bathra.query.Ordering;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.UUID;

/**
 * An order that all databases and Java agree upon: that of numbers, times and keys. There is none for texts, since
 * each database has its own idea of what comes after what. The attribute has to be required, for the same reason.
 *
 * @param onShard tells a shard how to order
 * @param inMemory orders what shards have answered
 */
public record Merged<E>(Ordering<E> onShard, Comparator<E> inMemory) {

    /** By a number, the least first. */
    public static <E, V extends Number & Comparable<? super V>> Merged<E> byNumber(Attr<E, V> number) {
        return ascending(number, Comparator.naturalOrder());
    }

    /** By a number, the greatest first. */
    public static <E, V extends Number & Comparable<? super V>> Merged<E> byNumberDescending(Attr<E, V> number) {
        return descending(number, Comparator.naturalOrder());
    }

    /** By a time, the earliest first. */
    public static <E> Merged<E> byTime(Attr<E, Instant> time) {
        return ascending(time, Comparator.naturalOrder());
    }

    /** By a time, the latest first. */
    public static <E> Merged<E> byTimeDescending(Attr<E, Instant> time) {
        return descending(time, Comparator.naturalOrder());
    }

    /** By a time-ordered key: what was added first comes first. */
    public static <E> Merged<E> byKey(Attr<E, UUID> key) {
        return ascending(key, Merged::compareBytes);
    }

    private static <E, V extends Comparable<? super V>> Merged<E> ascending(
            Attr<E, V> attribute, Comparator<V> values) {
        return new Merged<>(the(attribute).ascending(), inMemory(attribute, values));
    }

    private static <E, V extends Comparable<? super V>> Merged<E> descending(
            Attr<E, V> attribute, Comparator<V> values) {
        return new Merged<>(the(attribute).descending(), inMemory(attribute, values.reversed()));
    }

    private static <E, V> Comparator<E> inMemory(Attr<E, V> attribute, Comparator<V> values) {
        return Comparator.comparing(
                entity -> Objects.requireNonNull(
                        attribute.get(entity), () -> entity + " has no value to be ordered by; declare it required()"),
                values);
    }

    /** As databases compare UUIDs; {@link UUID#compareTo} takes them for two signed numbers. */
    private static int compareBytes(UUID one, UUID other) {
        int high = Long.compareUnsigned(one.getMostSignificantBits(), other.getMostSignificantBits());
        return high != 0 ? high : Long.compareUnsigned(one.getLeastSignificantBits(), other.getLeastSignificantBits());
    }

    /** The first of what shards have answered, each in this order. */
    List<E> merge(List<List<E>> answers, int limit) {
        List<E> all = new ArrayList<>();
        answers.forEach(all::addAll);
        all.sort(inMemory); // which finds what is in order already, and merges it
        return List.copyOf(all.subList(0, Math.min(limit, all.size())));
    }
}
