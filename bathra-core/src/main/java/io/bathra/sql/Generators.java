package io.bathra.sql;

import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Generators.KeyDraw;
import java.util.List;
import java.util.StringJoiner;
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

    /** What a catalogue lists a table's own generator under. */
    public abstract String ownName(ModelEntity<?> entity);

    /**
     * Makes a generator draw no key before a given one; where nobody has drawn it or a later one yet, that is the next.
     *
     * @param next for a table's own generator, and for the sequence that the entity names
     */
    public abstract String moveTo(ModelEntity<?> entity, long next);

    /** Moves an owner's line in a key table to the next key, where it stands before it; the placeholders are next, owner, next. */
    public final String moveTo(KeyTable keys) {
        return "update " + qualified(keys.name()) + " set " + KeyTable.NEXT_KEY + " = ? where " + KeyTable.OWNER
                + " = ? and " + KeyTable.NEXT_KEY + " < ?";
    }

    /** Asks for the next keys of all owners. */
    public final String nextKeys(KeyTable keys) {
        return "select " + KeyTable.OWNER + ", " + KeyTable.NEXT_KEY + " from " + qualified(keys.name());
    }

    /** Asks for the greatest keys of some tables: rows of the entity's place in the list, and the key or null. */
    public final String greatestKeys(List<ModelEntity<?>> entities) {
        StringJoiner all = new StringJoiner(" union all ");
        for (int i = 0; i < entities.size(); i++) {
            all.add("select " + i + ", (" + greatestKey(entities.get(i)).sql() + ")");
        }
        return all.toString();
    }

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
