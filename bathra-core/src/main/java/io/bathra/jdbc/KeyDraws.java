package io.bathra.jdbc;

import io.bathra.error.BathraException;
import io.bathra.error.StatementException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Dialect;
import io.bathra.sql.Generators.KeyDraw;
import io.bathra.sql.SqlText;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.stream.LongStream;

/** Draws keys from generators and key tables. */
public final class KeyDraws {
    private static final String PATH = "keys";
    private static final ColumnType COUNT = ColumnType.of(Integer.class).orElseThrow();

    private final Transaction transaction;
    private final Statements statements;
    private final Dialect dialect;

    public KeyDraws(Transaction transaction) {
        this.transaction = transaction;
        this.statements = transaction.statements();
        this.dialect = transaction.database().dialect();
    }

    /** Draws keys, as many as asked for, in one round trip; in ascending order. */
    public List<Long> drawKeys(CharSequence cause, KeyDraw draw, int count) {
        List<Long> keys = draw(cause, draw.sql(), count);
        if (keys.isEmpty() && draw.otherwise() != null) {
            keys = draw(cause, draw.otherwise(), count);
        }
        keys = all(draw, keys, count);
        if (keys.size() != count) {
            throw new StatementException(
                    count + " keys were asked for, but " + keys.size() + " came", draw.sql(), null);
        }
        return keys.stream().sorted().toList();
    }

    private static List<Long> all(KeyDraw draw, List<Long> answered, int count) {
        if (draw.block() && answered.size() == 1) {
            long last = answered.get(0);
            return LongStream.rangeClosed(last - count + 1, last).boxed().toList();
        }
        return answered;
    }

    /**
     * Keys that are to be drawn along with something else.
     *
     * @param taker takes them when they have come
     */
    public record Drawing(KeyDraw draw, int count, Consumer<List<Long>> taker) {
        private Asked asked(CharSequence cause, List<Long> keys) {
            SqlText text = new SqlText(draw.sql(), List.of(new SqlText.Value(COUNT, count)));
            return new Asked(cause, text, result -> keys.add(result.getLong(1)));
        }

        private void take(List<Long> keys) {
            taker.accept(all(draw, keys, count));
        }
    }

    /** Lets a trip bring keys behind everything else. */
    public static void ahead(Trip trip, CharSequence cause, Drawing drawing) {
        List<Long> keys = new ArrayList<>(drawing.count);
        trip.ask(drawing.asked(cause, keys), PATH, () -> drawing.take(keys));
    }

    /** Draws keys of several generators in one trip, where several things can be asked in one. */
    public void drawTogether(CharSequence cause, List<Drawing> drawings) {
        List<Asked> questions = new ArrayList<>(drawings.size());
        List<List<Long>> keys = new ArrayList<>(drawings.size());
        for (Drawing drawing : drawings) {
            List<Long> some = new ArrayList<>(drawing.count);
            keys.add(some);
            questions.add(drawing.asked(cause, some));
        }
        if (transaction.queryTogether(questions)) {
            for (int i = 0; i < drawings.size(); i++) {
                drawings.get(i).take(keys.get(i));
            }
        }
    }

    /** Moves an entity's generator on behind the keys that are stored. */
    public void moveOn(CharSequence cause, ModelEntity<?> entity) {
        long[] greatest = new long[1];
        SqlText stored = new SqlText(dialect.generators().greatestKeys(List.of(entity)), List.of());
        transaction.query(cause, stored, row -> greatest[0] = row.getLong(2));
        transaction.execute(cause, dialect.generators().moveTo(entity, greatest[0] + 1));
    }

    /**
     * Takes keys from a key table. Its line stays locked until the transaction ends, so nobody else gets the same ones.
     *
     * @return the first of the keys, which follow one another
     */
    public long takeKeys(CharSequence cause, KeyTable keys, String owner, int count) {
        long moved = run(cause, dialect.generators().moveNextKey(keys), statement -> {
            transaction.markWritten();
            statement.setLong(1, count);
            statement.setString(2, owner);
            return statement.executeUpdate();
        });
        if (moved != 1) {
            throw new BathraException("the key table '" + keys.name() + "' has no line for '" + owner
                    + "'; schema().createMissing() makes one");
        }
        long[] next = new long[1];
        run(cause, dialect.generators().nextKey(keys), statement -> {
            statement.setString(1, owner);
            return Statements.handOver(statement, result -> next[0] = result.getLong(1));
        });
        return next[0] - count;
    }

    private long run(CharSequence cause, String sql, Statements.Use use) {
        return statements.run(cause, sql, Shown.own(sql, null), PATH, use);
    }

    private List<Long> draw(CharSequence cause, String sql, int count) {
        List<Long> keys = new ArrayList<>();
        run(cause, sql, statement -> {
            statement.setInt(1, count);
            return Statements.handOver(statement, result -> keys.add(result.getLong(1)));
        });
        return keys;
    }
}
