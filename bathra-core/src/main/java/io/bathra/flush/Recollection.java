package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.read.EntityReader;
import io.bathra.track.Entry;
import io.bathra.track.WayBack;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Looks what is there, when a transaction has gone back, of rows that were read as it had made them: only the database knows. By one
 * statement for each table; objects whose rows are not there are not tracked any more.
 */
final class Recollection {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra");

    private static final String CAUSE = "rollback: what is there now";

    private final Transaction transaction;
    private final EntityReader reader;

    Recollection(Transaction transaction, EntityReader reader) {
        this.transaction = transaction;
        this.reader = reader;
    }

    /**
     * Reads what is in doubt. Where that fails, nothing of it is tracked.
     *
     * @param failure what happened before, with which a failure here is told; null for nothing
     * @return whether there was anything
     */
    boolean of(WayBack way, @Nullable Throwable failure) {
        Map<ModelEntity<?>, List<Entry<?>>> doubtful = way.doubtful();
        if (doubtful.isEmpty()) {
            return false;
        }
        boolean within = transaction.hasWork();
        int savepoint = within ? transaction.savepoint("rollback") : 0;
        try {
            read(doubtful, way);
        } catch (BathraException e) {
            LOG.warn("what is there after a rollback could not be read, so what was read before it is not tracked", e);
            if (failure != null) {
                failure.addSuppressed(e);
            }
            if (within) {
                transaction.rollbackToSavepoint("rollback", savepoint);
            }
        }
        if (within) {
            transaction.releaseSavepoint("rollback", savepoint);
        } else {
            transaction.rollback(); // which only looked
        }
        return true;
    }

    private void read(Map<ModelEntity<?>, List<Entry<?>>> doubtful, WayBack way) {
        doubtful.forEach((entity, entries) -> {
            Map<Object, Entry<?>> byKey = new HashMap<>();
            entries.forEach(entry -> byKey.putIfAbsent(way.key(entry), entry));
            List<Entry<?>> owners = new ArrayList<>();
            List<@Nullable Object[]> rows = new ArrayList<>();
            KeyedRows.readAgain(transaction, CAUSE, entity, List.copyOf(byKey.keySet()), "", rows::add);
            for (@Nullable Object[] row : rows) {
                Entry<?> entry = byKey.get(Objects.requireNonNull(entity.keyIn(row)));
                if (entry != null && way.found(entry, row)) {
                    owners.add(entry);
                }
            }
            for (PartsAttribute parts : entity.parts()) {
                reader.partRows(parts, owners).forEach((owner, own) -> way.foundParts(owner, parts, own));
            }
        });
        way.settle();
    }
}
