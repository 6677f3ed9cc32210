package io.bathra.flush;

import io.bathra.access.Accessor;
import io.bathra.attr.Event;
import io.bathra.error.BathraException;
import io.bathra.error.Flaw;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.Problem;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.Path;
import io.bathra.question.Question;
import io.bathra.question.SetClause;
import io.bathra.question.Term;
import io.bathra.sql.Queries;
import io.bathra.sql.UpdateWriter;
import io.bathra.text.Cause;
import io.bathra.track.Settlement;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Supplier;

/** Changes all rows that a query finds by one statement, and brings tracked objects in step with it. */
public final class SetWiseUpdate {
    private static final Cause CAUSE = Cause.of(
            "update by query",
            "ask for all rows at once: in(...) instead of is(...), or a value computed from the row");

    private final Unit unit;
    private final Environment environment;
    private final Transaction transaction;

    SetWiseUpdate(Unit unit) {
        this.unit = unit;
        this.environment = unit.environment();
        this.transaction = unit.transaction();
    }

    /**
     * Changes rows.
     *
     * @param words the query as it may stand in a message
     * @return how many rows the query has found
     */
    long update(Question<?> query, List<SetClause> wanted, Supplier<String> words) {
        ModelEntity<?> entity = environment.model().entity(query.type());
        if (entity.isView()) {
            throw new BathraException(words.get() + " reads a view, which is only read; update the rows behind it");
        }
        unit.refuseWriting(() -> words.get() + " updates rows");
        if (entity.isHeard(Event.UPDATE) && !query.bypassesListeners()) {
            throw new BathraException(words.get() + " would update rows of " + entity.name()
                    + " without a word to the update listeners there; change the entities, or say bypassListeners()");
        }
        refuseUnfit(entity, wanted);
        List<SetClause> all = new ArrayList<>(wanted);
        all.addAll(managed(entity));
        Queries.Update update = environment.queries().update(entity, query, all);
        Set<ModelEntity<?>> touched = new LinkedHashSet<>(update.reads());
        touched.add(entity);
        unit.flushChangesOf(touched);
        return unit.writes().write(() -> {
            long rows = transaction.update(CAUSE, update.text(), entity.table());
            Set<ModelEntity<?>> written = new LinkedHashSet<>(List.of(entity));
            environment.model().tables().stream().filter(ModelEntity::isView).forEach(written::add);
            if (rows > 0) {
                new Leftovers(transaction, unit.tracker())
                        .bringUpToDate("update by query: what is there now", written)
                        .forEach(Settlement::settle);
            }
            return rows;
        });
    }

    /** Versions and stamps move too. */
    private List<SetClause> managed(ModelEntity<?> entity) {
        List<SetClause> managed = new ArrayList<>();
        ColumnAttribute version = entity.version();
        if (version != null) {
            Term now = term(entity, version);
            Term next = new Term.Call(Term.Function.PLUS, List.of(now, new Term.Value(version.number(1))));
            managed.add(new SetClause(now, next));
        }
        for (ColumnAttribute stamp : entity.updateStamps()) {
            managed.add(new SetClause(term(entity, stamp), new Term.Value(unit.stampOfNow(stamp))));
        }
        return managed;
    }

    private static Term term(ModelEntity<?> entity, ColumnAttribute attribute) {
        return new Term.Attribute(new Path(List.of(new Accessor(entity.type(), attribute.name()))));
    }

    private void refuseUnfit(ModelEntity<?> entity, List<SetClause> wanted) {
        if (wanted.isEmpty()) {
            throw new IllegalArgumentException("update() has nothing to change; give it the(...).to(...)");
        }
        List<Problem> problems = new ArrayList<>();
        for (SetClause assignment : wanted) {
            StoredColumn column = UpdateWriter.target(entity, assignment);
            if (column.attribute().isKey() || column.attribute().isManaged()) {
                throw new BathraException(column.attribute() + " is "
                        + (column.attribute().isKey() ? "the key" : "kept by the database or by versions")
                        + ", which an update does not change; leave it out");
            }
            Flaw wrong = null;
            Object shown = null;
            if (assignment.value() == null) {
                wrong = column.required() ? Flaw.of(Flaw.Code.REQUIRED, "is required; give it a value") : null;
            } else if (assignment.value() instanceof Term.Value value) {
                shown = column.attribute().shown(value.value());
                wrong = column.gate()
                        .misfit(
                                column.gate().taken(value.value()),
                                unit.dialect().abilities().years());
            }
            if (wrong != null) {
                problems.add(new Problem("update of " + entity.name(), column.label(), shown, wrong));
            }
        }
        if (!problems.isEmpty()) {
            throw new InvalidChangesException(problems);
        }
    }
}
