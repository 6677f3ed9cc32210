package io.bathra.read;

import io.bathra.attr.DeleteRule;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.plan.DeleteRules;
import io.bathra.sql.Overlay;
import io.bathra.sql.SqlText;
import io.bathra.track.Change;
import io.bathra.track.Changes;
import io.bathra.track.Entry;
import io.bathra.track.Stranger;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/**
 * The rows that a flush would leave behind, for queries that see them without one. New rows get keys that stand in for
 * those to be drawn; what the delete rules would do to rows that nobody has read is found out by reading them.
 */
public final class PendingRows {
    /**
     * Stand-ins for drawn keys begin here: larger than any that is drawn, so that new rows come behind others as they
     * will.
     */
    private static final long FIRST_LONG = Long.MAX_VALUE - (1L << 40);

    private static final int FIRST_INTEGER = Integer.MAX_VALUE - (1 << 27);

    private final Tracker tracker;
    private final Transaction transaction;
    private final Changes changes;
    private final Map<Entry<?>, @Nullable Object[]> inserted = new IdentityHashMap<>();
    private final Map<Entry<?>, Object> keys = new IdentityHashMap<>();
    private final Set<Object> standIns = new HashSet<>();
    private final Map<ModelEntity<?>, Pending> pending = new LinkedHashMap<>();
    private final Map<Integer, Entry<?>> byNumber = new HashMap<>();
    private final Map<ModelEntity<?>, Map<Object, @Nullable Object[]>> stored = new HashMap<>();

    /** What is pending for one table. */
    private static final class Pending {
        private final List<Overlay.Row> inserts = new ArrayList<>();
        private final Map<Object, Overlay.Row> updates = new LinkedHashMap<>();
        private final Set<Object> removed = new LinkedHashSet<>();
    }

    private PendingRows(Tracker tracker, Transaction transaction, Changes changes) {
        this.tracker = tracker;
        this.transaction = transaction;
        this.changes = changes;
    }

    /**
     * What a query sees that reads some tables.
     *
     * @return null when nothing is pending for them
     */
    public static @Nullable Overlaid of(
            Tracker tracker, Transaction transaction, Changes changes, Set<ModelEntity<?>> reads) {
        if (changes.isEmpty() && changes.taken().isEmpty()) {
            return null;
        }
        PendingRows rows = new PendingRows(tracker, transaction, changes);
        rows.collect();
        rows.follow(reads);
        List<Overlay.Table> tables = new ArrayList<>();
        rows.pending.forEach((entity, own) -> {
            if (reads.contains(entity)) {
                List<Object> hidden = new ArrayList<>(own.updates.keySet());
                hidden.addAll(own.removed);
                List<Overlay.Row> all = new ArrayList<>(own.updates.values());
                all.addAll(own.inserts);
                tables.add(new Overlay.Table(entity, hidden, all));
            }
        });
        return tables.isEmpty() ? null : new Overlaid(new Overlay(tables), rows.byNumber, rows.stored, rows.standIns);
    }

    private Pending of(ModelEntity<?> entity) {
        return pending.computeIfAbsent(entity, one -> new Pending());
    }

    private void collect() {
        changes.inserts().forEach(insert -> inserted.put(insert.entry(), insert.values()));
        for (Change.Insert insert : changes.inserts()) {
            Entry<?> entry = insert.entry();
            of(entry.entity()).inserts.add(numbered(entry, row(entry, insert.values())));
        }
        Map<ModelEntity<?>, Map<Object, Change.Update>> loose = new LinkedHashMap<>();
        for (Change.Update update : changes.updates()) {
            Entry<?> entry = update.entry();
            Object key = Objects.requireNonNull(entry.key());
            if (entry.state() == Entry.State.LOOSE) {
                loose.computeIfAbsent(entry.entity(), one -> new LinkedHashMap<>())
                        .put(key, update);
            } else {
                of(entry.entity()).updates.put(key, numbered(entry, row(entry, update.values())));
            }
        }
        loose.forEach(this::read);
        changes.deletes().forEach(delete -> remove(delete.entry()));
        changes.taken().keySet().forEach(this::remove);
    }

    private void remove(Entry<?> entry) {
        of(entry.entity()).removed.add(Objects.requireNonNull(entry.key()));
    }

    /** Rows of parts and pivots are nobody's answer, and their numbers are not always their own. */
    private Overlay.Row numbered(Entry<?> entry, @Nullable Object[] values) {
        if (entry.entity().kind() != ModelEntity.Kind.ENTITY) {
            return new Overlay.Row(null, values);
        }
        byNumber.put(entry.number(), entry);
        return new Overlay.Row(entry.number(), values);
    }

    /** Rows that are to be changed without having been read: what is not changed in them is as it is stored. */
    private void read(ModelEntity<?> entity, Map<Object, Change.Update> updates) {
        KeyedRows.readAgain(
                transaction, "pending: rows to be changed", entity, List.copyOf(updates.keySet()), "", row -> {
                    Object key = Objects.requireNonNull(entity.keyIn(row));
                    Change.Update update = Objects.requireNonNull(updates.get(key));
                    @Nullable Object[] changed = row(update.entry(), update.values());
                    @Nullable Object[] values = row.clone();
                    update.changed().stream().forEach(slot -> values[slot] = changed[slot]);
                    replace(entity, key, row, values);
                });
    }

    /** A row that nobody has an object of. */
    private void replace(ModelEntity<?> entity, Object key, @Nullable Object[] row, @Nullable Object[] values) {
        of(entity).updates.put(key, new Overlay.Row(null, values));
        stored.computeIfAbsent(entity, one -> new HashMap<>()).putIfAbsent(key, row);
    }

    // ---- keys

    /** A row in which links to new rows have their stand-ins. */
    private @Nullable Object[] row(Entry<?> entry, @Nullable Object[] values) {
        @Nullable Object[] row = values.clone();
        for (LinkAttribute link : entry.entity().links()) {
            Object value = row[link.slot()];
            if (value instanceof Entry<?> target) {
                row[link.slot()] = key(target);
            } else if (value instanceof Stranger) {
                row[link.slot()] = null;
            }
        }
        if (entry.entity().keySource().isDrawn() && row[0] == null) {
            row[0] = key(entry);
        }
        return row;
    }

    private Object key(Entry<?> entry) {
        Object known = entry.key() == null ? keys.get(entry) : entry.key();
        if (known != null) {
            return known;
        }
        ModelEntity<?> entity = entry.entity();
        @Nullable Object[] values = inserted.get(entry);
        Object key = null;
        if (!entity.keySource().isDrawn() && values != null) {
            key = entity.keyIn(keyRow(entity, values));
        } else if (entity.keySource().isDrawn()) {
            key = entity.drawnKeyOf(entry.object());
        }
        if (key == null) {
            key = standIn(entity, entry.number());
            standIns.add(key);
        }
        keys.put(entry, key);
        return key;
    }

    /** What is no part of the key need not be known for it, and might lead round in a ring. */
    private @Nullable Object[] keyRow(ModelEntity<?> entity, @Nullable Object[] values) {
        @Nullable Object[] row = values.clone();
        for (StoredAttribute attribute : entity.keyAttributes()) {
            if (row[attribute.slot()] instanceof Entry<?> target) {
                row[attribute.slot()] = key(target);
            }
        }
        return row;
    }

    private static Object standIn(ModelEntity<?> entity, int number) {
        return switch (entity.keyColumns().get(0).type().kind()) {
            case LONG -> FIRST_LONG + number;
            case INTEGER -> FIRST_INTEGER + number;
            case UUID -> new UUID(-1L, number);
            default -> "new " + number;
        };
    }

    // ---- delete rules

    /** What the delete rules do to rows that lead to removed ones. */
    private void follow(Set<ModelEntity<?>> reads) {
        Map<ModelEntity<?>, Set<Object>> open = new LinkedHashMap<>();
        boolean deep = transaction.database().dialect().abilities().deepCascades();
        pending.forEach((entity, own) -> {
            boolean concerned = !own.removed.isEmpty()
                    && !Collections.disjoint(DeleteRules.of(entity, deep).concerned(), reads);
            if (concerned) {
                open.put(entity, new LinkedHashSet<>(own.removed));
            }
        });
        while (!open.isEmpty()) {
            Map.Entry<ModelEntity<?>, Set<Object>> next =
                    open.entrySet().iterator().next();
            open.remove(next.getKey());
            for (LinkAttribute link : next.getKey().linksLeadingHere()) {
                if (link.onDelete() != DeleteRule.RESTRICT) {
                    Set<Object> gone = follow(link, next.getValue());
                    if (!gone.isEmpty()) {
                        open.computeIfAbsent(link.entity(), one -> new LinkedHashSet<>())
                                .addAll(gone);
                    }
                }
            }
        }
    }

    /** The keys of rows that go along because of one link. */
    private Set<Object> follow(LinkAttribute link, Set<Object> removed) {
        ModelEntity<?> entity = link.entity();
        Pending own = of(entity);
        Set<Object> gone = new LinkedHashSet<>();
        List<@Nullable Object[]> rows = new ArrayList<>();
        for (List<Object> some : KeyedRows.chunks(removed, link.columns().size())) {
            SqlText select = transaction.database().dialect().selects().leading(link, some);
            transaction.query(
                    "pending: what goes along", select, result -> rows.add(KeyedRows.row(transaction, entity, result)));
        }
        for (Object[] row : rows) {
            Object key = Objects.requireNonNull(entity.keyIn(row));
            Overlay.Row changed = own.updates.get(key);
            boolean movedAway = changed != null && !Objects.equals(changed.values()[link.slot()], row[link.slot()]);
            if (own.removed.contains(key) || movedAway) {
                continue;
            }
            if (link.onDelete() == DeleteRule.CASCADE) {
                own.updates.remove(key);
                own.removed.add(key);
                gone.add(key);
                continue;
            }
            @Nullable Object[] values = (changed == null ? row : changed.values()).clone();
            values[link.slot()] = null;
            Entry<?> known = tracker.entry(entity, key);
            if (known == null) {
                replace(entity, key, row, values);
            } else {
                own.updates.put(key, numbered(known, values));
            }
        }
        return gone;
    }
}
