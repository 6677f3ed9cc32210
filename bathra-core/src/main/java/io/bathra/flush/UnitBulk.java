package io.bathra.flush;

import io.bathra.jdbc.BulkPlace;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.read.Causes;
import io.bathra.track.Settlement;
import java.time.Clock;
import java.util.LinkedHashSet;
import java.util.Set;

/** Bulk work in the transaction of a unit of unit. */
record UnitBulk(Unit unit) implements BulkPlace {
    @Override
    public Mapping model() {
        return unit.model();
    }

    @Override
    public <T> T run(Set<ModelEntity<?>> touched, Work<T> bulk) {
        unit.check();
        Transaction transaction = unit.transaction();
        unit.refuseWriting(() -> "bulk work writes");
        unit.flushChangesOf(touched);
        return unit.writes().write(() -> {
            T answer = bulk.with(
                    transaction,
                    unit.environment()
                            .keyDrawer(transaction, Causes.BULK, unit.writes().lastKeys())::draw);
            Set<ModelEntity<?>> read = new LinkedHashSet<>(touched);
            unit.model().tables().stream().filter(ModelEntity::isView).forEach(read::add);
            new Leftovers(transaction, unit.tracker())
                    .bringUpToDate("bulk: what is there now", read)
                    .forEach(Settlement::settle);
            return answer;
        });
    }

    @Override
    public boolean isAlone() {
        return false;
    }

    @Override
    public Clock clock() {
        return unit.environment().clock();
    }
}
