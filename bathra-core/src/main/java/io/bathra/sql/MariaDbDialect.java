package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Years;
import io.bathra.plan.Abilities;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** MariaDB, from version 10.6 on. */
public final class MariaDbDialect extends Dialect {
    /** On a cluster, a statement that begins so waits until its server has what was committed on any of them. */
    static final String SEEING_ALL = "set statement wsrep_sync_wait = 7 for ";

    private static final Together TOGETHER = new MariaDbTogether();

    /** Its years have four digits, and the year 0 is for dates that are none. */
    private static final Abilities ABILITIES = new Abilities(false, false, false, new Years(1, 9999));

    /** What statements begin with that commit what was done before them. */
    private static final Set<String> COMMITTING = Set.of(
            "alter",
            "analyze",
            "create",
            "drop",
            "flush",
            "grant",
            "lock",
            "optimize",
            "rename",
            "repair",
            "revoke",
            "truncate",
            "unlock");

    /**
     * @param schema where the tables are; null for the connection's own
     */
    public MariaDbDialect(@Nullable String schema) {
        super(
                schema,
                MariaDbDefinitions::new,
                MariaDbGenerators::new,
                MariaDbExpressions::new,
                MariaDbForms::new,
                MariaDbAlterations::new);
    }

    @Override
    public SqlText seeingAll(SqlText statement) {
        return new SqlText(SEEING_ALL + statement.sql(), statement.params());
    }

    @Override
    public Together together() {
        return TOGETHER;
    }

    @Override
    public String name() {
        return "MariaDB";
    }

    @Override
    Lexis lexis() {
        return new Lexis(true, true, false, false, false, true, true);
    }

    @Override
    public boolean commitsByItself(List<String> words) {
        boolean temporary = words.size() > 1 && words.get(1).equals("temporary");
        return COMMITTING.contains(words.get(0)) && !temporary;
    }

    @Override
    String quotationMark() {
        return "`";
    }

    @Override
    String type(ColumnType type) {
        return switch (type.kind()) {
            case FLOAT, DOUBLE -> "double";
            case CHARACTER, STRING, ENUM -> type.length() == 0 ? "longtext" : "varchar(" + type.length() + ")";
            case DECIMAL -> "decimal(" + type.precision() + ", " + type.scale() + ")";
            case TIME -> "time(6)";
            case DATE_TIME, INSTANT -> "datetime(6)";
            case UUID -> "binary(16)";
            case BYTES -> "longblob";
            case LONG_TEXT -> "longtext";
            default -> standardType(type);
        };
    }

    @Override
    public Abilities abilities() {
        return ABILITIES;
    }
}
