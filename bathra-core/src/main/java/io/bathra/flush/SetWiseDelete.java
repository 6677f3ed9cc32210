package io.bathra.flush;

import io.bathra.attr.DeleteRule;
import io.bathra.attr.Event;
import io.bathra.error.BathraException;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.plan.Cascade;
import io.bathra.plan.Chain;
import io.bathra.plan.DeleteRules;
import io.bathra.question.Question;
import io.bathra.question.SearchCondition;
import io.bathra.sql.AlongWriter;
import io.bathra.sql.AlongWriter.Found;
import io.bathra.sql.FoundRows;
import io.bathra.trace.Operation;
import io.bathra.track.Entry;
import io.bathra.track.Settlement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Removes whatever rows a query finds, and what goes along with them, by statements. */
public final class SetWiseDelete {
    private static final String CAUSE = "delete by query";

    private final Unit unit;
    private final Environment environment;
    private final Transaction transaction;

    SetWiseDelete(Unit unit) {
        this.unit = unit;
        this.environment = unit.environment();
        this.transaction = unit.transaction();
    }

    /**
     * Removes rows.
     *
     * @param counting whether the rows that go along are counted before
     * @param words the query as it may stand in a message
     * @return how many rows there were by the names of entities, this one first
     */
    Map<String, Long> delete(Question<?> query, boolean counting, Supplier<String> words) {
        ModelEntity<?> entity = environment.model().entity(query.type());
        if (entity.isView()) {
            throw new BathraException(
                    words.get() + " reads a view, from which nothing can be removed; remove the rows behind it");
        }
        unit.refuseWriting(() -> words.get() + " removes rows");
        DeleteRules rules = rules(entity, query, words);
        FoundRows rows = environment.queries().found(entity, query);
        Set<ModelEntity<?>> touched = new LinkedHashSet<>(rows.reads());
        touched.add(entity);
        touched.addAll(counting ? DeleteRules.reach(entity) : rules.concerned());
        unit.flushChangesOf(touched);
        touched.removeIf(read -> read != entity && !rules.concerned().contains(read));
        Found found = new Found(entity, rows);
        Map<String, Long> counts = new LinkedHashMap<>(Map.of(entity.name(), 0L));
        if (counting) {
            GoingAlong along = new GoingAlong(transaction);
            counts.putAll(unit.reading(() -> along.count(found, () -> keys(entity, query))));
        }
        counts.merge(entity.name(), delete(entity, query, found, rules, touched), Long::sum);
        return Collections.unmodifiableMap(counts);
    }

    private long delete(
            ModelEntity<?> entity, Question<?> query, Found found, DeleteRules rules, Set<ModelEntity<?>> touched) {
        if (!rules.toRead().isEmpty() || asksWhatItChanges(entity, query)) {
            unit.flush(true); // what else is pending is no business of this query, so its listeners are told
            return oneByOne(entity, query);
        }
        Written report = unit.writes()
                .delete(
                        () -> write(entity, found, rules, touched),
                        violation -> new Culprits(transaction).refused(violation, found));
        return report.of(entity.name()).deleted();
    }

    private DeleteRules rules(ModelEntity<?> entity, Question<?> query, Supplier<String> words) {
        boolean deep = environment.dialect().abilities().deepCascades();
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
            throw new BathraException(words.get() + " would remove rows of " + String.join(", ", heard)
                    + " without a word to the remove listeners there; remove the entities with remove(...), or say"
                    + " bypassListeners()");
        }
        return rules;
    }

    private Written write(ModelEntity<?> entity, Found found, DeleteRules rules, Set<ModelEntity<?>> touched) {
        List<Written.One> written = new ArrayList<>();
        for (Cascade cascade : Cascade.of(Map.of(), List.of(rules), true)) {
            long rows = transaction.update(
                    CAUSE,
                    AlongWriter.write(environment.dialect(), cascade.operation(), cascade.chains(), found),
                    cascade.entity().table());
            written.add(new Written.One(cascade.entity(), cascade.operation(), Math.toIntExact(rows)));
        }
        long rows = transaction.update(CAUSE, AlongWriter.delete(environment.dialect(), found), entity.table());
        written.add(new Written.One(entity, Operation.DELETE, Math.toIntExact(rows)));
        Leftovers leftovers = new Leftovers(transaction, unit.tracker());
        touched.forEach(one -> leftovers.of(one, entry -> true).forEach(Settlement::settle));
        return Written.of(written, rules.leftToDatabase());
    }

    /**
     * Whether conditions speak of links among the table's own rows, which the deletion empties while it goes on: not
     * every database looks at the rows as they were before.
     */
    private static boolean asksWhatItChanges(ModelEntity<?> entity, Question<?> query) {
        for (SearchCondition condition : query.conditions()) {
            boolean links = condition.paths().stream()
                    .map(path -> entity.attribute(path.steps().get(0)))
                    .anyMatch(attribute -> attribute instanceof LinkAttribute link
                            && link.target() == entity
                            && link.onDelete() == DeleteRule.SET_NULL);
            boolean elements = condition
                    .elements()
                    .map(one -> entity.attribute(one.collection().steps().get(0)))
                    .anyMatch(attribute -> attribute instanceof LinksAttribute many && many.target() == entity);
            if (links || elements) {
                return true;
            }
        }
        return false;
    }

    /** Where tables lead to themselves, the rows have to be known to be deleted in order. */
    private long oneByOne(ModelEntity<?> entity, Question<?> query) {
        List<@Nullable Object[]> rows = unit.reading(() -> rows(entity, query));
        unit.writes().takenBackOnFailure(() -> {
            for (Object[] row : rows) {
                Object key = Objects.requireNonNull(entity.keyIn(row));
                Entry<?> known = unit.tracker().entry(entity, key);
                if (known == null) {
                    unit.tracker().loose().of(entity, key).removeAs(row);
                } else {
                    unit.tracker().removeAlong(known);
                }
            }
            unit.flush(false);
        });
        return rows.size();
    }

    private List<@Nullable Object[]> rows(ModelEntity<?> entity, Question<?> query) {
        List<@Nullable Object[]> rows = new ArrayList<>();
        transaction.query(
                CAUSE,
                environment.queries().rows(entity, query).text(),
                result -> rows.add(KeyedRows.row(transaction, entity, result)));
        return rows;
    }

    private List<Object> keys(ModelEntity<?> entity, Question<?> query) {
        List<Object> keys = new ArrayList<>();
        rows(entity, query).forEach(row -> keys.add(Objects.requireNonNull(entity.keyIn(row))));
        return keys;
    }
}
