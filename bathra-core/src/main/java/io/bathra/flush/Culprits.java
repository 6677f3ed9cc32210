package io.bathra.flush;

import io.bathra.error.BathraException;
import io.bathra.error.ConstraintViolation.Place;
import io.bathra.error.Flaw;
import io.bathra.error.ForeignKeyViolation;
import io.bathra.error.Problem;
import io.bathra.error.RestrictViolation;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.plan.Cascade;
import io.bathra.plan.Chain;
import io.bathra.plan.DeleteRules;
import io.bathra.plan.Step;
import io.bathra.sql.AlongWriter;
import io.bathra.trace.Operation;
import io.bathra.track.Change;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Finds out which rows are behind a violated foreign key. Some databases say nothing about that, and none enough. */
final class Culprits {
    /** So many rows are named. */
    private static final int MOST_NAMED = 20;

    private final Transaction transaction;

    Culprits(Transaction transaction) {
        this.transaction = transaction;
    }

    /** The error in words that name the rows. */
    BathraException explain(ForeignKeyViolation violation, Step step) {
        if (step.operation() == Operation.DELETE) {
            return refused(violation, step);
        }
        boolean told = violation.place().value() != null
                && !violation.place().attributes().isEmpty();
        if (told || step.isCascade()) {
            return violation;
        }
        List<Place> missing = missing(step);
        return missing.isEmpty()
                ? violation
                : new ForeignKeyViolation(
                        missing.get(0), violation.sql(), Objects.requireNonNull(violation.getCause()));
    }

    private BathraException refused(ForeignKeyViolation violation, Step step) {
        Map<ModelEntity<?>, List<Object>> removed = new LinkedHashMap<>();
        Cascade cascade = step.cascade();
        if (cascade != null) {
            removed.putAll(cascade.removed());
        } else {
            step.changes()
                    .forEach(change -> removed.computeIfAbsent(step.entity(), e -> new ArrayList<>())
                            .add(Objects.requireNonNull(change.entry().key())));
        }
        List<Problem> dependents = new ArrayList<>();
        removed.forEach((entity, keys) -> {
            List<AlongWriter.Removed> chunks = new ArrayList<>();
            KeyedRows.chunks(keys, entity.keyColumns().size())
                    .forEach(some -> chunks.add(new AlongWriter.WithKeys(some)));
            dependents.addAll(dependents(entity, chunks, new HashSet<>(keys)));
        });
        return dependents.isEmpty() ? violation : new RestrictViolation(dependents, violation);
    }

    /** The error in words that name the rows, when those that a query finds were to be deleted. */
    BathraException refused(ForeignKeyViolation violation, AlongWriter.Found found) {
        List<Problem> dependents = dependents(found.entity(), List.of(found), Set.of());
        return dependents.isEmpty() ? violation : new RestrictViolation(dependents, violation);
    }

    /**
     * Rows that lead to those that were to be deleted, or to what goes along with them.
     *
     * @param own the keys of those that were to be deleted, as far as they are known
     */
    private List<Problem> dependents(ModelEntity<?> target, List<AlongWriter.Removed> removed, Set<Object> own) {
        boolean deep = transaction.database().dialect().abilities().deepCascades();
        Set<Problem> dependents = new LinkedHashSet<>();
        for (Chain chain : DeleteRules.of(target, deep).refusing()) {
            ModelEntity<?> entity = chain.end();
            LinkAttribute link = chain.last();
            for (AlongWriter.Removed some : removed) {
                transaction.query(
                        "flush: who leads there",
                        AlongWriter.some(
                                transaction.database().dialect(),
                                chain,
                                some,
                                MOST_NAMED + (entity == target ? own.size() : 0)),
                        result -> {
                            @Nullable Object[] row = KeyedRows.row(transaction, entity, result);
                            Object key = Objects.requireNonNull(entity.keyIn(row));
                            if (entity != target || !own.contains(key)) {
                                dependents.add(new Problem(
                                        entity.describe(key),
                                        link.name(),
                                        link.target().describe(Objects.requireNonNull(row[link.slot()])),
                                        Flaw.other("leads to an object that is to be removed; remove this one too, or"
                                                + " point it elsewhere")));
                            }
                        });
            }
        }
        return dependents.stream().limit(MOST_NAMED).toList();
    }

    /** Links to rows that are not there. */
    private List<Place> missing(Step step) {
        List<Place> missing = new ArrayList<>();
        for (StoredAttribute attribute : step.columns()) {
            if (!(attribute instanceof LinkAttribute link)) {
                continue;
            }
            Set<Object> keys = new LinkedHashSet<>();
            for (Change change : step.changes()) {
                Object key = change instanceof Change.Insert insert
                        ? insert.values()[link.slot()]
                        : change instanceof Change.Update update ? update.values()[link.slot()] : null;
                if (key != null && !(key instanceof Entry<?>)) { // what this flush has inserted is gone again
                    keys.add(key);
                }
            }
            Set<Object> there = new HashSet<>();
            KeyedRows.readAgain(
                    transaction,
                    "flush: which targets are missing",
                    link.target(),
                    List.copyOf(keys),
                    "",
                    found -> there.add(Objects.requireNonNull(link.target().keyIn(found))));
            for (Object key : keys) {
                if (!there.contains(key)) {
                    missing.add(new Place(step.entity().name(), List.of(link.name()), String.valueOf(key), null));
                }
            }
        }
        return missing;
    }
}
