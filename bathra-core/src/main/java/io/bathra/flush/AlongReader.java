package io.bathra.flush;

import io.bathra.attr.Event;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.plan.Chain;
import io.bathra.plan.DeleteRules;
import io.bathra.read.EntityReader;
import io.bathra.sql.AlongWriter;
import io.bathra.sql.AlongWriter.WithKeys;
import io.bathra.sql.SqlText;
import io.bathra.track.Collector;
import io.bathra.track.Entry;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Reads the rows that go along with removed ones where they have to be known: somebody listens, or the table leads to
 * itself. Then they are removed like any other.
 */
final class AlongReader {
    private final Transaction transaction;
    private final Tracker tracker;
    private final Collector collector;
    private final EntityReader reader;
    private final boolean heard;
    private Set<Entry<?>> followed = Set.of(); // nothing is removed in most flushes
    private Map<LinkAttribute, List<Object>> moved = Map.of();

    AlongReader(Transaction transaction, Tracker tracker, Collector collector, EntityReader reader, boolean heard) {
        this.heard = heard;
        this.transaction = transaction;
        this.tracker = tracker;
        this.collector = collector;
        this.reader = reader;
    }

    /**
     * Follows the delete rules from everything that is removed and was not followed yet, until there is nothing more.
     */
    void follow() {
        readHeard();
        while (true) {
            Set<Entry<?>> all = collector.removed();
            if (all.isEmpty()) {
                return;
            }
            followed = followed.isEmpty() ? Collections.newSetFromMap(new IdentityHashMap<>()) : followed;
            Map<ModelEntity<?>, List<Entry<?>>> removed = new LinkedHashMap<>();
            for (Entry<?> entry : all) {
                if (followed.add(entry)) {
                    removed.computeIfAbsent(entry.entity(), e -> new ArrayList<>())
                            .add(entry);
                }
            }
            if (removed.isEmpty()) {
                return;
            }
            moved = new HashMap<>();
            removed.forEach(this::follow);
        }
    }

    /** Rows of which a handle alone is known are read where somebody listens, so that there is an entity to tell of. */
    private void readHeard() {
        if (heard && !tracker.loose().areNone()) {
            tracker.loose().heard().forEach((entity, keys) -> {
                for (List<Object> some :
                        KeyedRows.chunks(keys, entity.keyColumns().size())) {
                    SqlText select = transaction.database().dialect().selects().rows(entity, some);
                    reader.read("flush: whom to tell of", entity, select);
                }
            });
        }
    }

    private void follow(ModelEntity<?> entity, List<Entry<?>> removed) {
        boolean deep = transaction.database().dialect().abilities().deepCascades();
        List<Object> keys = new ArrayList<>();
        removed.forEach(entry -> keys.add(Objects.requireNonNull(entry.key())));
        Set<ModelEntity<?>> read = Collections.newSetFromMap(new IdentityHashMap<>());
        for (Chain chain : DeleteRules.of(entity, deep, heard).toRead()) {
            read.add(chain.end());
            for (List<Object> some : KeyedRows.chunks(keys, entity.keyColumns().size())) {
                read(chain, some);
            }
        }
        for (Entry<?> entry : read.isEmpty() ? Set.<Entry<?>>of() : collector.taken()) {
            if (read.contains(entry.entity())) {
                remove(entry); // pointed to a removed row since it was read
            }
        }
    }

    private void read(Chain chain, List<Object> keys) {
        ModelEntity<?> entity = chain.end();
        Function<LinkAttribute, List<Object>> stay = link -> moved.computeIfAbsent(link, collector::moved);
        SqlText select = AlongWriter.rows(transaction.database().dialect(), chain, new WithKeys(keys), stay);
        String cause = "flush: what goes along (" + chain + ")";
        if (heard && entity.isHeard(Event.REMOVE)) {
            for (Entry<?> entry : reader.read(cause, entity, select)) {
                remove(entry);
            }
            return;
        }
        transaction.query(cause, select, result -> {
            @Nullable Object[] row = KeyedRows.row(transaction, entity, result);
            Object key = Objects.requireNonNull(entity.keyIn(row));
            Entry<?> known = tracker.entry(entity, key);
            if (known == null) {
                tracker.loose().of(entity, key).removeAs(row);
            } else {
                remove(known);
            }
        });
    }

    private void remove(Entry<?> entry) {
        if (!Collector.isOrphan(entry)) {
            tracker.removeAlong(entry);
        }
    }
}
