package io.bathra.bulk;

import io.bathra.error.CheckViolation;
import io.bathra.error.ConstraintViolation;
import io.bathra.error.ContentionException;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.NotNullViolation;
import io.bathra.error.StatementException;
import io.bathra.error.UniqueViolation;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BiConsumer;
import org.jspecify.annotations.Nullable;

/**
 * Writes portions of rows. Where rejected rows are taken, a portion that the database refuses is divided until the rows
 * that it refuses are alone; the others are written in as large portions as before.
 */
final class Portions {
    /** Into so many pieces a portion is divided; two would mean more tries, and more rows written twice. */
    private static final int PIECES = 16;

    private final ModelEntity<?> entity;
    private final Transaction transaction;
    private final CharSequence cause;
    private final Rejects rejects;
    private final BiConsumer<List<BulkRow>, Tally> writer;

    Portions(
            ModelEntity<?> entity,
            Transaction transaction,
            CharSequence cause,
            Rejects rejects,
            BiConsumer<List<BulkRow>, Tally> writer) {
        this.entity = entity;
        this.transaction = transaction;
        this.cause = cause;
        this.rejects = rejects;
        this.writer = writer;
    }

    void write(List<BulkRow> rows, Tally tally) {
        if (rows.isEmpty()) {
            return;
        }
        if (!rejects.areTaken()) {
            writer.accept(rows, tally);
            return;
        }
        int savepoint = transaction.savepoint(cause);
        Tally counts = new Tally();
        StatementException refused = null;
        try {
            writer.accept(rows, counts);
        } catch (StatementException e) {
            if (e.isTransactionGone() || e instanceof ContentionException) {
                throw e;
            }
            transaction.rollbackToSavepoint(cause, savepoint);
            refused = e;
        }
        transaction.releaseSavepoint(cause, savepoint);
        if (refused == null) {
            tally.add(counts);
        } else if (rows.size() == 1) {
            reject(rows.get(0), refused);
        } else {
            int size = Math.max(1, (rows.size() + PIECES - 1) / PIECES);
            for (int from = 0; from < rows.size(); from += size) {
                write(rows.subList(from, Math.min(rows.size(), from + size)), tally);
            }
        }
    }

    private void reject(BulkRow row, StatementException refused) {
        if (!(refused instanceof ConstraintViolation violation)) {
            String message = String.valueOf(refused.getMessage());
            rejects.add(
                    row,
                    "*",
                    null,
                    "was refused by the database: "
                            + message.lines().findFirst().orElse(message));
            return;
        }
        List<String> names = violation.place().attributes();
        LinkAttribute lost = violation instanceof ForeignKeyViolation && names.isEmpty() ? lostLink(row) : null;
        List<StoredAttribute> attributes = lost != null
                ? List.of(lost)
                : names.stream()
                        .map(name -> entity.attributeIfAny(name).orElse(null))
                        .filter(StoredAttribute.class::isInstance)
                        .map(StoredAttribute.class::cast)
                        .toList();
        String label = attributes.isEmpty() ? "*" : On.names(attributes);
        rejects.add(row, label, shown(row, attributes), reason(violation, attributes));
    }

    private static @Nullable Object shown(BulkRow row, List<StoredAttribute> attributes) {
        List<Object> values = new ArrayList<>();
        for (StoredAttribute attribute : attributes) {
            Object value = row.values[attribute.slot()];
            values.add(value == null ? "null" : String.valueOf(attribute.shown(value)));
        }
        if (attributes.size() == 1) {
            return attributes.get(0).shown(row.values[attributes.get(0).slot()]);
        }
        return values.isEmpty() ? null : values;
    }

    private String reason(ConstraintViolation violation, List<StoredAttribute> attributes) {
        if (violation instanceof UniqueViolation) {
            return "must be unique, but another row has it; change it, or leave the row out";
        } else if (violation instanceof ForeignKeyViolation) {
            String target = attributes.size() == 1 && attributes.get(0) instanceof LinkAttribute link
                    ? link.target().name()
                    : "row";
            return "leads to no " + target + "; store that first, or mend the value";
        } else if (violation instanceof NotNullViolation) {
            return "is required; give it a value";
        } else if (violation instanceof CheckViolation) {
            String name = violation.place().constraint();
            return "breaks the check " + (name == null ? "of the table" : name) + "; mend the values that it compares";
        }
        return String.valueOf(violation.getMessage());
    }

    /** The link whose target is not there, where the database does not tell. */
    private @Nullable LinkAttribute lostLink(BulkRow row) {
        for (LinkAttribute link : entity.links()) {
            Object key = row.values[link.slot()];
            boolean[] there = new boolean[1];
            if (key != null) {
                KeyedRows.readAgain(
                        transaction,
                        cause + ": which target is missing",
                        link.target(),
                        List.of(key),
                        "",
                        found -> there[0] = true);
                if (!there[0]) {
                    return link;
                }
            }
        }
        return null;
    }
}
