package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.jdbc.Trial;
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
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Looks what is there, when a transaction has gone back, of rows that were read as it had made them: only the database
 * knows. By one statement for each table; objects whose rows are not there are not tracked any more.
 */
final class Recollection {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra");
    private static final String CAUSE = "rollback: what is there now";

    private final Transaction transaction;
    private final EntityReader reader;
    private final UnitGuard guard;

    /** Reads in the unit's transaction, and takes note when that fails. */
    private final Consumer<Runnable> reading;

    Recollection(Transaction transaction, EntityReader reader, UnitGuard guard, Consumer<Runnable> reading) {
        this.transaction = transaction;
        this.reader = reader;
        this.guard = guard;
        this.reading = reading;
    }

    /**
     * Takes memory back, and reads what is in doubt. No failure hides an earlier one.
     *
     * @param failure what happened before, with which a failure here is told; null for nothing
     */
    void after(Supplier<WayBack> back, @Nullable Throwable failure) {
        try {
            WayBack way = back.get();
            if (!guard.isBroken() && !guard.isClosed()) {
                look(way.doubtful(), way, failure);
            }
        } catch (RuntimeException e) {
            if (failure == null) {
                throw e;
            }
            failure.addSuppressed(e);
        }
    }

    /** What cannot be looked at is not tracked any more. Leaves no transaction open that was not. */
    private void look(Map<ModelEntity<?>, List<Entry<?>>> doubtful, WayBack way, @Nullable Throwable failure) {
        if (doubtful.isEmpty()) {
            return;
        }
        try {
            reading.accept(() -> {
                Trial.of(transaction, "rollback", () -> read(doubtful, way));
                if (!transaction.hasWork()) {
                    transaction.rollback(); // which only looked
                }
            });
        } catch (BathraException e) {
            if (failure == null) {
                LOG.warn("what was read before a rollback could not be read again, so it is not tracked any more", e);
            } else {
                failure.addSuppressed(e);
            }
        }
    }

    private void read(Map<ModelEntity<?>, List<Entry<?>>> doubtful, WayBack way) {
        try {
            find(doubtful, way);
        } catch (RuntimeException e) {
            way.giveUp();
            throw e;
        }
        way.settle();
    }

    private void find(Map<ModelEntity<?>, List<Entry<?>>> doubtful, WayBack way) {
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
                for (Map.Entry<Entry<?>, List<@Nullable Object[]>> found :
                        reader.partRows(parts, owners).entrySet()) {
                    way.foundParts(found.getKey(), parts, found.getValue());
                }
            }
        });
    }
}
