package io.bathra.sql;

import io.bathra.sql.Generators.KeyDraw;

/** Generators of MariaDB. */
final class MariaDbGenerators extends OwnSequenceGenerators {
    MariaDbGenerators(Dialect dialect) {
        super(dialect);
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        return new KeyDraw("select nextval(" + qualified(sequence) + ") from seq_1_to_1000000 limit ?", false, null);
    }

    /** It never goes back. */
    @Override
    String moveTo(String sequence, long next) {
        return "select setval(" + sequence + ", " + next + ", 0)";
    }
}
