package io.bathra.flush;

import io.bathra.answer.Locking;
import io.bathra.bulk.On;
import io.bathra.error.BathraException;
import io.bathra.error.NotExactlyOneException;
import io.bathra.error.UniqueViolation;
import io.bathra.jdbc.Alike;
import io.bathra.jdbc.BulkDoor;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Race;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import io.bathra.query.Query;
import io.bathra.sql.SelectWriter;
import io.bathra.sql.SqlText;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Finds entities by what is unique in them, and adds what is missing. When somebody else was faster, theirs are found,
 * by a locking read: under a snapshot of its own a transaction does not see them otherwise.
 */
public final class FindOrAdd {
    private static final BulkDoor BULK = BulkDoor.open(On.class);
    private static final int ATTEMPTS = 3;

    private final Unit unit;
    private final Transaction transaction;

    FindOrAdd(Unit unit) {
        this.unit = unit;
        this.transaction = unit.transaction();
    }

    /**
     * The one entity that a query finds, or a new one.
     *
     * @param naturalKey a query by what is unique
     * @param locked whether its row is held at once, since it is about to be changed
     * @param change what is done to either before it is flushed
     */
    public <E> E one(
            Class<E> type,
            Query<E> naturalKey,
            boolean locked,
            Supplier<? extends E> maker,
            Consumer<? super E> change) {
        return Race.run(ATTEMPTS, unit.model().entity(type).uniqueKeys(), again -> {
            Query<E> query = naturalKey.limit(2);
            List<E> found = (locked || again ? query.forUpdate(Locking.WAIT) : query).list();
            if (found.size() > 1) {
                throw new NotExactlyOneException(naturalKey.toString(), found.size());
            }
            E entity = found.isEmpty() ? maker.get() : found.get(0);
            change.accept(entity);
            if (found.isEmpty()) {
                add(List.of(entity));
            }
            return entity;
        });
    }

    /** Adds new objects, unless somebody else has stored one of them meanwhile. */
    private void add(Collection<?> fresh) {
        fresh.forEach(unit.tracker()::add);
        try {
            unit.flush(Flush.Keys.FROM_INSERTS);
        } catch (UniqueViolation e) {
            fresh.forEach(unit.tracker()::remove);
            throw e;
        }
    }

    /**
     * For each candidate the entity that is there with its unique values, or the candidate itself, which is flushed.
     */
    public <E> List<E> all(Class<E> type, On<? super E> on, Collection<? extends E> candidates) {
        ModelEntity<E> entity = unit.model().entity(type);
        return all(entity, BULK.keyOf(on, entity), candidates);
    }

    private <E> List<E> all(ModelEntity<E> entity, UniqueKey key, Collection<? extends E> candidates) {
        unit.flushChangesOf(Set.of(entity));
        List<Object> values = new ArrayList<>();
        Map<Object, Object> missing = new LinkedHashMap<>();
        Map<Object, E> fresh = new LinkedHashMap<>();
        for (E candidate : candidates) {
            @Nullable Object[] row = new Object[entity.stored().size()];
            key.attributes().forEach(attribute -> row[attribute.slot()] = attribute.storedOf(candidate));
            Object value = key.value(row);
            if (value == null) {
                throw new BathraException("candidate " + (values.size() + 1) + ", " + candidate + ", has no value in "
                        + names(key) + ", so nobody can tell whether it is there; give it one");
            }
            values.add(value);
            fresh.putIfAbsent(value, candidate);
            missing.put(value, key.in(row));
        }
        Map<Object, E> there = new LinkedHashMap<>();
        try {
            raced(entity, key, missing, fresh, there);
        } catch (UniqueViolation e) {
            if (missing.size() == 1 || !Race.mayBeOf(e, List.of(key))) {
                throw e;
            }
            new LinkedHashMap<>(missing).forEach((value, inRow) -> { // candidates that the database takes for the same
                Map<Object, E> one = new LinkedHashMap<>(Map.of(value, Objects.requireNonNull(fresh.get(value))));
                raced(entity, key, new LinkedHashMap<>(Map.of(value, inRow)), one, there);
            });
        }
        List<E> answer = new ArrayList<>();
        values.forEach(value -> answer.add(Objects.requireNonNull(there.get(value))));
        return answer;
    }

    /** Finds what is there, and adds the rest. */
    private <E> void raced(
            ModelEntity<E> entity,
            UniqueKey key,
            Map<Object, Object> missing,
            Map<Object, E> fresh,
            Map<Object, E> there) {
        Race.run(ATTEMPTS, List.of(key), again -> {
            there.putAll(find(entity, key, missing, again));
            fresh.keySet().removeAll(there.keySet());
            missing.keySet().removeAll(there.keySet());
            if (!missing.isEmpty()) {
                add(fresh.values());
                there.putAll(fresh);
            }
            return true;
        });
    }

    private <E> Map<Object, E> find(ModelEntity<E> entity, UniqueKey key, Map<Object, Object> missing, boolean locked) {
        Map<Object, E> there = rows(entity, key, missing.values(), locked);
        Alike.came(
                        missing.keySet(),
                        there.keySet(),
                        some -> rows(
                                        entity,
                                        key,
                                        some.stream()
                                                .map(value -> Objects.requireNonNull(missing.get(value)))
                                                .toList(),
                                        locked)
                                .keySet())
                .forEach((asked, came) -> there.put(asked, Objects.requireNonNull(there.get(came))));
        return there;
    }

    private <E> Map<Object, E> rows(ModelEntity<E> entity, UniqueKey key, Collection<Object> missing, boolean locked) {
        Map<Object, E> there = new LinkedHashMap<>();
        List<StoredColumn> columns = ModelEntity.columns(key.attributes());
        String locking = locked ? transaction.database().dialect().expressions().lockingRead() : "";
        String cause = "find or add " + missing.size() + " of " + entity.name();
        for (List<Object> some : KeyedRows.chunks(missing, columns.size())) {
            SqlText select =
                    SelectWriter.rowsWith(transaction.database().dialect(), entity, columns, key.shape(), some);
            List<Entry<E>> found = unit.reading(() -> unit.reader().read(cause, entity, select.locking(locking)));
            found.forEach(entry -> there.put(Objects.requireNonNull(key.value(entry::before)), entry.object()));
        }
        return there;
    }

    private static String names(UniqueKey key) {
        return key.attributes().stream().map(StoredAttribute::toString).collect(Collectors.joining(" and "));
    }
}
