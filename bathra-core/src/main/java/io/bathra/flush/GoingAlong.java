package io.bathra.flush;

import io.bathra.attr.DeleteRule;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.plan.Chain;
import io.bathra.plan.DeleteRules;
import io.bathra.sql.AlongWriter;
import io.bathra.sql.Dialect;
import io.bathra.sql.SqlText;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Counts the rows that will go along when others are removed, whoever removes them: by a count a table, or, where a
 * table is reached from itself, by reading the rows level by level.
 */
final class GoingAlong {
    private static final String CAUSE = "delete by query: what goes along";

    private final Transaction transaction;
    private final Dialect dialect;

    GoingAlong(Transaction transaction) {
        this.transaction = transaction;
        this.dialect = transaction.database().dialect();
    }

    /**
     * How many rows of each entity go, in the order of the model, beside those that are removed themselves.
     *
     * @param found which rows are removed
     * @param keys the keys of these, asked for when they have to be known
     */
    Map<String, Long> count(AlongWriter.Found found, Supplier<? extends Collection<Object>> keys) {
        Map<ModelEntity<?>, List<Chain>> ways = DeleteRules.waysDown(found.entity());
        Map<Integer, Map.Entry<String, Long>> counts = new TreeMap<>();
        if (ways == null) {
            read(found.entity(), keys.get())
                    .forEach((entity, rows) ->
                            counts.put(entity.position(), Map.entry(entity.name(), (long) rows.size())));
        } else {
            ways.forEach((entity, chains) -> {
                long[] rows = new long[1];
                transaction.query(
                        CAUSE, AlongWriter.count(dialect, chains, found), result -> rows[0] = result.getLong(1));
                counts.put(entity.position(), Map.entry(entity.name(), rows[0]));
            });
        }
        Map<String, Long> inOrder = new LinkedHashMap<>();
        counts.values().stream()
                .filter(one -> one.getValue() > 0)
                .forEach(one -> inOrder.put(one.getKey(), one.getValue()));
        return inOrder;
    }

    private Map<ModelEntity<?>, Set<Object>> read(ModelEntity<?> root, Collection<Object> keys) {
        Map<ModelEntity<?>, Set<Object>> gone = new LinkedHashMap<>();
        Map<ModelEntity<?>, Set<Object>> level = new LinkedHashMap<>();
        Set<Object> removed = new HashSet<>(keys);
        level.put(root, removed);
        while (!level.isEmpty()) {
            Map<ModelEntity<?>, Set<Object>> next = new LinkedHashMap<>();
            level.forEach((entity, some) -> {
                for (LinkAttribute link : entity.linksLeadingHere()) {
                    if (link.onDelete() == DeleteRule.CASCADE && !link.entity().isView()) {
                        for (Object key : leadingTo(link, some)) {
                            boolean known = link.entity() == root && removed.contains(key);
                            if (!known
                                    && gone.computeIfAbsent(link.entity(), one -> new HashSet<>())
                                            .add(key)) {
                                next.computeIfAbsent(link.entity(), one -> new LinkedHashSet<>())
                                        .add(key);
                            }
                        }
                    }
                }
            });
            level = next;
        }
        return gone;
    }

    /** The keys of rows whose link leads to some others. */
    private List<Object> leadingTo(LinkAttribute link, Set<Object> keys) {
        ModelEntity<?> entity = link.entity();
        List<Object> found = new ArrayList<>();
        for (List<Object> some : KeyedRows.chunks(keys, link.columns().size())) {
            SqlText rows = dialect.selects().leading(link, some);
            transaction.query(CAUSE, rows, result -> {
                @Nullable Object[] row = KeyedRows.row(transaction, entity, result);
                found.add(Objects.requireNonNull(entity.keyIn(row)));
            });
        }
        return found;
    }
}
