package io.bathra.sql;

import io.bathra.model.ColumnType;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredColumn;
import io.bathra.schema.Table;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** MariaDB, from version 10.6 on. */
public final class MariaDbDialect extends OwnSequenceDialect {
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

    /** Below this, a batch costs less than a statement of its own shape. */
    private static final int UPDATE_SET_WISE_FROM = 10;

    private static final int DELETE_SET_WISE_FROM = 3;

    /** The fastest size of a derived table of {@code UNION ALL}. */
    private static final int UPDATE_ROWS = 500;

    private static final int DELETE_ROWS = 1000;

    /**
     * @param schema where the tables are; null for the connection's own
     */
    public MariaDbDialect(@Nullable String schema) {
        super(schema);
    }

    /** Else each assignment sees what those before it have set. */
    @Override
    String assigningAtOnce() {
        return "set statement sql_mode = 'STRICT_TRANS_TABLES,ERROR_FOR_DIVISION_BY_ZERO,SIMULTANEOUS_ASSIGNMENT' for ";
    }

    @Override
    public String name() {
        return "MariaDB";
    }

    @Override
    String quotient(String dividend, String divisor, boolean whole) {
        return whole ? "(" + dividend + " div " + divisor + ")" : super.quotient(dividend, divisor, whole);
    }

    /** Without the cast, an average has four digits more than the number. */
    @Override
    String average(String number) {
        return "avg(cast(" + number + " as double))";
    }

    /** Its own tables of zones are empty as a rule. */
    @Override
    String inZone(String instant, ZoneId zone) {
        return "(" + instant + " + interval "
                + Offsets.seconds(
                        zone,
                        instant,
                        moment -> "'" + moment.toString().replace('T', ' ').replace("Z", "") + "'")
                + " second)";
    }

    @Override
    String ordered(Supplier<String> term, boolean descending, boolean nullsFirst) {
        String missing = term.get() + " is null" + (nullsFirst ? " desc" : "");
        return missing + ", " + term.get() + (descending ? " desc" : "");
    }

    @Override
    Lexis lexis() {
        return new Lexis(true, true, false, false, false);
    }

    @Override
    boolean commitsByItself(List<String> words) {
        boolean temporary = words.size() > 1 && words.get(1).equals("temporary");
        return COMMITTING.contains(words.get(0)) && !temporary;
    }

    @Override
    String quotationMark() {
        return "`";
    }

    /** Keys of an AUTO_INCREMENT column cannot be drawn ahead; hence a sequence of our own. */
    @Override
    String nextValue(String sequence) {
        return "nextval(" + sequence + ")";
    }

    /** As its manual has it: a number greater than any. */
    @Override
    String noLimit() {
        return " limit 18446744073709551615";
    }

    @Override
    String sequenceOptions() {
        return " cache 1000";
    }

    /** Of the collations that keep trailing blanks apart, as the other databases do. */
    @Override
    String tableOptions() {
        return " engine = innodb default character set utf8mb4 collate utf8mb4_nopad_bin";
    }

    /** MariaDB reads CASCADE here and does nothing about it, so the check of foreign keys rests meanwhile. */
    @Override
    public List<String> drop(List<Table> tables) {
        List<String> statements = new ArrayList<>(super.drop(tables));
        statements.add(0, "set foreign_key_checks = 0");
        statements.add("set foreign_key_checks = 1");
        return statements;
    }

    @Override
    List<String> listedTypes(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN -> List.of("boolean", "bit", "tinyint");
            case INTEGER -> List.of("int", "integer");
            case CHARACTER, STRING, ENUM -> List.of(type.length() == 0 ? "longtext" : "varchar");
            case DECIMAL -> List.of("decimal");
            case TIME -> List.of("time");
            case DATE_TIME, INSTANT -> List.of("datetime");
            case UUID -> List.of("binary");
            default -> List.of(type(type));
        };
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

    /** A text takes the collation of the columns beside it only as long as it is not cast. */
    @Override
    String constant(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN, BYTE, SHORT, INTEGER, LONG -> "cast(? as signed)";
            case FLOAT, DOUBLE -> "cast(? as double)";
            case CHARACTER, STRING, LONG_TEXT, ENUM -> "?";
            case UUID -> "cast(? as binary(16))";
            case BYTES -> "cast(? as binary)";
            default -> "cast(? as " + type(type) + ")";
        };
    }

    @Override
    String noNumber() {
        return "cast(null as signed)";
    }

    /** A backslash in a text would begin an escape. */
    @Override
    String literal(ColumnType type, Object value) {
        return super.literal(type, value).replace("\\", "\\\\");
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        return new KeyDraw("select nextval(" + qualified(sequence) + ") from seq_1_to_1000000 limit ?", false, null);
    }

    /** The driver sends a batch of inserts in bulk. */
    @Override
    WriteForm insert(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        return batched(
                insertHead(entity, columns) + " values (" + placeholders(columns.size()) + ")", Parameter.of(columns));
    }

    /**
     * A subquery in the insert would lock the gaps that others insert into. What ON DUPLICATE KEY swallows is any unique
     * constraint, so it stands only where the key is the only one.
     */
    @Override
    WriteForm insertMissing(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        String head = insertHead(entity, columns) + " values ";
        String row = "(" + placeholders(columns.size()) + ")";
        String first = quote(entity.keyColumns().get(0).name());
        String tail = entity.uniqueKeys().size() == 1 ? " on duplicate key update " + first + " = " + first : "";
        return new WriteForm(
                Binding.MULTI_ROW,
                mostRows(columns),
                Parameter.of(columns),
                n -> head + String.join(", ", Collections.nCopies(n, row)) + tail,
                Present.LOOKED_UP);
    }

    @Override
    WriteForm update(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        if (rows < UPDATE_SET_WISE_FROM) {
            return super.update(entity, columns, rows);
        }
        List<Parameter> parameters = new ArrayList<>(match(entity));
        parameters.addAll(Parameter.of(columns));
        String first = parameters.stream().map(column -> "? " + column.alias()).collect(Collectors.joining(", "));
        String next = " union all select " + placeholders(parameters.size());
        String head = "update " + qualified(entity.table()) + " t join (select " + first;
        String tail = ") s on " + pairs(match(entity), " and ") + " set " + pairs(Parameter.of(columns), ", ");
        return new WriteForm(Binding.MULTI_ROW, UPDATE_ROWS, parameters, n -> head + next.repeat(n - 1) + tail);
    }

    private String pairs(List<Parameter> parameters, String between) {
        return parameters.stream()
                .map(parameter -> "t." + quote(parameter.column().name()) + " = s." + parameter.alias())
                .collect(Collectors.joining(between));
    }

    /** Rows of a table that links to itself go one by one, children first: a list would be deleted in any order. */
    @Override
    WriteForm delete(ModelEntity<?> entity, int rows) {
        boolean linksToItself = entity.links().stream().anyMatch(link -> link.target() == entity);
        if (rows < DELETE_SET_WISE_FROM || linksToItself) {
            return super.delete(entity, rows);
        }
        List<Parameter> key = match(entity);
        String head = "delete from " + qualified(entity.table()) + " where " + columnList(key) + " in (";
        String row = key.size() == 1 ? "?" : "(" + placeholders(key.size()) + ")";
        return new WriteForm(
                Binding.MULTI_ROW, DELETE_ROWS, key, n -> head + String.join(", ", Collections.nCopies(n, row)) + ")");
    }

    /** MariaDB tells only where the values end that a server has taken aside. */
    @Override
    public SqlText nextOf(String sequence) {
        return new SqlText("select next_not_cached_value from " + qualified(sequence), List.of());
    }
}
