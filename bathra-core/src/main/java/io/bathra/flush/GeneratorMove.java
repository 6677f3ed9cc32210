package io.bathra.flush;

import io.bathra.catalogue.GeneratorLag;
import io.bathra.error.BathraException;
import io.bathra.jdbc.KeyDraws;
import io.bathra.jdbc.LiveTables;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.mapping.ModelEntity;
import io.bathra.model.Difference;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Schema;
import io.bathra.sql.Generators;
import io.bathra.sql.SqlText;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** Moves on the generators that lag behind the keys that are stored. */
public final class GeneratorMove {
    private static final String CAUSE = "move generators";

    /**
     * A way that is shorter than this is gone by drawing keys: a generator that is set could be set back behind what
     * others have drawn in the meantime, and so many they do not draw in that moment.
     */
    private static final long DRAWN = 10_000;

    private final Environment environment;

    public GeneratorMove(Environment environment) {
        this.environment = environment;
    }

    /** The generators that are not there or lag behind, of entities whose tables are there. */
    public List<GeneratorLag> lags(Transaction transaction, Map<String, LiveTable> live) {
        List<ModelEntity<?>> entities = environment.model().tables().stream()
                .filter(entity -> live.containsKey(entity.table()))
                .filter(entity -> !(entity.keySource() instanceof KeyTable keys) || live.containsKey(keys.name()))
                .<ModelEntity<?>>map(entity -> entity)
                .toList();
        return new LiveTables(transaction).lags(entities);
    }

    /** Moves them; tells what was wrong. */
    public List<Difference> move() {
        List<GeneratorLag> lags = movable();
        for (GeneratorLag lag : lags) {
            try (Transaction transaction = environment.transaction()) {
                move(transaction, lag);
                transaction.commit();
            }
        }
        List<GeneratorLag> left = lags.isEmpty() ? List.of() : movable();
        if (!left.isEmpty()) {
            throw new BathraException(
                    "a generator has not moved on: " + left.get(0).difference());
        }
        return lags.stream().map(GeneratorLag::difference).toList();
    }

    private List<GeneratorLag> movable() {
        try (Transaction transaction = environment.transaction()) {
            Map<String, LiveTable> live = new LiveTables(transaction)
                    .of(Schema.of(environment.model()).tables());
            List<GeneratorLag> lags = live == null
                    ? List.of()
                    : lags(transaction, live).stream()
                            .filter(GeneratorLag::canBeMoved)
                            .toList();
            transaction.commit();
            return lags;
        }
    }

    private void move(Transaction transaction, GeneratorLag lag) {
        ModelEntity<?> entity = lag.entity();
        KeySource source = entity.keySource();
        Generators generators = environment.dialect().generators();
        long next = lag.greatest() + 1;
        if (source instanceof KeyTable table) {
            ColumnType number = ColumnType.number();
            SqlText.Value to = new SqlText.Value(number, next);
            SqlText.Value owner = new SqlText.Value(ColumnType.text(0), entity.table());
            transaction.execute(CAUSE, new SqlText(generators.moveTo(table), List.of(to, owner, to)));
            return;
        }
        int block = source instanceof KeySource.Sequence sequence ? sequence.block() : 1;
        long distance = next - Objects.requireNonNull(lag.next());
        if (distance < DRAWN) {
            Generators.KeyDraw draw = source instanceof KeySource.Sequence sequence
                    ? generators.drawValues(sequence.name())
                    : generators.drawKeys(entity);
            new KeyDraws(transaction).drawKeys(CAUSE, draw, (int) (distance / block) + 1);
        } else {
            transaction.execute(CAUSE, generators.moveTo(entity, next));
        }
        environment.keyBlocks().forget(KeyDrawer.generator(entity));
    }
}
