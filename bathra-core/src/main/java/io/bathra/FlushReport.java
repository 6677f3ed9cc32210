package io.bathra;

import io.bathra.model.ModelEntity;
import io.bathra.plan.Operation;
import io.bathra.text.AlignedTable;
import java.util.Collection;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/** How many rows a flush, or all flushes of a transaction, have written. Immutable. */
public final class FlushReport {
    /** Rows of one entity. */
    public record Rows(int inserted, int updated, int deleted) {
        static final Rows NONE = new Rows(0, 0, 0);

        Rows plus(Rows other) {
            return new Rows(inserted + other.inserted, updated + other.updated, deleted + other.deleted);
        }

        static Rows of(Operation operation, int rows) {
            return new Rows(
                    operation.inserts() ? rows : 0,
                    operation == Operation.UPDATE ? rows : 0,
                    operation == Operation.DELETE ? rows : 0);
        }
    }

    static final FlushReport NOTHING = new FlushReport(Map.of(), Set.of());

    private final Map<String, Rows> rows;
    private final Set<String> leftToDatabase;

    private FlushReport(Map<String, Rows> rows, Set<String> leftToDatabase) {
        this.leftToDatabase = Collections.unmodifiableSet(leftToDatabase);
        this.rows = Collections.unmodifiableMap(rows);
    }

    static FlushReport of(Collection<Map.Entry<ModelEntity<?>, Rows>> written, Set<String> leftToDatabase) {
        Map<Integer, Map.Entry<String, Rows>> sorted = new TreeMap<>();
        for (Map.Entry<ModelEntity<?>, Rows> one : written) {
            sorted.merge(
                    one.getKey().position(),
                    Map.entry(one.getKey().name(), one.getValue()),
                    (a, b) -> Map.entry(a.getKey(), a.getValue().plus(b.getValue())));
        }
        Map<String, Rows> rows = new LinkedHashMap<>();
        sorted.values().forEach(one -> rows.put(one.getKey(), one.getValue()));
        return new FlushReport(rows, leftToDatabase);
    }

    FlushReport plus(FlushReport other) {
        Map<String, Rows> sum = new LinkedHashMap<>(rows);
        other.rows.forEach((name, more) -> sum.merge(name, more, Rows::plus));
        Set<String> left = new TreeSet<>(leftToDatabase);
        left.addAll(other.leftToDatabase);
        return new FlushReport(sum, left);
    }

    /** What was written, by the names of entities; rows of parts and pivots by those of their attributes. */
    public Map<String, Rows> rows() {
        return rows;
    }

    /**
     * The tables whose rows the database has deleted, or whose links it has emptied, by itself, since those that they led to
     * were removed. How many rows that were, it does not tell.
     */
    public Set<String> leftToDatabase() {
        return leftToDatabase;
    }

    /** The rows of one entity; zeros when none was written. */
    public Rows of(Class<?> entity) {
        return of(entity.getSimpleName());
    }

    /** The rows behind parts or a pivot, {@code "Vessel.certificates"}; zeros when none was written. */
    public Rows of(String attribute) {
        return rows.getOrDefault(attribute, Rows.NONE);
    }

    /** The rows of all entities together. */
    public Rows total() {
        return rows.values().stream().reduce(Rows.NONE, Rows::plus);
    }

    /** An aligned table, one line an entity. */
    @Override
    public String toString() {
        if (rows.isEmpty()) {
            return "nothing written";
        }
        AlignedTable table = new AlignedTable("entity", "inserted", "updated", "deleted");
        rows.forEach((name, r) -> table.line(name, r.inserted(), r.updated(), r.deleted()));
        return leftToDatabase.isEmpty()
                ? table.toString()
                : table + "\nleft to the database's own delete rules: " + String.join(", ", leftToDatabase);
    }
}
