package io.bathra.sql;

import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.sql.Generators.KeyDraw;

/** Generators of PostgreSQL. */
final class PostgresGenerators extends Generators {
    PostgresGenerators(Dialect dialect) {
        super(dialect);
    }

    /** The sequence is looked up once a statement: the subquery with its offset is not merged into the outer query. */
    @Override
    public KeyDraw drawKeys(ModelEntity<?> entity) {
        String sql = "select nextval(s.seq) from (select " + ownedSequence(entity)
                + "::regclass as seq offset 0) s, generate_series(1, ?)";
        return new KeyDraw(sql, false, null);
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        String name = textLiteral(exactly(sequence));
        return new KeyDraw("select nextval(" + name + "::regclass) from generate_series(1, ?)", false, null);
    }

    /** A name, always in quotation marks: what stands without them in a text is folded. */
    private String exactly(String name) {
        String quoted = '"' + name.replace("\"", "\"\"") + '"';
        return schema() == null ? quoted : '"' + schema().replace("\"", "\"\"") + "\"." + quoted;
    }

    /** The sequence behind an identity column, in words of the catalogue. */
    private String ownedSequence(ModelEntity<?> entity) {
        // The first argument is parsed as an identifier, the second is taken literally.
        String table = textLiteral(exactly(entity.table()));
        String column = textLiteral(entity.keyColumns().get(0).name());
        return "pg_get_serial_sequence(" + table + ", " + column + ")";
    }

    @Override
    public String ownName(ModelEntity<?> entity) {
        return entity.table() + "." + entity.keyColumns().get(0).name();
    }

    @Override
    public String moveTo(ModelEntity<?> entity, long next) {
        String which = entity.keySource() instanceof KeySource.Sequence sequence
                ? textLiteral(exactly(sequence.name()))
                : ownedSequence(entity);
        return "select setval(" + which + "::regclass, " + next + ", false)";
    }
}
