package io.bathra.bulk;

import io.bathra.error.StatementException;
import io.bathra.error.UniqueViolation;
import io.bathra.jdbc.Alike;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Race;
import io.bathra.jdbc.RowWriter;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.sql.Dialect;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Operation;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** How a portion of rows is written. */
abstract class Way {
    /** How often a portion is repeated whose rows somebody else has inserted meanwhile, before each goes by itself. */
    private static final int ATTEMPTS = 10;

    final ModelEntity<?> entity;
    final Transaction transaction;
    final Dialect dialect;
    final CharSequence cause;

    /** The attributes that a new row is given. */
    final List<StoredAttribute> written;

    Way(BulkJob<?> job, List<StoredAttribute> written) {
        this.entity = job.entity();
        this.transaction = job.transaction();
        this.dialect = transaction.database().dialect();
        this.cause = job.cause();
        this.written = written;
    }

    /** Whether each row needs a key before it is written. */
    boolean needsKeys() {
        return false;
    }

    /** The unique key whose values each row must have; null for none. */
    @Nullable
    UniqueKey identity() {
        return null;
    }

    /**
     * The form in which rows are sent as they come, without portions; null where they are written portion by portion.
     */
    @Nullable
    WriteForm streaming() {
        return null;
    }

    /**
     * The unique key by which the keys of rows that were there before are looked up; null where there are none such.
     */
    @Nullable
    UniqueKey lookedUpBy() {
        return identity();
    }

    /** Whether each row has to have a value that is required. */
    boolean demands(StoredAttribute attribute) {
        return true;
    }

    /** Writes rows, of which none is rejected. */
    abstract void write(List<BulkRow> rows, Tally tally);

    /** Inserts rows as they are; one that is there already is an error. */
    static final class Insert extends Way {
        Insert(BulkJob<?> job, List<StoredAttribute> written) {
            super(job, written);
        }

        @Override
        @Nullable
        WriteForm streaming() {
            boolean alike =
                    written.stream().noneMatch(attribute -> attribute.databaseMade() instanceof DatabaseMade.Default);
            WriteForm form =
                    dialect.forms().form(Operation.INSERT, entity.columnSets().of(written), Integer.MAX_VALUE);
            return alike && form.binding() == WriteForm.Binding.COPY && transaction.copies() ? form : null;
        }

        @Override
        void write(List<BulkRow> rows, Tally tally) {
            tally.inserted += insert(rows, tally);
        }
    }

    /** Inserts rows, of which none should be there. */
    final long insert(List<BulkRow> rows, Tally tally) {
        long inserted = 0;
        for (Map.Entry<List<StoredAttribute>, List<BulkRow>> alike : alike(rows).entrySet()) {
            List<BulkRow> some = alike.getValue();
            WriteForm form =
                    dialect.forms().form(Operation.INSERT, entity.columnSets().of(alike.getKey()), some.size());
            long count = write(form, some, tally);
            if (count != some.size()) {
                throw new StatementException(
                        "an insert into " + entity.table() + " reported " + count + " rows instead of " + some.size(),
                        form.sql().apply(1),
                        null);
            }
            inserted += count;
        }
        return inserted;
    }

    final long write(WriteForm form, List<BulkRow> rows, Tally tally) {
        RowWriter writer = new RowWriter(transaction);
        tally.paths.add(writer.path(form));
        return writer.write(cause, form, values(rows));
    }

    static List<@Nullable Object[]> values(List<BulkRow> rows) {
        List<@Nullable Object[]> values = new ArrayList<>(rows.size());
        rows.forEach(row -> values.add(row.values));
        return values;
    }

    /** Rows by the attributes that they are given: where one leaves a value to the database, another may have it. */
    final Map<List<StoredAttribute>, List<BulkRow>> alike(List<BulkRow> rows) {
        List<StoredAttribute> defaults = written.stream()
                .filter(attribute -> attribute.databaseMade() instanceof DatabaseMade.Default)
                .toList();
        Map<List<StoredAttribute>, List<BulkRow>> alike = new LinkedHashMap<>();
        if (defaults.isEmpty()) {
            alike.put(written, rows);
            return alike;
        }
        Map<BitSet, List<BulkRow>> byMissing = new LinkedHashMap<>();
        for (BulkRow row : rows) {
            BitSet missing = new BitSet();
            defaults.stream()
                    .filter(attribute -> row.values[attribute.slot()] == null)
                    .forEach(attribute -> missing.set(attribute.slot()));
            byMissing.computeIfAbsent(missing, m -> new ArrayList<>()).add(row);
        }
        byMissing.forEach((missing, some) -> alike.put(
                written.stream()
                        .filter(attribute -> !missing.get(attribute.slot()))
                        .toList(),
                some));
        return alike;
    }

    /**
     * A piece of work that looks before it writes.
     *
     * @see #repeated
     */
    interface Attempt {
        void run(List<BulkRow> rows, Tally tally, String locking);
    }

    /**
     * Does work again when somebody else was faster: then what is read is read as it is now, and held. Rows that are in
     * each other's way, since the database takes their values for the same, go one by one in the end.
     *
     * @param keys what tells whether a row is there
     */
    final void repeated(List<BulkRow> rows, List<UniqueKey> keys, Tally tally, Attempt attempt) {
        try {
            tally.add(raced(rows, keys, attempt));
        } catch (UniqueViolation e) {
            if (rows.size() == 1 || !Race.mayBeOf(e, keys)) {
                throw e;
            }
            rows.stream()
                    .sorted(Comparator.comparingLong(row -> row.number))
                    .forEach(row -> tally.add(raced(List.of(row), keys, attempt)));
        }
    }

    private Tally raced(List<BulkRow> rows, List<UniqueKey> keys, Attempt attempt) {
        return Race.run(ATTEMPTS, keys, again -> {
            int savepoint = transaction.savepoint(cause);
            Tally counts = new Tally();
            try {
                attempt.run(rows, counts, again ? dialect.expressions().lockingRead() : "");
            } catch (UniqueViolation | Race.Outrun e) {
                transaction.rollbackToSavepoint(cause, savepoint);
                transaction.releaseSavepoint(cause, savepoint);
                throw e;
            }
            transaction.releaseSavepoint(cause, savepoint);
            return counts;
        });
    }

    /** The unique value of a row; null when it has none. */
    static @Nullable Object value(UniqueKey key, @Nullable Object[] values) {
        return key.value(values);
    }

    /**
     * The rows that are there with the unique values of these, by those values.
     *
     * @param locking what follows the select
     */
    final Map<Object, @Nullable Object[]> there(UniqueKey key, List<BulkRow> rows, String locking) {
        Map<Object, Object> wanted = new LinkedHashMap<>();
        for (BulkRow row : rows) {
            Object value = value(key, row.values);
            if (value != null) {
                wanted.put(value, key.in(row.values));
            }
        }
        Map<Object, @Nullable Object[]> there = there(key, wanted.values(), locking);
        Alike.came(
                        wanted.keySet(),
                        there.keySet(),
                        some -> there(
                                        key,
                                        some.stream()
                                                .map(wanted::get)
                                                .map(Objects::requireNonNull)
                                                .toList(),
                                        locking)
                                .keySet())
                .forEach((asked, came) -> there.put(asked, Objects.requireNonNull(there.get(came))));
        return there;
    }

    private Map<Object, @Nullable Object[]> there(UniqueKey key, Collection<Object> wanted, String locking) {
        Map<Object, @Nullable Object[]> there = new LinkedHashMap<>();
        KeyedRows.read(
                transaction,
                cause + ": which rows are there",
                entity,
                ModelEntity.columns(key.attributes()),
                key.shape(),
                wanted,
                locking,
                found -> {
                    Object value = value(key, found);
                    if (value != null) {
                        there.put(value, found);
                    }
                });
        return there;
    }

    /** Sorts rows by their unique values, since whoever writes the same rows in another order might deadlock. */
    @SuppressWarnings({"unchecked", "rawtypes"}) // the values of one attribute are of one type
    static List<BulkRow> sorted(UniqueKey key, List<BulkRow> rows) {
        Comparator<BulkRow> order = (a, b) -> {
            for (StoredAttribute attribute : key.attributes()) {
                Object one = a.values[attribute.slot()];
                Object other = b.values[attribute.slot()];
                int result = one instanceof Comparable comparable && other instanceof Comparable
                        ? comparable.compareTo(other)
                        : Boolean.compare(one == null, other == null);
                if (result != 0) {
                    return result;
                }
            }
            return 0;
        };
        List<BulkRow> sorted = new ArrayList<>(rows);
        sorted.sort(order);
        return sorted;
    }

    /** Inserts rows whose unique values nobody has; of several with the same in one portion, the first. */
    static final class InsertMissing extends Way {
        private final @Nullable UniqueKey named;
        private final List<UniqueKey> deciding;

        InsertMissing(BulkJob<?> job, List<StoredAttribute> written) {
            super(job, written);
            this.named = job.unique();
            this.deciding = named != null
                    ? List.of(named)
                    : entity.uniqueKeys().stream()
                            .filter(key -> written.containsAll(key.attributes()))
                            .toList();
        }

        @Override
        @Nullable
        UniqueKey identity() {
            return named;
        }

        @Override
        @Nullable
        UniqueKey lookedUpBy() {
            return deciding.stream()
                    .filter(key -> !key.primary() || !entity.keySource().isDrawn())
                    .findFirst()
                    .orElse(null);
        }

        @Override
        void write(List<BulkRow> all, Tally tally) {
            List<BulkRow> rows = all;
            for (UniqueKey key : deciding) {
                Set<Object> seen = new LinkedHashSet<>();
                List<BulkRow> first = new ArrayList<>();
                for (BulkRow row : rows) {
                    Object value = value(key, row.values);
                    if (value == null || seen.add(value)) {
                        first.add(row);
                    }
                }
                rows = first;
            }
            tally.skipped += all.size() - rows.size();
            List<BulkRow> sorted = deciding.isEmpty() ? rows : sorted(deciding.get(0), rows);
            repeated(sorted, deciding, tally, this::attempt);
        }

        /** Values that are missing are like no others. */
        private static boolean isThere(@Nullable Object value, Map<Object, ?> there) {
            return value != null && there.containsKey(value);
        }

        private void attempt(List<BulkRow> rows, Tally tally, String locking) {
            for (Map.Entry<List<StoredAttribute>, List<BulkRow>> alike :
                    alike(rows).entrySet()) {
                List<BulkRow> some = alike.getValue();
                WriteForm form =
                        dialect.forms().insertAbsent(entity, ModelEntity.columns(alike.getKey()), named, some.size());
                int given = some.size();
                if (form.present() == WriteForm.Present.LOOKED_UP) {
                    for (UniqueKey key : deciding) {
                        Map<Object, @Nullable Object[]> there = there(key, some, locking);
                        some = some.stream()
                                .filter(row -> !isThere(value(key, row.values), there))
                                .toList();
                    }
                }
                long inserted = some.isEmpty() ? 0 : write(form, some, tally);
                tally.inserted += inserted;
                tally.skipped += given - inserted;
            }
        }
    }
}
