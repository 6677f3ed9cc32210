package io.bathra.flush;

import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.plan.DeleteRules;
import io.bathra.read.EntityReader;
import io.bathra.read.SqlLevel;
import io.bathra.sql.Dialect;
import io.bathra.sql.PlainText;
import io.bathra.track.Settlement;
import java.util.LinkedHashSet;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Plain SQL in a unit of work: what is pending goes first, and what is tracked is brought up to date afterwards. */
public record UnitLevel(Unit unit) implements SqlLevel {
    /** Words of statements that take rows away, so that delete rules of the database may do more. */
    private static final Set<String> REMOVING = Set.of("delete", "merge", "replace", "truncate", "call");

    @Override
    public Mapping model() {
        return unit.model();
    }

    @Override
    public Dialect dialect() {
        return unit.environment().dialect();
    }

    @Override
    public Transaction begin(PlainText text) {
        unit.check();
        if (text.mayWrite()) {
            unit.refuseWriting(() -> "'" + text.words().get(0) + "' writes");
            text.refuseCommit(dialect());
        }
        unit.flush();
        return unit.transaction();
    }

    @Override
    public <T extends @Nullable Object> T reading(Supplier<T> read) {
        return unit.reading(read);
    }

    @Override
    public <T extends @Nullable Object> T writing(PlainText text, Supplier<T> write) {
        return unit.writes().write(() -> {
            T answer = write.get();
            new Leftovers(unit.transaction(), unit.tracker())
                    .bringUpToDate("sql: what is there now", touched(text))
                    .forEach(Settlement::settle);
            return answer;
        });
    }

    /**
     * What a statement may have written to: the tables that it names, and those that the database's delete rules lead
     * to from there. Where it names none, a procedure call say, nobody knows, so it may be all.
     */
    private Set<ModelEntity<?>> touched(PlainText text) {
        Set<ModelEntity<?>> touched = new LinkedHashSet<>();
        boolean removes = text.words().stream().anyMatch(REMOVING::contains);
        for (ModelEntity<?> entity : model().tables()) {
            if (text.names(entity.table())) {
                touched.add(entity);
                if (removes && !entity.isView()) {
                    touched.addAll(DeleteRules.reach(entity));
                }
            }
        }
        if (touched.isEmpty()) {
            return new LinkedHashSet<>(model().tables());
        }
        model().tables().stream().filter(ModelEntity::isView).forEach(touched::add);
        return touched;
    }

    @Override
    public void end(Transaction same, boolean done) {}

    @Override
    public EntityReader reader(Transaction same) {
        return unit.reader();
    }

    /** They stay tracked. */
    @Override
    public void release(EntityReader reader) {}
}
