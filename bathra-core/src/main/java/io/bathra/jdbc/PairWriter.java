package io.bathra.jdbc;

import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.PivotAttribute.Pivot;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.sql.SelectWriter;
import io.bathra.sql.WriteForm;
import io.bathra.sql.WriteForm.Present;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Writes pairs of a pivot that are not there yet; those that are there, or come meanwhile, stay as they are. */
public final class PairWriter {
    /** How often a statement is repeated whose rows somebody else has inserted meanwhile. */
    private static final int ATTEMPTS = 10;

    private final Transaction transaction;
    private final ModelEntity<?> entity;
    private final CharSequence cause;

    public PairWriter(Transaction transaction, ModelEntity<?> entity, CharSequence cause) {
        this.cause = cause;
        this.transaction = transaction;
        this.entity = entity;
    }

    /**
     * Writes pairs.
     *
     * @return how many were not there
     */
    public long insertMissing(WriteForm form, List<@Nullable Object[]> rows) {
        place(rows);
        List<@Nullable Object[]> missing =
                new ArrayList<>(form.present() == Present.LOOKED_UP ? withoutThoseThere(rows) : rows);
        missing.sort(this::byKey); // whoever inserts the same rows waits, and does not deadlock
        int attempts = form.present() == Present.SKIPPED_WHEN_REPEATED ? ATTEMPTS : 1;
        return Race.run(
                attempts,
                entity.uniqueKeys().subList(0, 1),
                again -> new RowWriter(transaction).write(cause, form, missing));
    }

    /**
     * Writes pairs of owners that are new, so that none of them can be there; the elements are locked in order.
     *
     * @return how many were written
     */
    public long insert(WriteForm form, List<@Nullable Object[]> rows) {
        return new RowWriter(transaction).write(cause, form, inOrder(rows));
    }

    /** Pairs in the order in which whoever writes them locks their elements. */
    public List<@Nullable Object[]> inOrder(List<@Nullable Object[]> rows) {
        List<@Nullable Object[]> sorted = new ArrayList<>(rows);
        sorted.sort(this::byKey);
        return sorted;
    }

    private List<@Nullable Object[]> withoutThoseThere(List<@Nullable Object[]> rows) {
        Map<Object, @Nullable Object[]> byKey = new LinkedHashMap<>();
        rows.forEach(row -> byKey.put(Objects.requireNonNull(entity.keyIn(row)), row));
        Set<Object> asked = new LinkedHashSet<>(byKey.keySet());
        Set<Object> there = there(List.copyOf(asked));
        byKey.keySet().removeAll(there);
        byKey.keySet().removeAll(Alike.came(asked, there, this::there).keySet());
        return List.copyOf(byKey.values());
    }

    private Set<Object> there(List<Object> keys) {
        Set<Object> there = new LinkedHashSet<>();
        KeyedRows.readAgain(
                transaction,
                cause + ": which pairs are there",
                entity,
                keys,
                "",
                found -> there.add(Objects.requireNonNull(entity.keyIn(found))));
        return there;
    }

    /** What was put into unread links comes behind all that is there. */
    private void place(List<@Nullable Object[]> rows) {
        Pivot pivot = Objects.requireNonNull(entity.pivot());
        StoredAttribute order = pivot.order();
        if (order == null) {
            return;
        }
        LinkAttribute near = pivot.near();
        Set<Object> owners = new LinkedHashSet<>();
        rows.stream()
                .filter(row -> row[order.slot()] == null)
                .forEach(row -> owners.add(Objects.requireNonNull(row[near.slot()])));
        Map<Object, Long> last = new HashMap<>();
        for (List<Object> some : KeyedRows.chunks(owners, near.columns().size())) {
            transaction.query(
                    cause + ": where the pairs end",
                    SelectWriter.lastPositions(transaction.database().dialect(), pivot, some),
                    result -> {
                        Object owner = KeyedRows.value(transaction, near, result, 1);
                        Object position = KeyedRows.value(
                                transaction, order, result, 1 + near.columns().size());
                        if (owner != null && position != null) {
                            last.put(owner, (Long) position);
                        }
                    });
        }
        for (@Nullable Object[] row : rows) {
            if (row[order.slot()] == null) {
                row[order.slot()] = last.merge(Objects.requireNonNull(row[near.slot()]), PivotAttribute.GAP, Long::sum);
            }
        }
    }

    @SuppressWarnings({"unchecked", "rawtypes"}) // the values of one column are of one comparable type
    private int byKey(@Nullable Object[] a, @Nullable Object[] b) {
        int order = 0;
        for (StoredColumn column : entity.keyColumns()) {
            if (order == 0) {
                order = ((Comparable) Objects.requireNonNull(column.in(a))).compareTo(column.in(b));
            }
        }
        return order;
    }
}
