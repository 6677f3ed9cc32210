package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Years;
import io.bathra.plan.Abilities;
import org.jspecify.annotations.Nullable;

/** SQLite, from version 3.35 on. */
public final class SqliteDialect extends Dialect {
    /** It compares dates as text, so that all years have four digits. */
    private static final Abilities ABILITIES = new Abilities(true, false, false, new Years(0, 9999));

    /** A number of more digits would become a binary floating-point one. */
    static final int EXACT_DIGITS = 15;

    /**
     * @param schema where the tables are; null for the connection's own
     */
    public SqliteDialect(@Nullable String schema) {
        super(
                schema,
                SqliteDefinitions::new,
                SqliteGenerators::new,
                SqliteExpressions::new,
                SqliteForms::new,
                SqliteAlterations::new);
    }

    @Override
    public String name() {
        return "SQLite";
    }

    @Override
    Lexis lexis() {
        return new Lexis(false, false, false, false, false, false, false);
    }

    /** Whether it is in the table's definition or not, any foreign key can be. */
    @Override
    public Abilities abilities() {
        return ABILITIES;
    }

    @Override
    String type(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN, BYTE, SHORT, INTEGER, LONG -> "integer";
            case FLOAT, DOUBLE -> "real";
            case CHARACTER, STRING, LONG_TEXT, ENUM, DATE, TIME, DATE_TIME, INSTANT -> "text";
            case DECIMAL -> "decimal(" + type.precision() + ", " + type.scale() + ")";
            case UUID, BYTES -> "blob";
        };
    }

    static BathraException noSequences(String name) {
        return new BathraException("SQLite has no sequences, so '" + name + "' cannot draw keys there; declare"
                + " keyTable(...) or generated()");
    }
}
