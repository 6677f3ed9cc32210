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
 * How many rows a flush, or all flushes of a transaction, have written. Immutable. It is added up when somebody asks,
 * since few do.
 */
public final class Written {
    public static final Written NOTHING = new Written(List.of(), Set.of());

    private static final Comparator<One> DECLARED = Comparator.comparingInt(one -> one.entity.position());

    private final List<One> all;
    private final Set<String> leftToDatabase;

    /** Rows of one entity. */
    public record Counts(int inserted, int updated, int deleted) {
        static final Counts NONE = new Counts(0, 0, 0);

        Counts plus(Counts other) {
            return new Counts(inserted + other.inserted, updated + other.updated, deleted + other.deleted);
        }
    }

    /** What one statement, or several of a kind, have written. */
    record One(ModelEntity<?> entity, Operation operation, int rows) {
        Counts counts() {
            return new Counts(
                    operation.inserts() ? rows : 0,
                    operation == Operation.UPDATE ? rows : 0,
                    operation == Operation.DELETE ? rows : 0);
        }
    }

    private Written(List<One> all, Set<String> leftToDatabase) {
        this.all = all;
        this.leftToDatabase = leftToDatabase;
    }

    static Written of(Collection<One> written, Set<String> leftToDatabase) {
        return new Written(List.copyOf(written), leftToDatabase);
    }

    Written plus(Written other) {
        if (all.isEmpty() && leftToDatabase.isEmpty()) {
            return other;
        }
        List<One> sum = new ArrayList<>(all);
        sum.addAll(other.all);
        Set<String> left = new TreeSet<>(leftToDatabase);
        left.addAll(other.leftToDatabase);
        return new Written(sum, left);
    }

    /** By the names of entities, in the order of their declaration; rows of parts and pivots by their attributes. */
    public Map<String, Counts> rows() {
        List<One> sorted = new ArrayList<>(all);
        sorted.sort(DECLARED);
        Map<String, Counts> rows = new LinkedHashMap<>();
        for (One one : sorted) {
            rows.merge(one.entity.name(), one.counts(), Counts::plus);
        }
        return rows;
    }

    /** The tables whose rows the database has deleted, or whose links it has emptied, by itself. */
    public Set<String> leftToDatabase() {
        return leftToDatabase;
    }

    boolean isNothing() {
        return all.isEmpty();
    }

    /** The rows of one entity; zeros when none was written. */
    Counts of(String name) {
        return rows().getOrDefault(name, Counts.NONE);
    }

    /** The rows of all entities together. */
    Counts sum() {
        Counts sum = Counts.NONE;
        for (One one : all) {
            sum = sum.plus(one.counts());
        }
        return sum;
    }

    /** All rows together. */
    int total() {
        Counts sum = sum();
        return sum.inserted + sum.updated + sum.deleted;
    }
}
