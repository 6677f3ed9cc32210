package io.bathra.sql;

import io.bathra.mapping.KeySource;
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
    public final String ownName(ModelEntity<?> entity) {
        return Schema.sequence(entity.table());
    }

    @Override
    public final String moveTo(ModelEntity<?> entity, long next) {
        String name = entity.keySource() instanceof KeySource.Sequence sequence ? sequence.name() : ownName(entity);
        return moveTo(qualified(name), next);
    }

    /** Moves a sequence, given its name as it stands in SQL. */
    abstract String moveTo(String sequence, long next);
}
