package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Years;
import io.bathra.plan.Abilities;
import org.jspecify.annotations.Nullable;

/** PostgreSQL, from version 12 on. */
public final class PostgresDialect extends Dialect {
    private static final Together TOGETHER = new PostgresTogether();

    /** Its timestamps begin in 4713 BC, and end early in 294276; dates would go further. */
    private static final Abilities ABILITIES = new Abilities(true, true, true, new Years(-4712, 294_275));

    /**
     * @param schema where the tables are; null for the connection's own
     */
    public PostgresDialect(@Nullable String schema) {
        super(
                schema,
                PostgresDefinitions::new,
                PostgresGenerators::new,
                PostgresExpressions::new,
                PostgresForms::new,
                PostgresAlterations::new);
    }

    @Override
    public Together together() {
        return TOGETHER;
    }

    @Override
    public String name() {
        return "PostgreSQL";
    }

    @Override
    Lexis lexis() {
        return new Lexis(false, false, true, true, true, false, false);
    }

    @Override
    String type(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, LONG_TEXT, ENUM ->
                (type.length() == 0 ? "text" : "varchar(" + type.length() + ")") + " collate \"C\"";
            case DECIMAL -> "numeric(" + type.precision() + ", " + type.scale() + ")";
            default -> element(type);
        };
    }

    /** The type as an array's element or a cast knows it: without length, digits and collation. */
    static String element(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, LONG_TEXT, ENUM -> "text";
            case DECIMAL -> "numeric";
            case TIME -> "time";
            case DATE_TIME -> "timestamp";
            case INSTANT -> "timestamptz";
            case UUID -> "uuid";
            case BYTES -> "bytea";
            default -> standardType(type);
        };
    }

    @Override
    public Abilities abilities() {
        return ABILITIES;
    }
}
