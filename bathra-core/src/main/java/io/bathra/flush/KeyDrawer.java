package io.bathra.flush;

import io.bathra.jdbc.KeyDraws;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Dialect;
import io.bathra.sql.Generators;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.LongStream;

/** Draws the keys of new rows, from wherever the entity says. */
final class KeyDrawer {
    private final KeyDraws draws;
    private final Dialect dialect;
    private final Clock clock;
    private final KeyBlocks blocks;
    private final TimeOrderedUuids uuids;
    private final CharSequence cause;

    KeyDrawer(Transaction transaction, Clock clock, KeyBlocks blocks, TimeOrderedUuids uuids, CharSequence cause) {
        this.cause = cause;
        this.draws = new KeyDraws(transaction);
        this.dialect = transaction.database().dialect();
        this.clock = clock;
        this.blocks = blocks;
        this.uuids = uuids;
    }

    /** So many keys, in ascending order. */
    List<Object> draw(ModelEntity<?> entity, int count) {
        List<Object> keys = new ArrayList<>(count);
        if (entity.keySource() instanceof KeySource.TimeOrdered) {
            for (int i = 0; i < count; i++) {
                keys.add(uuids.next(clock));
            }
            return keys;
        }
        boolean narrow = entity.keyColumns().get(0).type().kind() == ColumnType.Kind.INTEGER;
        for (long key : numbers(entity, count)) {
            keys.add(narrow ? (Object) Math.toIntExact(key) : (Object) key);
        }
        return keys;
    }

    private List<Long> numbers(ModelEntity<?> entity, int count) {
        KeySource source = entity.keySource();
        if (source instanceof KeySource.Sequence sequence) {
            Generators.KeyDraw draw = dialect.generators().drawValues(sequence.name());
            return blocks.take(sequence.name(), sequence.block(), count, values -> draws.drawKeys(cause, draw, values));
        }
        if (source instanceof KeySource.KeyTable table) {
            long first = draws.takeKeys(cause, table, entity.table(), count);
            return LongStream.range(first, first + count).boxed().toList();
        }
        return draws.drawKeys(cause, dialect.generators().drawKeys(entity), count);
    }
}
