package io.bathra.bulk;

import io.bathra.input.Cell;
import io.bathra.input.ValueCheck;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.PairWriter;
import io.bathra.jdbc.RowWriter;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.sql.Dialect;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Operation;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** One bulk call for the pairs of a pivot. */
final class PairRun {
    private final PivotAttribute pivot;
    private final ModelEntity<?> rows;
    private final LinkAttribute near;
    private final LinkAttribute far;
    private final Transaction transaction;
    private final Dialect dialect;
    private final String cause;
    private final @Nullable StoredAttribute ownerBy;
    private final @Nullable StoredAttribute otherBy;
    private final boolean texts;
    private final Rejects rejects;
    private final NaturalKeys naturals;
    private final Tally tally = new Tally();
    private final PortionLoop loop;

    PairRun(
            PivotAttribute pivot,
            Bulk.Options options,
            Transaction transaction,
            String cause,
            @Nullable StoredAttribute ownerBy,
            @Nullable StoredAttribute otherBy,
            boolean texts) {
        this.texts = texts;
        this.pivot = pivot;
        this.rows = pivot.pivot().rows();
        this.near = pivot.near();
        this.far = pivot.far();
        this.transaction = transaction;
        this.dialect = transaction.database().dialect();
        this.cause = cause;
        this.ownerBy = ownerBy;
        this.otherBy = otherBy;
        this.rejects = new Rejects(pivot.toString(), options.rejects());
        this.naturals = new NaturalKeys(transaction, cause);
        this.loop = new PortionLoop("pair", options, rejects);
    }

    BulkResult add(Iterator<Pair> pairs) {
        return inPortions(pairs, this::insert);
    }

    BulkResult remove(Iterator<Pair> pairs) {
        return inPortions(pairs, (some, counts) -> {
            List<BulkRow> once = once(some);
            delete(once, counts);
            counts.skipped += some.size() - once.size();
        });
    }

    /** Writes some pairs. */
    private interface Writer {
        void write(List<BulkRow> pairs, Tally counts);
    }

    private BulkResult inPortions(Iterator<Pair> pairs, Writer writer) {
        Portions portions = new Portions(rows, transaction, cause, rejects, writer::write);
        List<BulkRow> portion = new ArrayList<>();
        PortionLoop.Taker<Pair> taker = new PortionLoop.Taker<>() {
            @Override
            public int take(long number, Pair pair) {
                portion.add(row(number, pair.owner(), pair.other()));
                return portion.size();
            }

            @Override
            public void end() {
                portions.write(known(portion), tally);
                portion.clear();
            }
        };
        return result(loop.run(pairs, first -> taker));
    }

    private BulkResult result(long number) {
        return new BulkResult(
                number,
                tally.inserted,
                tally.updated,
                tally.unchanged,
                tally.skipped,
                rejects.count(),
                tally.removed,
                List.of(),
                loop.elapsed(),
                tally.paths);
    }

    private BulkRow row(long number, @Nullable Object owner, @Nullable Object other) {
        @Nullable Object[] values = new Object[rows.stored().size()];
        BulkRow row = new BulkRow(number, pivot, values);
        ValueCheck.Report report = (label, value, reason) -> rejects.add(row, label, value, reason);
        end(near, ownerBy, owner, values, report);
        end(far, otherBy, other, values, report);
        return row;
    }

    private void end(
            LinkAttribute link,
            @Nullable StoredAttribute by,
            @Nullable Object raw,
            @Nullable Object[] values,
            ValueCheck.Report report) {
        String label = label(link, by);
        if (raw == null || (texts && raw.equals(""))) {
            report.problem(label, null, "is missing; a pair has two ends");
            return;
        }
        boolean entity = link.target().type().isInstance(raw);
        Cell cell = new Cell(label, link, null, entity ? null : by);
        if (texts && raw instanceof String text) {
            cell.putText(text, values, report);
        } else {
            cell.put(raw, values, report);
        }
    }

    private static String label(LinkAttribute link, @Nullable StoredAttribute by) {
        return link.target().name() + "." + (by == null ? On.names(link.target().keyAttributes()) : by.name());
    }

    /** Looks up what is told by natural keys; leaves out pairs whose ends are not there. */
    private List<BulkRow> known(List<BulkRow> portion) {
        naturals.resolve(
                portion,
                List.of(near, far),
                (row, link, natural) ->
                        rejects.add(row, label(link, natural.by()), natural.shown(), natural.noSuchRow(link)));
        rejects.refuse();
        return portion.stream().filter(row -> !row.isRejected()).toList();
    }

    private List<BulkRow> once(List<BulkRow> pairs) {
        Map<Object, BulkRow> once = new LinkedHashMap<>();
        pairs.forEach(pair -> once.putIfAbsent(Objects.requireNonNull(rows.keyIn(pair.values)), pair));
        return List.copyOf(once.values());
    }

    private void insert(List<BulkRow> pairs, Tally counts) {
        if (pairs.isEmpty()) {
            return;
        }
        List<BulkRow> once = once(pairs);
        WriteForm form =
                dialect.forms().form(Operation.INSERT_MISSING, rows.columnSets().all(), once.size());
        counts.paths.add(new RowWriter(transaction).path(form));
        long inserted = new PairWriter(transaction, rows, cause).insertMissing(form, Way.values(once));
        counts.inserted += inserted;
        counts.skipped += pairs.size() - inserted;
    }

    private void delete(List<BulkRow> pairs, Tally counts) {
        if (pairs.isEmpty()) {
            return;
        }
        List<BulkRow> sorted = Way.sorted(rows.uniqueKeys().get(0), pairs);
        WriteForm form =
                dialect.forms().form(Operation.DELETE, rows.columnSets().keyOnly(), sorted.size());
        counts.paths.add(new RowWriter(transaction).path(form));
        long removed = new RowWriter(transaction).write(cause, form, Way.values(sorted));
        counts.removed += removed;
        counts.skipped += sorted.size() - removed;
    }

    // ---- replacement

    BulkResult replace(Iterator<Map.Entry<?, ? extends Collection<?>>> owners) {
        List<BulkRow> portion = new ArrayList<>();
        List<BulkRow> heads = new ArrayList<>();
        PortionLoop.Taker<Map.Entry<?, ? extends Collection<?>>> taker = new PortionLoop.Taker<>() {
            @Override
            public int take(long number, Map.Entry<?, ? extends Collection<?>> owner) {
                heads.add(head(number, owner.getKey()));
                portion.addAll(pairsOf(number, owner));
                return heads.size() + portion.size();
            }

            @Override
            public void end() {
                replace(heads, portion);
                heads.clear();
                portion.clear();
            }
        };
        return result(loop.run(owners, first -> taker));
    }

    /** The pairs that an owner is to have, in their order. */
    private List<BulkRow> pairsOf(long number, Map.Entry<?, ? extends Collection<?>> owner) {
        List<BulkRow> pairs = new ArrayList<>();
        long position = 0;
        for (Object other : owner.getValue()) {
            BulkRow row = row(number, owner.getKey(), other);
            if (pivot.order() != null) {
                position += PivotAttribute.GAP;
                row.values[pivot.order().slot()] = position;
            }
            pairs.add(row);
        }
        return pairs;
    }

    /** An owner, who may be left without pairs. */
    private BulkRow head(long number, Object owner) {
        @Nullable Object[] values = new Object[rows.stored().size()];
        BulkRow row = new BulkRow(number, pivot, values);
        end(near, ownerBy, owner, values, (label, value, reason) -> row.reject()); // its pairs tell
        return row;
    }

    private void replace(List<BulkRow> heads, List<BulkRow> portion) {
        naturals.resolve(heads, List.of(near), (row, link, natural) -> {
            boolean told = portion.stream().anyMatch(pair -> pair.number == row.number);
            if (told) {
                row.reject();
            } else {
                rejects.add(
                        row,
                        label(link, natural.by()),
                        natural.by().shown(natural.value()),
                        "names no " + link.target().name() + "; store that first, or mend the value");
            }
        });
        List<BulkRow> wanted = once(known(portion));
        Set<Object> owners = new LinkedHashSet<>();
        heads.stream()
                .filter(head -> !head.isRejected())
                .forEach(head -> owners.add(Objects.requireNonNull(head.values[near.slot()])));
        Map<Object, @Nullable Object[]> there = new HashMap<>();
        KeyedRows.read(
                transaction,
                cause + ": which pairs are there",
                rows,
                near.columns(),
                near.shape(),
                owners,
                "",
                row -> there.put(Objects.requireNonNull(rows.keyIn(row)), row));
        List<BulkRow> missing = new ArrayList<>();
        List<BulkRow> moved = new ArrayList<>();
        ColumnAttribute order = pivot.order();
        for (BulkRow pair : wanted) {
            @Nullable Object[] before = there.remove(Objects.requireNonNull(rows.keyIn(pair.values)));
            if (before == null) {
                missing.add(pair);
            } else if (order != null && !Objects.equals(before[order.slot()], pair.values[order.slot()])) {
                moved.add(pair);
            } else {
                tally.unchanged++;
            }
        }
        delete(there.values().stream().map(row -> new BulkRow(0, pivot, row)).toList(), tally);
        if (!moved.isEmpty()) {
            WriteForm form = dialect.forms()
                    .form(Operation.UPDATE, rows.columnSets().of(List.of(Objects.requireNonNull(order))), moved.size());
            tally.updated += new RowWriter(transaction)
                    .write(cause, form, Way.values(Way.sorted(rows.uniqueKeys().get(0), moved)));
        }
        new Portions(rows, transaction, cause, rejects, this::insert).write(missing, tally);
    }
}
