package io.bathra.sql;

import io.bathra.sql.Generators.KeyDraw;

/** Generators of H2. */
final class H2Generators extends OwnSequenceGenerators {
    H2Generators(Dialect dialect) {
        super(dialect);
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        return new KeyDraw("select next value for " + qualified(sequence) + " from system_range(1, ?)", false, null);
    }

    @Override
    String moveTo(String sequence, long next) {
        return "alter sequence " + sequence + " restart with " + next;
    }
}
