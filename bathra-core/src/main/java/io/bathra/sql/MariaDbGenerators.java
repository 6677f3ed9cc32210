package io.bathra.sql;

import io.bathra.sql.Generators.KeyDraw;
import java.util.List;

/** Generators of MariaDB. */
final class MariaDbGenerators extends OwnSequenceGenerators {
    MariaDbGenerators(Dialect dialect) {
        super(dialect);
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        return new KeyDraw("select nextval(" + qualified(sequence) + ") from seq_1_to_1000000 limit ?", false, null);
    }

    /** MariaDB tells only where the values end that a server has taken aside. */
    @Override
    public SqlText nextOf(String sequence) {
        return new SqlText("select next_not_cached_value from " + qualified(sequence), List.of());
    }
}
