package io.bathra;

import io.bathra.jdbc.Transaction;
import io.bathra.model.ModelEntity;
import io.bathra.plan.DeleteRules;
import io.bathra.sql.PlainText;
import java.util.LinkedHashSet;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Plain SQL in a unit of work: what is pending goes first, and what is tracked is brought up to date afterwards. */
record UnitLevel(UnitOfWork work, Store store, Transaction transaction) implements SqlLevel {
    /** Words of statements that take rows away, so that delete rules of the database may do more. */
    private static final Set<String> REMOVING = Set.of("delete", "merge", "replace", "truncate", "call");

    @Override
    public Transaction begin(PlainText text) {
        work.check();
        if (text.mayWrite()) {
            work.refuseWriting("'" + text.words().get(0) + "' writes");
            text.refuseCommit(store.dialect());
        }
        work.flush();
        return transaction;
    }

    @Override
    public <T extends @Nullable Object> T reading(Supplier<T> read) {
        return work.reading(read);
    }

    @Override
    public <T extends @Nullable Object> T writing(PlainText text, Supplier<T> write) {
        return work.writes().write(() -> {
            T answer = write.get();
            new Leftovers(transaction, work.tracker())
                    .bringUpToDate("sql: what is there now", touched(text))
                    .forEach(work.writes()::settled);
            return answer;
        });
    }

    /**
     * What a statement may have written to: the tables that it names, and those that the database's delete rules lead to
     * from there. Where it names none, a procedure call say, nobody knows, so it may be all.
     */
    private Set<ModelEntity<?>> touched(PlainText text) {
        Set<ModelEntity<?>> touched = new LinkedHashSet<>();
        boolean removes = text.words().stream().anyMatch(REMOVING::contains);
        boolean deep = store.dialect().abilities().deepCascades();
        for (ModelEntity<?> entity : store.model().tables()) {
            if (text.names(entity.table())) {
                touched.add(entity);
                if (removes && !entity.isView()) {
                    touched.addAll(DeleteRules.of(entity, deep).concerned());
                }
            }
        }
        if (touched.isEmpty()) {
            return new LinkedHashSet<>(store.model().tables());
        }
        store.model().tables().stream().filter(ModelEntity::isView).forEach(touched::add);
        return touched;
    }

    @Override
    public void end(Transaction same, boolean done) {}

    @Override
    public EntityReader reader(Transaction same) {
        return work.reader();
    }

    /** They stay tracked. */
    @Override
    public void release(EntityReader reader) {}
}
