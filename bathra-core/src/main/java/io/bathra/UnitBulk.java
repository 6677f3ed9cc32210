package io.bathra;

import io.bathra.bulk.BulkPlace;
import io.bathra.jdbc.Transaction;
import io.bathra.model.Model;
import io.bathra.model.ModelEntity;
import java.time.Clock;
import java.util.LinkedHashSet;
import java.util.Set;

/** Bulk work in the transaction of a unit of work. */
record UnitBulk(UnitOfWork work, Store store, Transaction transaction) implements BulkPlace {
    @Override
    public Model model() {
        return store.model();
    }

    @Override
    public <T> T run(Set<ModelEntity<?>> touched, Work<T> bulk) {
        work.check();
        work.refuseWriting("bulk work writes");
        work.flushChangesOf(touched);
        return work.writes().write(() -> {
            T answer = bulk.with(transaction, store.keyDrawer(transaction, Causes.BULK)::draw);
            Set<ModelEntity<?>> read = new LinkedHashSet<>(touched);
            store.model().tables().stream().filter(ModelEntity::isView).forEach(read::add);
            new Leftovers(transaction, work.tracker())
                    .bringUpToDate("bulk: what is there now", read)
                    .forEach(work.writes()::settled);
            return answer;
        });
    }

    @Override
    public boolean isAlone() {
        return false;
    }

    @Override
    public Clock clock() {
        return store.clock();
    }
}
