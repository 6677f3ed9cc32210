package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Years;
import io.bathra.plan.Abilities;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** H2, from version 2 on. */
public final class H2Dialect extends Dialect {
    /** Its years go a little further, as do those of Java. */
    private static final Abilities ABILITIES = new Abilities(false, false, false, new Years(-900_000_000, 900_000_000));

    /** What statements begin with that commit what was done before them. */
    private static final Set<String> COMMITTING =
            Set.of("alter", "analyze", "comment", "create", "drop", "grant", "revoke", "set", "truncate");

    /**
     * @param schema where the tables are; null for the connection's own
     */
    public H2Dialect(@Nullable String schema) {
        super(schema, H2Definitions::new, H2Generators::new, H2Expressions::new, H2Forms::new, H2Alterations::new);
    }

    @Override
    public String name() {
        return "H2";
    }

    @Override
    Lexis lexis() {
        return new Lexis(false, false, true, false, true, false, false);
    }

    @Override
    public boolean commitsByItself(List<String> words) {
        boolean temporary = words.contains("temporary") && words.contains("transactional");
        return COMMITTING.contains(words.get(0)) && !temporary;
    }

    @Override
    String type(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, ENUM -> type.length() == 0 ? "varchar" : "varchar(" + type.length() + ")";
            case DECIMAL -> "numeric(" + type.precision() + ", " + type.scale() + ")";
            case TIME -> "time(6)";
            case DATE_TIME -> "timestamp(6)";
            case INSTANT -> "timestamp(6) with time zone";
            case UUID -> "uuid";
            case BYTES -> "varbinary";
            case LONG_TEXT -> "clob";
            default -> standardType(type);
        };
    }

    @Override
    public Abilities abilities() {
        return ABILITIES;
    }
}
