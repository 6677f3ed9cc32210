package io.bathra;

import io.bathra.FlushReport.Rows;
import io.bathra.error.BathraException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.model.Event;
import io.bathra.model.ModelEntity;
import io.bathra.plan.Cascade;
import io.bathra.plan.Chain;
import io.bathra.plan.DeleteRules;
import io.bathra.plan.Operation;
import io.bathra.query.Question;
import io.bathra.sql.AlongWriter;
import io.bathra.sql.AlongWriter.Found;
import io.bathra.sql.FoundRows;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Removes whatever rows a query finds, and what goes along with them, by statements. */
final class SetWiseDelete {
    private static final String CAUSE = "delete by query";

    private final UnitOfWork work;
    private final Store store;
    private final Transaction transaction;

    SetWiseDelete(UnitOfWork work, Store store, Transaction transaction) {
        this.work = work;
        this.store = store;
        this.transaction = transaction;
    }

    /**
     * Removes rows.
     *
     * @param words the query as it may stand in a message
     * @return how many rows the query has found
     */
    long delete(Question<?> query, String words) {
        ModelEntity<?> entity = store.model().entity(query.type());
        if (entity.isView()) {
            throw new BathraException(
                    words + " reads a view, from which nothing can be removed; remove the rows behind it");
        }
        work.refuseWriting(words + " removes rows");
        DeleteRules rules = rules(entity, query, words);
        FoundRows rows = store.queries().found(entity, query);
        Set<ModelEntity<?>> touched = new LinkedHashSet<>(rows.reads());
        touched.add(entity);
        touched.addAll(rules.concerned());
        work.flushChangesOf(touched);
        touched.removeIf(read -> read != entity && !rules.concerned().contains(read));
        if (!rules.toRead().isEmpty()) {
            work.flush(true); // what else is pending is no business of this query, so its listeners are told
            return oneByOne(entity, query);
        }
        Found found = new Found(entity, rows);
        FlushReport report = work.writes()
                .delete(
                        () -> write(entity, found, rules, touched),
                        violation -> new Culprits(transaction).refused(violation, found));
        return report.of(entity.name()).deleted();
    }

    private DeleteRules rules(ModelEntity<?> entity, Question<?> query, String words) {
        boolean deep = store.dialect().abilities().deepCascades();
        DeleteRules rules = DeleteRules.of(entity, deep, !query.bypassesListeners());
        List<String> heard = new ArrayList<>();
        if (entity.isHeard(Event.REMOVE)) {
            heard.add(entity.name());
        }
        for (Chain chain : rules.toRead()) {
            if (chain.end().isHeard(Event.REMOVE)) {
                heard.add(chain.end().name());
            }
        }
        if (!heard.isEmpty() && !query.bypassesListeners()) {
            throw new BathraException(words + " would remove rows of " + String.join(", ", heard)
                    + " without a word to the remove listeners there; remove the entities with remove(...), or say"
                    + " bypassListeners()");
        }
        return rules;
    }

    private FlushReport write(ModelEntity<?> entity, Found found, DeleteRules rules, Set<ModelEntity<?>> touched) {
        List<Map.Entry<ModelEntity<?>, Rows>> written = new ArrayList<>();
        for (Cascade cascade : Cascade.of(Map.of(), List.of(rules), true)) {
            long rows = transaction.update(
                    CAUSE,
                    AlongWriter.write(store.dialect(), cascade.operation(), cascade.chains(), found),
                    cascade.entity().table());
            written.add(Map.entry(cascade.entity(), Rows.of(cascade.operation(), Math.toIntExact(rows))));
        }
        long rows = transaction.update(CAUSE, AlongWriter.delete(store.dialect(), found), entity.table());
        written.add(Map.entry(entity, Rows.of(Operation.DELETE, Math.toIntExact(rows))));
        Leftovers leftovers = new Leftovers(transaction, work.tracker());
        touched.forEach(one -> leftovers.of(one, entry -> true).forEach(work.writes()::settled));
        return FlushReport.of(written, rules.leftToDatabase());
    }

    /** Where tables lead to themselves, the rows have to be known to be deleted in order. */
    private long oneByOne(ModelEntity<?> entity, Question<?> query) {
        List<@Nullable Object[]> rows = new ArrayList<>();
        work.reading(() -> {
            transaction.query(
                    CAUSE,
                    store.queries().rows(entity, query).text(),
                    result -> rows.add(KeyedRows.row(transaction, entity, result)));
            return true;
        });
        work.writes().takenBackOnFailure(undo -> {
            for (Object[] row : rows) {
                Object key = Objects.requireNonNull(entity.keyIn(row));
                Entry<?> known = work.tracker().entry(entity, key);
                if (known == null) {
                    work.tracker().loose().of(entity, key).removeAs(row, undo);
                } else {
                    work.tracker().remove(known, undo);
                }
            }
            work.flush(false);
        });
        return rows.size();
    }
}
