package io.bathra.bulk;

import io.bathra.error.Flaw;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Race;
import io.bathra.jdbc.RowWriter;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import io.bathra.sql.SqlText;
import io.bathra.sql.Upsert;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Operation;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Inserts rows, or writes them over those that have their unique values; of several with the same in one portion, the
 * last. By one statement where the database has one that tells what it did, else the rows that are there are read and
 * compared.
 */
final class Upserting extends Way {
    private final UniqueKey key;
    private final Overwritten overwritten;
    private final Rejects rejects;

    /** What a new row must have. */
    private final List<StoredAttribute> needed;

    private final Upsert.@Nullable Form form;
    private final boolean readsFirst;

    Upserting(BulkJob<?> job, List<StoredAttribute> written, Overwritten overwritten) {
        super(job, written);
        this.rejects = job.rejects();
        this.needed = entity.stored().stream()
                .filter(attribute -> attribute.isKey() ? !entity.keySource().isDrawn() : attribute.required())
                .filter(attribute -> attribute.databaseMade() == null)
                .toList();
        this.key = Objects.requireNonNull(job.unique());
        this.overwritten = overwritten;
        this.form = form();
        this.readsFirst = form == null;
    }

    @Override
    UniqueKey identity() {
        return key;
    }

    @Override
    boolean needsKeys() {
        return form != null && tellsKeys(form);
    }

    /** What is not overwritten may be missing, if the row is there. */
    @Override
    boolean demands(StoredAttribute attribute) {
        boolean given = overwritten.attributes().contains(attribute) && !overwritten.isComputed();
        return given || key.attributes().contains(attribute);
    }

    /** A key that is given cannot tell whether the row was inserted. */
    private boolean mayBeStated(BulkRow row) {
        return !readsFirst && isComplete(row) && (row.keyDrawn || !needsKeys());
    }

    private boolean isComplete(BulkRow row) {
        for (StoredAttribute attribute : needed) {
            if (row.values[attribute.slot()] == null) {
                return false;
            }
        }
        return true;
    }

    private List<StoredAttribute> missing(BulkRow row) {
        return needed.stream()
                .filter(attribute -> row.values[attribute.slot()] == null)
                .toList();
    }

    private static boolean tellsKeys(Upsert.Form form) {
        return form.answer() == Upsert.Answer.KEY || form.answer() == Upsert.Answer.KEY_UNLESS_BEGUN_ANEW;
    }

    private static List<StoredAttribute> withKey(ModelEntity<?> entity, List<StoredAttribute> written) {
        Set<StoredAttribute> all = new LinkedHashSet<>(entity.keyAttributes());
        all.addAll(written);
        return List.copyOf(all);
    }

    /**
     * By the key that was drawn where the database tells keys alone. A key that is given cannot tell whether the row
     * was inserted, and a deferrable constraint decides too late.
     */
    private Upsert.@Nullable Form form() {
        if (key.isDeferrable()
                || (key.primary() && entity.keySource().isDrawn())
                || overwritten.attributes().isEmpty()) {
            return null;
        }
        Upsert.Form plain = dialect.forms().upsert(upsert(written));
        return plain == null || !tellsKeys(plain) ? plain : dialect.forms().upsert(upsert(withKey(entity, written)));
    }

    private Upsert upsert(List<StoredAttribute> attributes) {
        ColumnAttribute version = entity.version();
        return new Upsert(
                entity,
                ModelEntity.columns(attributes),
                ModelEntity.columns(key.attributes()),
                columns(attributes),
                overwritten.computed(),
                version == null ? null : version.columns().get(0),
                ModelEntity.columns(List.copyOf(entity.updateStamps())));
    }

    /** The columns that are overwritten, as far as these attributes are given. */
    private List<StoredColumn> columns(List<StoredAttribute> attributes) {
        return overwritten.isComputed()
                ? List.copyOf(overwritten.computed().keySet())
                : ModelEntity.columns(overwritten.attributes().stream()
                        .filter(attributes::contains)
                        .toList());
    }

    @Override
    void write(List<BulkRow> all, Tally tally) {
        List<BulkRow> waiting =
                all.stream().filter(row -> !row.isRejected()).toList(); // since a refused portion is written again
        if (!overwritten.isComputed()) {
            Map<Object, BulkRow> last = new LinkedHashMap<>();
            waiting.forEach(row -> last.put(Objects.requireNonNull(value(key, row.values)), row));
            tally.skipped += waiting.size() - last.size();
            writeOnce(last.values(), tally);
            return;
        }
        while (!waiting.isEmpty()) { // one after the other where several have the same unique values
            Map<Object, BulkRow> first = new LinkedHashMap<>();
            waiting = waiting.stream()
                    .filter(row -> first.putIfAbsent(Objects.requireNonNull(value(key, row.values)), row) != null)
                    .toList();
            writeOnce(first.values(), tally);
        }
    }

    /** Writes rows of different unique values. */
    private void writeOnce(Collection<BulkRow> rows, Tally tally) {
        repeated(sorted(key, List.copyOf(rows)), List.of(key), tally, (some, counts, locking) -> {
            List<BulkRow> stated = new ArrayList<>(readsFirst ? 0 : some.size());
            List<BulkRow> compared = new ArrayList<>();
            for (BulkRow row : some) {
                if (!row.isRejected()) {
                    (mayBeStated(row) ? stated : compared).add(row);
                }
            }
            if (!stated.isEmpty()) {
                state(stated, counts, locking);
            }
            if (!compared.isEmpty()) {
                compare(compared, counts, locking);
            }
        });
    }

    /** By statements that do both. */
    private void state(List<BulkRow> all, Tally tally, String locking) {
        alike(all).forEach((attributes, rows) -> {
            boolean stated = overwritten.isComputed()
                    ? attributes.containsAll(overwritten.used())
                    : overwritten.attributes().stream().anyMatch(attributes::contains);
            if (!stated) {
                compare(rows, tally, locking); // what would be overwritten is left to the database's defaults
                return;
            }
            List<StoredAttribute> columns = needsKeys() ? withKey(entity, attributes) : attributes;
            Upsert.Form both = attributes == written
                    ? Objects.requireNonNull(form)
                    : Objects.requireNonNull(dialect.forms().upsert(upsert(columns)));
            Set<Object> drawn = new HashSet<>();
            if (needsKeys()) {
                rows.forEach(row -> drawn.add(Objects.requireNonNull(row.values[0])));
            }
            StoredColumn keyColumn = entity.keyColumns().get(0);
            long[] counts = new long[2];
            RowWriter writer = new RowWriter(transaction);
            tally.paths.add(writer.path(both.form()));
            switch (both.answer()) {
                case COUNTS ->
                    writer.write(cause, both.form(), values(rows), result -> {
                        counts[0] += result.getLong(1);
                        counts[1] += result.getLong(2) - result.getLong(1);
                    });
                case WRITTEN -> {
                    long greatest = number(Upsert.greatestKey(dialect, entity));
                    long done = writer.write(cause, both.form(), values(rows));
                    counts[0] = number(Upsert.countAbove(dialect, entity, greatest));
                    counts[1] = done - counts[0];
                }
                case KEY, KEY_UNLESS_BEGUN_ANEW ->
                    writer.write(
                            cause,
                            both.form(),
                            values(rows),
                            result -> counts[drawn.remove(transaction.read(result, 1, keyColumn.gate())) ? 0 : 1]++);
            }
            boolean unsure = both.answer() == Upsert.Answer.KEY_UNLESS_BEGUN_ANEW;
            if (unsure && counts[0] + counts[1] < rows.size()) {
                KeyedRows.readAgain(
                        transaction,
                        cause + ": which rows are new",
                        entity,
                        List.copyOf(drawn),
                        "",
                        inserted -> counts[0]++);
            }
            tally.inserted += counts[0];
            tally.updated += counts[1];
            tally.unchanged += rows.size() - counts[0] - counts[1];
        });
    }

    private long number(SqlText select) {
        long[] number = new long[1];
        transaction.query(cause + ": which rows are new", select, result -> number[0] = result.getLong(1));
        return number[0];
    }

    /** By reading what is there, and writing what differs. */
    private void compare(List<BulkRow> rows, Tally tally, String locking) {
        boolean held = overwritten.isComputed();
        Map<Object, @Nullable Object[]> there =
                there(key, rows, held ? dialect.expressions().lockingRead() : locking);
        List<BulkRow> missing = new ArrayList<>();
        List<BulkRow> changed = new ArrayList<>();
        for (BulkRow row : rows) {
            @Nullable Object[] found = there.get(Objects.requireNonNull(value(key, row.values)));
            if (found == null && isComplete(row)) {
                missing.add(row);
            } else if (found == null) {
                reject(row);
            } else if (held) {
                changed.add(new BulkRow(row.number, row.source, keyed(found, row.values)));
            } else if (overwritten.attributes().stream().allMatch(attribute -> isSame(attribute, found, row.values))) {
                tally.unchanged++;
            } else {
                changed.add(new BulkRow(row.number, row.source, over(found, row.values)));
            }
        }
        if (!missing.isEmpty()) {
            tally.inserted += insert(missing, tally);
        }
        if (held && !changed.isEmpty()) {
            long updated = write(Upsert.update(dialect, upsert(written)), changed, tally);
            tally.updated += updated;
            tally.unchanged += changed.size() - updated;
        } else if (!changed.isEmpty()) {
            update(changed, tally);
        }
    }

    private void reject(BulkRow row) {
        for (StoredAttribute attribute : missing(row)) {
            rejects.add(
                    row,
                    attribute.name(),
                    null,
                    Flaw.of(
                            Flaw.Code.REQUIRED,
                            "is required for a new row, and no " + entity.name() + " has the row's "
                                    + On.names(key.attributes()) + "; give it a value"));
        }
    }

    /** What is given, for the row that is there. */
    private @Nullable Object[] keyed(@Nullable Object[] found, @Nullable Object[] given) {
        @Nullable Object[] row = given.clone();
        entity.keyAttributes().forEach(attribute -> row[attribute.slot()] = found[attribute.slot()]);
        return row;
    }

    /** A row that leaves a value to the database's default does not overwrite one that is there. */
    private static boolean isGiven(StoredAttribute attribute, @Nullable Object[] given) {
        return given[attribute.slot()] != null || !(attribute.databaseMade() instanceof DatabaseMade.Default);
    }

    private static boolean isSame(StoredAttribute attribute, @Nullable Object[] found, @Nullable Object[] given) {
        return !isGiven(attribute, given)
                || (!attribute.isLater() && attribute.shape().same(found[attribute.slot()], given[attribute.slot()]));
    }

    /** The row as it is to be; behind its values the version that it is expected to have. */
    private @Nullable Object[] over(@Nullable Object[] found, @Nullable Object[] given) {
        ColumnAttribute version = entity.version();
        @Nullable Object[] row = Arrays.copyOf(found, found.length + (version == null ? 0 : 1));
        overwritten.attributes().stream()
                .filter(attribute -> isGiven(attribute, given))
                .forEach(attribute -> row[attribute.slot()] = given[attribute.slot()]);
        entity.updateStamps().forEach(stamp -> row[stamp.slot()] = given[stamp.slot()]);
        if (version != null) {
            Number before = (Number) Objects.requireNonNull(found[version.slot()]);
            row[found.length] = before;
            row[version.slot()] = version.number(before.longValue() + 1);
        }
        return row;
    }

    private void update(List<BulkRow> rows, Tally tally) {
        Set<StoredAttribute> columns = new LinkedHashSet<>(overwritten.attributes());
        columns.addAll(entity.updateStamps());
        if (entity.version() != null) {
            columns.add(entity.version());
        }
        WriteForm update =
                dialect.forms().form(Operation.UPDATE, entity.columnSets().of(columns), rows.size());
        List<BulkRow> byKey = sorted(entity.uniqueKeys().get(0), rows);
        long updated = write(update, byKey, tally);
        if (updated != rows.size()) {
            throw new Race.Outrun(rows.size() - updated + " rows of " + entity.name()
                    + " (changed by somebody else again and again, while they were written)");
        }
        tally.updated += updated;
    }
}
