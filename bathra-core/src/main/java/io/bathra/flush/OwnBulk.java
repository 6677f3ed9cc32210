package io.bathra.flush;

import io.bathra.jdbc.BulkPlace;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.read.Causes;
import java.time.Clock;
import java.util.HashMap;
import java.util.Set;

/** Bulk work in a transaction of its own. */
public record OwnBulk(Environment environment) implements BulkPlace {
    @Override
    public Mapping model() {
        return environment.model();
    }

    @Override
    public <T> T run(Set<ModelEntity<?>> touched, Work<T> work) {
        try (Transaction transaction = environment.transaction()) {
            T answer = work.with(transaction, environment.keyDrawer(transaction, Causes.BULK, new HashMap<>())::draw);
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
        return environment.clock();
    }
}
