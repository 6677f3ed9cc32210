package io.bathra.sql;

import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Generators.KeyDraw;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** How keys are drawn ahead, and what a generator would draw next. What most databases understand stands here. */
public abstract class Generators extends DialectPart {
    Generators(Dialect dialect) {
        super(dialect);
    }

    // ---- keys

    /**
     * How keys for new rows are drawn in one round trip; their order and gaps mean nothing.
     *
     * @param sql a statement with one placeholder, the number of keys
     * @param block whether it answers with one row, the last key of a block, instead of a row for each key
     * @param otherwise what to run in the same way when {@code sql} answers with no row at all
     */
    public record KeyDraw(
            String sql, boolean block, @Nullable String otherwise) {}

    /** For keys that the database draws for one table alone. */
    public abstract KeyDraw drawKeys(ModelEntity<?> entity);

    /** For the values of a sequence; the placeholder is how many. */
    public abstract KeyDraw drawValues(String sequence);

    /**
     * Asks which key, or a smaller one, would be drawn next for a table whose keys the database draws: one row with one
     * number, or none when it cannot be told.
     */
    public abstract SqlText nextDrawn(ModelEntity<?> entity);

    /** Asks which value, or a smaller one, a sequence would give next. */
    public abstract SqlText nextOf(String sequence);

    /** Asks for the greatest key of a table. */
    public final SqlText greatestKey(ModelEntity<?> entity) {
        String key = quote(entity.keyColumns().get(0).name());
        return new SqlText("select max(" + key + ") from " + qualified(entity.table()), List.of());
    }

    /** Moves the next key of a key table; the placeholders are how far, and the owner. */
    public final String moveNextKey(KeyTable keys) {
        return "update " + qualified(keys.name()) + " set " + KeyTable.NEXT_KEY + " = " + KeyTable.NEXT_KEY
                + " + ? where " + KeyTable.OWNER + " = ?";
    }

    /** Reads the next key of a key table; the placeholder is the owner. */
    public final String nextKey(KeyTable keys) {
        return "select " + KeyTable.NEXT_KEY + " from " + qualified(keys.name()) + " where " + KeyTable.OWNER + " = ?";
    }
}
