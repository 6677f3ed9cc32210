package io.bathra.sql;

import io.bathra.mapping.ModelEntity;
import io.bathra.schema.Schema;
import io.bathra.sql.Generators.KeyDraw;

/** Draws keys from the sequences that stand behind tables. */
abstract class OwnSequenceGenerators extends Generators {
    OwnSequenceGenerators(Dialect dialect) {
        super(dialect);
    }

    @Override
    public final KeyDraw drawKeys(ModelEntity<?> entity) {
        return drawValues(Schema.sequence(entity.table()));
    }

    @Override
    public final SqlText nextDrawn(ModelEntity<?> entity) {
        return nextOf(Schema.sequence(entity.table()));
    }
}
