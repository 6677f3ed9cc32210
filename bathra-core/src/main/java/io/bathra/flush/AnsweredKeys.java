package io.bathra.flush;

import io.bathra.error.StatementException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.RowWriter;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import io.bathra.plan.Plan;
import io.bathra.plan.Step;
import io.bathra.read.Causes;
import io.bathra.sql.WriteForm;
import io.bathra.trace.Operation;
import io.bathra.track.Change;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Keys that an insert answers with. Its rows are recognized by what else is unique in them, since no database promises
 * in which order they come back.
 */
final class AnsweredKeys {
    private final Step step;
    private final UniqueKey unique;

    private AnsweredKeys(Step step, UniqueKey unique) {
        this.step = step;
        this.unique = unique;
    }

    /** The way for the rows of a step; null where their keys have to be known before. */
    static @Nullable AnsweredKeys of(Step step, Plan plan) {
        ModelEntity<?> entity = step.entity();
        if (step.operation() != Operation.INSERT || !entity.keySource().equals(KeySource.GENERATED)) {
            return null;
        }
        UniqueKey unique = entity.uniqueKeys().stream()
                .filter(key -> !key.primary() && step.columns().containsAll(key.attributes()))
                .filter(key -> key.attributes().stream().allMatch(attribute -> attribute.databaseMade() == null))
                .filter(key -> step.changes().stream().allMatch(change -> value(key, values(change)) != null))
                .findFirst()
                .orElse(null);
        return unique == null || isReferredTo(step, plan) ? null : new AnsweredKeys(step, unique);
    }

    private static boolean isReferredTo(Step step, Plan plan) {
        Set<Entry<?>> fresh = step.changes().stream().map(Change::entry).collect(Collectors.toSet());
        return plan.steps().stream().flatMap(other -> other.changes().stream()).anyMatch(change -> {
            for (Object value : values(change)) {
                if (value instanceof Entry<?> target && fresh.contains(target)) {
                    return true;
                }
            }
            return false;
        });
    }

    private static @Nullable Object[] values(Change change) {
        return change instanceof Insert insert
                ? insert.values()
                : change instanceof Update update ? update.values() : new Object[0];
    }

    private static @Nullable Object value(UniqueKey key, @Nullable Object[] row) {
        return key.value(row);
    }

    /** Inserts rows, and gives them their keys; tells how many came back. */
    long write(Transaction transaction, RowWriter writer, List<@Nullable Object[]> rows) {
        ModelEntity<?> entity = step.entity();
        List<StoredAttribute> inserted =
                step.columns().stream().filter(attribute -> !attribute.isKey()).toList();
        List<StoredColumn> answered = new ArrayList<>(entity.keyColumns());
        answered.addAll(ModelEntity.columns(unique.attributes()));
        WriteForm form = transaction
                .database()
                .dialect()
                .forms()
                .insertAnswering(entity, ModelEntity.columns(inserted), answered);
        Map<Object, @Nullable Object[]> byValue = new HashMap<>();
        rows.forEach(row -> byValue.put(Objects.requireNonNull(value(unique, row)), row));
        StoredAttribute key = entity.keyAttributes().get(0);
        long[] count = new long[1];
        writer.write(Causes.FLUSH, form, rows, result -> {
            @Nullable Object[] found = new Object[entity.stored().size()];
            int index = 1 + key.columns().size();
            for (StoredAttribute attribute : unique.attributes()) {
                found[attribute.slot()] = KeyedRows.value(transaction, attribute, result, index);
                index += attribute.columns().size();
            }
            @Nullable Object[] row = byValue.get(Objects.requireNonNull(value(unique, found)));
            if (row == null) {
                throw new StatementException(
                        "an insert into " + step.table() + " answered with a row that was not given: "
                                + value(unique, found),
                        form.sql().apply(1),
                        null);
            }
            row[0] = KeyedRows.value(transaction, key, result, 1);
            count[0]++;
        });
        return count[0];
    }
}
