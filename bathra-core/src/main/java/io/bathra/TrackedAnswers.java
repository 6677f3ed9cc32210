package io.bathra;

import io.bathra.attr.Accessor;
import io.bathra.jdbc.Transaction;
import io.bathra.model.Attribute;
import io.bathra.model.BackLinkAttribute;
import io.bathra.model.LinkAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.model.ToMany;
import io.bathra.query.Answers;
import io.bathra.query.Query;
import io.bathra.sql.SelectWriter;
import io.bathra.sql.SelectWriter.Select;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.List;

/** Answers the queries of a unit of work with tracked objects; what is pending for the tables that are read goes first. */
final class TrackedAnswers implements Answers {
    private final UnitOfWork work;
    private final Store store;
    private final Transaction transaction;
    private final CohortReader cohorts;

    TrackedAnswers(UnitOfWork work, Store store, Transaction transaction, CohortReader cohorts) {
        this.work = work;
        this.store = store;
        this.transaction = transaction;
        this.cohorts = cohorts;
    }

    @Override
    public <E> List<E> list(Query<E> query) {
        work.check();
        ModelEntity<E> entity = store.model().entity(query.type());
        if (query.locking() != null) {
            work.refuseWriting(describe(query) + " holds rows for an update");
        }
        Select select = SelectWriter.rows(store.dialect(), entity, query);
        work.flushChangesOf(select.reads());
        return work.reading(() -> {
            List<Entry<E>> entries = work.reader().read(describe(query), entity, select.text());
            query.along().forEach(relation -> readAlong(entity, entries, relation));
            return entries.stream().map(Entry::object).toList();
        });
    }

    private <E> void readAlong(ModelEntity<E> entity, List<Entry<E>> entries, Accessor relation) {
        Attribute attribute = entity.attribute(relation);
        List<Entry<?>> owners = new ArrayList<>(entries);
        if (attribute instanceof LinkAttribute link) {
            cohorts.readLinks(owners, link);
        } else if (attribute instanceof BackLinkAttribute back) {
            cohorts.readBackLinks(owners, back);
        } else if (attribute instanceof ToMany many) {
            cohorts.readToManys(owners, many);
        }
    }

    @Override
    public long count(Query<?> query) {
        work.check();
        ModelEntity<?> entity = store.model().entity(query.type());
        Select select = SelectWriter.count(store.dialect(), entity, query);
        work.flushChangesOf(select.reads());
        return work.reading(() -> {
            long[] count = new long[1];
            transaction.query("count " + describe(query), select.text(), result -> count[0] = result.getLong(1));
            return count[0];
        });
    }

    @Override
    public long delete(Query<?> query) {
        work.check();
        return new SetWiseDelete(work, store, transaction).delete(query, describe(query));
    }

    /** Conditions are left out where a secret value is among them. */
    @Override
    public String describe(Query<?> query) {
        boolean secret = query.conditions().stream()
                .flatMap(condition -> condition.paths().stream())
                .anyMatch(path -> store.isSecret(query.type(), path));
        return secret ? "from " + query.type().getSimpleName() + " where (secret)" : query.toString();
    }
}
