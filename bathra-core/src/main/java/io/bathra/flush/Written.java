package io.bathra.flush;

import io.bathra.mapping.ModelEntity;
import io.bathra.trace.Operation;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * How many rows a flush, or all flushes of a transaction, have written. Immutable.
 *
 * @param rows by the names of entities; rows of parts and pivots by those of their attributes
 * @param leftToDatabase the tables whose rows the database has deleted, or whose links it has emptied, by itself
 */
public record Written(Map<String, Counts> rows, Set<String> leftToDatabase) {
    public static final Written NOTHING = new Written(Map.of(), Set.of());

    private static final Comparator<Map.Entry<ModelEntity<?>, Counts>> DECLARED =
            Comparator.comparingInt(one -> one.getKey().position());

    /** Rows of one entity. */
    public record Counts(int inserted, int updated, int deleted) {
        static final Counts NONE = new Counts(0, 0, 0);

        static Counts of(Operation operation, int rows) {
            return new Counts(
                    operation.inserts() ? rows : 0,
                    operation == Operation.UPDATE ? rows : 0,
                    operation == Operation.DELETE ? rows : 0);
        }

        Counts plus(Counts other) {
            return new Counts(inserted + other.inserted, updated + other.updated, deleted + other.deleted);
        }
    }

    static Written of(Collection<Map.Entry<ModelEntity<?>, Counts>> written, Set<String> leftToDatabase) {
        List<Map.Entry<ModelEntity<?>, Counts>> sorted = new ArrayList<>(written);
        sorted.sort(DECLARED);
        Map<String, Counts> rows = new LinkedHashMap<>();
        for (Map.Entry<ModelEntity<?>, Counts> one : sorted) {
            rows.merge(one.getKey().name(), one.getValue(), Counts::plus);
        }
        return new Written(rows, leftToDatabase);
    }

    Written plus(Written other) {
        if (rows.isEmpty() && leftToDatabase.isEmpty()) {
            return other;
        }
        Map<String, Counts> sum = new LinkedHashMap<>(rows);
        other.rows.forEach((name, more) -> sum.merge(name, more, Counts::plus));
        Set<String> left = new TreeSet<>(leftToDatabase);
        left.addAll(other.leftToDatabase);
        return new Written(sum, left);
    }

    /** The rows of one entity; zeros when none was written. */
    Counts of(String name) {
        return rows.getOrDefault(name, Counts.NONE);
    }

    /** The rows of all entities together. */
    Counts sum() {
        Counts sum = Counts.NONE;
        for (Counts counts : rows.values()) {
            sum = sum.plus(counts);
        }
        return sum;
    }

    /** All rows together. */
    int total() {
        Counts sum = sum();
        return sum.inserted + sum.updated + sum.deleted;
    }
}
