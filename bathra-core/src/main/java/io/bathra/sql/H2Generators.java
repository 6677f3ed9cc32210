package io.bathra.sql;

import io.bathra.sql.Generators.KeyDraw;
import java.util.List;
import java.util.Locale;

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
    public SqlText nextOf(String sequence) {
        String schema = schema();
        return new SqlText(
                "select base_value from information_schema.sequences where sequence_schema = "
                        + (schema == null ? "current_schema" : listed(schema)) + " and sequence_name = "
                        + listed(sequence),
                List.of());
    }

    private String listed(String name) {
        return textLiteral(goesUnquoted(name) ? name.toUpperCase(Locale.ROOT) : name);
    }
}
