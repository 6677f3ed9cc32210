package io.bathra;

import io.bathra.bulk.BulkPlace;
import io.bathra.jdbc.Transaction;
import io.bathra.model.Model;
import io.bathra.model.ModelEntity;
import io.bathra.trace.Trace;
import java.time.Clock;
import java.util.Set;

/** Bulk work in a transaction of its own. */
record OwnBulk(Store store) implements BulkPlace {
    @Override
    public Model model() {
        return store.model();
    }

    @Override
    public <T> T run(Set<ModelEntity<?>> touched, Work<T> work) {
        try (Transaction transaction = store.transaction(new Trace(), Terms.PLAIN)) {
            T answer = work.with(transaction, store.keyDrawer(transaction, Causes.BULK)::draw);
            transaction.commit();
            return answer;
        }
    }

    @Override
    public boolean isAlone() {
        return true;
    }

    @Override
    public Clock clock() {
        return store.clock();
    }
}
