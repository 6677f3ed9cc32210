package io.bathra.sql;

import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.sql.Generators.KeyDraw;

/** Generators of SQLite. */
final class SqliteGenerators extends Generators {
    SqliteGenerators(Dialect dialect) {
        super(dialect);
    }

    /** Each attached file has its own. */
    private String sequences() {
        return qualified("sqlite_sequence");
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        throw SqliteDialect.noSequences(sequence);
    }

    @Override
    public KeyDraw drawKeys(ModelEntity<?> entity) {
        String name = textLiteral(entity.table());
        String last = "select coalesce(max("
                + names(entity.keyColumns().stream().map(StoredColumn::name).toList()) + "), 0) from "
                + qualified(entity.table());
        return new KeyDraw(
                "update " + sequences() + " set seq = seq + ? where name = " + name + " returning seq",
                true,
                "insert into " + sequences() + " (name, seq) select " + name + ", (" + last + ") + ? returning seq");
    }

    @Override
    public String ownName(ModelEntity<?> entity) {
        return entity.table();
    }

    @Override
    public String moveTo(ModelEntity<?> entity, long next) {
        if (entity.keySource() instanceof KeySource.Sequence sequence) {
            throw SqliteDialect.noSequences(sequence.name());
        }
        return "update " + sequences() + " set seq = " + (next - 1) + " where name = " + textLiteral(entity.table())
                + " and seq < " + (next - 1);
    }
}
