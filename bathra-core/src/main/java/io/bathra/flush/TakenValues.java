package io.bathra.flush;

import io.bathra.error.Flaw;
import io.bathra.error.Problem;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.Shape;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.sql.SelectWriter;
import io.bathra.track.Change;
import io.bathra.track.Changes;
import io.bathra.track.Entry;
import io.bathra.track.Entry.State;
import io.bathra.track.Stranger;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Asks the database which unique values of pending changes are taken by rows that this unit of work leaves alone. */
final class TakenValues {
    private final Transaction transaction;
    private final Tracker tracker;
    private final Map<UniqueKey, Map<Object, Entry<?>>> wanted = new LinkedHashMap<>();
    private final Set<Entry<?>> changing = Collections.newSetFromMap(new IdentityHashMap<>());
    private final List<Problem> problems = new ArrayList<>();

    TakenValues(Transaction transaction, Tracker tracker) {
        this.transaction = transaction;
        this.tracker = tracker;
    }

    List<Problem> problems(Changes changes) {
        changes.inserts().forEach(insert -> want(insert.entry(), insert.values()));
        for (Change.Update update : changes.updates()) {
            changing.add(update.entry());
            want(update.entry(), update.values());
        }
        wanted.forEach(this::ask);
        return problems;
    }

    private void want(Entry<?> entry, @Nullable Object[] values) {
        if (entry.entity().kind() == ModelEntity.Kind.PIVOT) {
            return; // pairs that are there stay as they are
        }
        for (UniqueKey unique : entry.entity().uniqueKeys()) {
            Object value = unique.value(values);
            boolean unchanged = value == null || value.equals(unique.value(entry::before));
            boolean open = unique.attributes().stream()
                    .map(attribute -> values[attribute.slot()])
                    .anyMatch(one -> one instanceof Entry<?> || one instanceof Stranger);
            if (!unchanged && !open) {
                wanted.computeIfAbsent(unique, u -> new LinkedHashMap<>()).put(value, entry);
            }
        }
    }

    private void ask(UniqueKey unique, Map<Object, Entry<?>> claims) {
        List<StoredAttribute> attributes = unique.attributes();
        ModelEntity<?> entity = attributes.get(0).entity();
        Shape shape = unique.shape();
        for (List<Object> values :
                KeyedRows.chunks(claims.keySet(), shape.gates().size())) {
            transaction.query(
                    "problems: which unique values are taken",
                    SelectWriter.rowsWith(
                            transaction.database().dialect(), entity, ModelEntity.columns(attributes), shape, values),
                    result -> {
                        @Nullable Object[] row = KeyedRows.row(transaction, entity, result);
                        taken(unique, claims.get(unique.value(row)), row);
                    });
        }
    }

    private void taken(UniqueKey unique, @Nullable Entry<?> claimant, @Nullable Object[] row) {
        ModelEntity<?> entity = unique.attributes().get(0).entity();
        Object key = Objects.requireNonNull(entity.keyIn(row));
        Entry<?> holder = tracker.entry(entity, key);
        boolean frees = holder != null && (holder.state() == State.REMOVED || changing.contains(holder));
        if (claimant == null || frees || holder == claimant) {
            return;
        }
        problems.add(new Problem(
                claimant.toString(),
                unique.attributes().stream().map(Attribute::name).collect(Collectors.joining("+")),
                unique.value(row),
                Flaw.of(
                        Flaw.Code.TAKEN,
                        "must be unique, but " + entity.describe(key) + " is stored with it; change one of them")));
    }
}
