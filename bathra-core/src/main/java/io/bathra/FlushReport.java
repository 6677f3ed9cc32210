package io.bathra;

import io.bathra.flush.Written;
import io.bathra.text.AlignedTable;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** How many rows a flush, or all flushes of a transaction, have written. Immutable. */
public final class FlushReport {
    /** Rows of one entity. */
    public record Rows(int inserted, int updated, int deleted) {
        static final Rows NONE = new Rows(0, 0, 0);

        Rows plus(Rows other) {
            return new Rows(inserted + other.inserted, updated + other.updated, deleted + other.deleted);
        }
    }

    private final Map<String, Rows> rows;
    private final Set<String> leftToDatabase;

    private final @Nullable Position position;

    FlushReport(Written written) {
        this(written, null);
    }

    /**
     * @param told how far the database had come; null where nobody tells
     */
    FlushReport(Written written, @Nullable String told) {
        this.position = told == null ? null : Position.parse(told);
        Map<String, Rows> all = new LinkedHashMap<>();
        written.rows()
                .forEach((name, counts) ->
                        all.put(name, new Rows(counts.inserted(), counts.updated(), counts.deleted())));
        this.rows = Collections.unmodifiableMap(all);
        this.leftToDatabase = Collections.unmodifiableSet(written.leftToDatabase());
    }

    /**
     * {@return how far the database had come when this was committed, so that a standby can be asked for what it
     * shows from there on} Empty where nothing was written, after a flush alone, and of a store that {@linkplain
     * Store#readingFrom reads from no standby}.
     */
    public Optional<Position> position() {
        return Optional.ofNullable(position);
    }

    /** {@return what was written, by the names of entities; rows of parts and pivots by those of their attributes} */
    public Map<String, Rows> rows() {
        return rows;
    }

    /**
     * {@return the tables whose rows the database has deleted, or whose links it has emptied, by itself, since those
     * that they led to were removed} How many rows that were, it does not tell.
     */
    public Set<String> leftToDatabase() {
        return leftToDatabase;
    }

    /**
     * {@return the rows of one entity; zeros when none was written}
     *
     * @param entity the entity's class
     */
    public Rows of(Class<?> entity) {
        return of(entity.getSimpleName());
    }

    /**
     * {@return the rows behind parts or a pivot, {@code "Vessel.certificates"}; zeros when none was written}
     *
     * @param attribute the attribute, by its accessor
     */
    public Rows of(String attribute) {
        return rows.getOrDefault(attribute, Rows.NONE);
    }

    /** {@return the rows of all entities together} */
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
