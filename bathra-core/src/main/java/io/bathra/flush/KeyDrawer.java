package io.bathra.flush;

import io.bathra.jdbc.KeyDraws;
import io.bathra.jdbc.KeyDraws.Drawing;
import io.bathra.jdbc.Transaction;
import io.bathra.jdbc.Trip;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Dialect;
import io.bathra.sql.Generators.KeyDraw;
import io.bathra.track.Entry;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.LongStream;

/** Draws the keys of new rows, from wherever the entity says. */
final class KeyDrawer {
    private final KeyDraws draws;
    private final Dialect dialect;
    private final Clock clock;
    private final KeyBlocks blocks;
    private final int mostAhead;
    private final TimeOrderedUuids uuids;
    private final CharSequence cause;

    /** The last key that each generator has given here, since keys ascend within a unit. */
    private final Map<String, Long> last;

    KeyDrawer(Environment environment, Transaction transaction, CharSequence cause, Map<String, Long> last) {
        this.cause = cause;
        this.draws = new KeyDraws(transaction);
        this.dialect = transaction.database().dialect();
        this.clock = environment.clock();
        this.blocks = environment.keyBlocks();
        this.mostAhead = dialect.together() == null ? 0 : environment.keysAhead();
        this.uuids = environment.uuids();
        this.last = last;
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
        if (entity.keySource() instanceof KeySource.KeyTable table) {
            long first = draws.takeKeys(cause, table, entity.table(), count);
            return LongStream.range(first, first + count).boxed().toList();
        }
        String generator = generator(entity);
        moveOnIfSuspected(entity, generator);
        KeyDraw draw = draw(entity);
        int block = block(entity);
        List<Long> keys = blocks.take(
                generator,
                count,
                lastOf(generator),
                ahead(entity),
                wanted -> inBlocks(draws.drawKeys(cause, draw, (wanted + block - 1) / block), block));
        last.put(generator, keys.get(keys.size() - 1));
        return keys;
    }

    /** Has keys at hand for new rows of several entities: all that are lacking come by one trip, where it takes them. */
    void stockUp(Map<ModelEntity<?>, List<Entry<?>>> waiting) {
        List<Drawing> lacking = List.of(); // as in most flushes
        for (Map.Entry<ModelEntity<?>, List<Entry<?>>> one : waiting.entrySet()) {
            ModelEntity<?> entity = one.getKey();
            if (isNumbered(entity)) {
                int block = block(entity);
                String generator = generator(entity);
                moveOnIfSuspected(entity, generator);
                int missing = blocks.lacking(generator, one.getValue().size(), lastOf(generator), ahead(entity));
                if (missing > 0) {
                    lacking = lacking.isEmpty() ? new ArrayList<>(4) : lacking;
                    lacking.add(new Drawing(
                            draw(entity),
                            (missing + block - 1) / block,
                            values -> blocks.add(generator, inBlocks(values, block))));
                }
            }
        }
        if (!lacking.isEmpty()) {
            draws.drawTogether(cause, lacking);
        }
    }

    private void moveOnIfSuspected(ModelEntity<?> entity, String generator) {
        if (blocks.isToMoveOn(generator)) {
            draws.moveOn(cause, entity);
        }
    }

    /** Whether keys are numbers that somebody draws, and not those of a table that others wait for. */
    private static boolean isNumbered(ModelEntity<?> entity) {
        return entity.keySource().equals(KeySource.GENERATED) || entity.keySource() instanceof KeySource.Sequence;
    }

    private int ahead(ModelEntity<?> entity) {
        return block(entity) > 1 ? 0 : mostAhead;
    }

    private long lastOf(String generator) {
        return last.getOrDefault(generator, Long.MIN_VALUE);
    }

    private static List<Long> inBlocks(List<Long> values, int block) {
        if (block == 1) {
            return values;
        }
        List<Long> keys = new ArrayList<>(values.size() * block);
        for (long first : values) {
            for (int i = 0; i < block; i++) {
                keys.add(first + i);
            }
        }
        return keys;
    }

    /** What the keys of an entity are kept under. */
    static String generator(ModelEntity<?> entity) {
        return entity.keySource() instanceof KeySource.Sequence sequence
                ? "sequence " + sequence.name()
                : "table " + entity.table();
    }

    private KeyDraw draw(ModelEntity<?> entity) {
        return entity.keySource() instanceof KeySource.Sequence sequence
                ? dialect.generators().drawValues(sequence.name())
                : dialect.generators().drawKeys(entity);
    }

    private static int block(ModelEntity<?> entity) {
        return entity.keySource() instanceof KeySource.Sequence sequence ? sequence.block() : 1;
    }

    /** Lets a trip bring keys for the next flush, where there would not be enough for one like this. */
    void drawAhead(Trip trip, ModelEntity<?> entity, int count) {
        if (!isNumbered(entity) || block(entity) > 1) {
            return;
        }
        String generator = generator(entity);
        int missing = blocks.missing(generator, count, mostAhead);
        if (missing > 0) {
            KeyDraws.ahead(trip, cause, new Drawing(draw(entity), missing, keys -> blocks.add(generator, keys)));
        }
    }
}
