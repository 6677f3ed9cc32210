package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.model.ColumnType;
import io.bathra.model.ColumnType.Kind;
import io.bathra.model.KeySource;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredColumn;
import io.bathra.model.UniqueKey;
import io.bathra.plan.Abilities;
import io.bathra.query.Condition.Like;
import io.bathra.query.Locking;
import io.bathra.query.Term;
import io.bathra.schema.Column;
import io.bathra.schema.Index;
import io.bathra.schema.Table;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** SQLite, from version 3.35 on. */
public final class SqliteDialect extends Dialect {
    private static final DateTimeFormatter MICROS = DateTimeFormatter.ofPattern("HH:mm:ss.SSSSSS");

    /** A number of more digits would become a binary floating-point one. */
    private static final int EXACT_DIGITS = 15;

    /**
     * @param schema where the tables are; null for the connection's own
     */
    public SqliteDialect(@Nullable String schema) {
        super(schema);
    }

    /** No more than 500 selects stand in one statement, but any number of rows. */
    @Override
    String andRows(List<String> rows) {
        return rows.isEmpty() ? "" : " union all values (" + String.join("), (", rows) + ")";
    }

    /** A decimal column keeps as many digits as it is given. */
    @Override
    String assigned(ColumnType type, String value) {
        return type.kind() == ColumnType.Kind.DECIMAL ? "round(" + value + ", " + type.scale() + ")" : value;
    }

    @Override
    public String name() {
        return "SQLite";
    }

    @Override
    public String explain() {
        return "explain query plan ";
    }

    /** The driver binds decimals as texts, which only a column would take for numbers. */
    @Override
    String placeholder(ColumnType type) {
        return type.kind() == ColumnType.Kind.DECIMAL ? "cast(? as numeric)" : "?";
    }

    @Override
    Lexis lexis() {
        return new Lexis(false, false, false, false, false);
    }

    /** Without AUTOINCREMENT, the key of a deleted last row would be given out again. */
    @Override
    @Nullable
    String inlineKey(Table table, Column column) {
        return column.generated()
                ? "integer constraint " + quote(table.primaryKey()) + " primary key autoincrement not null"
                : null;
    }

    @Override
    String generated(Table table) {
        throw new IllegalStateException("a generated key is defined inline");
    }

    /** A table's entry in the sequence table appears with its first row; keys are drawn before that. */
    @Override
    List<String> afterTable(Table table) {
        boolean generated = table.columns().stream().anyMatch(Column::generated);
        return generated
                ? List.of("insert into " + sequences() + " (name, seq) values (" + textLiteral(table.name()) + ", 0)")
                : List.of();
    }

    /** Whoever writes holds the whole database. */
    @Override
    String locking(Locking othersRows, String alias) {
        return "";
    }

    /** Whether it is in the table's definition or not, any foreign key can be. */
    @Override
    public Abilities abilities() {
        return new Abilities(true, false, false);
    }

    @Override
    public String deferConstraints() {
        return "pragma defer_foreign_keys = on";
    }

    /** Each attached file has its own. */
    private String sequences() {
        return qualified("sqlite_sequence");
    }

    /** A foreign key never leaves its file. */
    @Override
    String referred(String table) {
        return quote(table);
    }

    @Override
    String createIndex(Index index, Table table) {
        return "create index " + qualified(index.name()) + " on " + quote(table.name());
    }

    @Override
    boolean addsForeignKeysLater() {
        return false;
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

    /** SQLite takes any value in any column, so a check keeps booleans and lengths. */
    @Override
    String type(Table table, Column column) {
        ColumnType type = column.type();
        String name = quote(column.name());
        if (type.kind() == Kind.DECIMAL && type.precision() > EXACT_DIGITS) {
            throw new BathraException("the column " + table.name() + "." + column.name() + " is declared with "
                    + type.precision() + " digits, but SQLite keeps no more than " + EXACT_DIGITS
                    + " exactly; declare digits(" + EXACT_DIGITS + ", " + type.scale() + ") or fewer");
        }
        if (type.kind() == Kind.BOOLEAN) {
            return "integer check (" + name + " in (0, 1))";
        }
        boolean limited = type.kind() == Kind.STRING && type.length() > 0;
        return type(type) + (limited ? " check (length(" + name + ") <= " + type.length() + ")" : "");
    }

    @Override
    String dropOptions() {
        return "";
    }

    /** Dropping a table deletes its rows first, and the links to them are checked when all is gone. */
    @Override
    public List<String> drop(List<Table> tables) {
        List<String> statements = new ArrayList<>(super.drop(tables));
        statements.add(0, "pragma defer_foreign_keys = on");
        return statements;
    }

    @Override
    List<String> listedTypes(ColumnType type) {
        return List.of(type.kind() == Kind.DECIMAL ? "decimal" : type(type));
    }

    @Override
    List<String> beforeTable(Table table) {
        if (table.keySource() instanceof KeySource.Sequence sequence) {
            throw noSequences(sequence.name());
        }
        return List.of();
    }

    @Override
    public KeyDraw drawValues(String sequence) {
        throw noSequences(sequence);
    }

    private static BathraException noSequences(String name) {
        return new BathraException("SQLite has no sequences, so '" + name + "' cannot draw keys there; declare"
                + " keyTable(...) or generated()");
    }

    @Override
    public KeyDraw drawKeys(ModelEntity<?> entity) {
        String name = textLiteral(entity.table());
        String last = "select coalesce(max(" + columnList(Parameter.of(entity.keyColumns())) + "), 0) from "
                + qualified(entity.table());
        return new KeyDraw(
                "update " + sequences() + " set seq = seq + ? where name = " + name + " returning seq",
                true,
                "insert into " + sequences() + " (name, seq) select " + name + ", (" + last + ") + ? returning seq");
    }

    @Override
    public WriteForm insertAbsent(
            ModelEntity<?> entity, List<StoredColumn> columns, @Nullable UniqueKey key, int rows) {
        WriteForm plain = insert(entity, columns, rows);
        String tail = " on conflict" + conflictTarget(key) + " do nothing";
        return new WriteForm(
                plain.binding(),
                plain.chunk(),
                plain.parameters(),
                n -> plain.sql().apply(n) + tail,
                Present.SKIPPED);
    }

    /** To answer with rows takes as long again as to write them, so they are counted where the keys are left to the database. */
    @Override
    public Upsert.@Nullable Form upsert(Upsert upsert) {
        if (!upsert.entity().keySource().isDrawn()) {
            return null;
        }
        boolean counted = upsert.entity().keySource().equals(KeySource.GENERATED)
                && !upsert.columns().contains(upsert.entity().keyColumns().get(0));
        WriteForm plain = insert(upsert.entity(), upsert.columns(), 2);
        String key = quote(upsert.entity().keyColumns().get(0).name());
        String tail = " on conflict ("
                + names(upsert.key().stream().map(StoredColumn::name).toList()) + ") do update set "
                + upsert.sets(this, quote(upsert.entity().table()), "excluded") + " where "
                + upsert.overwritten(this, quote(upsert.entity().table())) + " is not "
                + upsert.overwritten(this, "excluded") + (counted ? "" : " returning " + key);
        return new Upsert.Form(
                new WriteForm(
                        plain.binding(),
                        plain.chunk(),
                        plain.parameters(),
                        n -> plain.sql().apply(n) + tail),
                counted ? Upsert.Answer.WRITTEN : Upsert.Answer.KEY);
    }

    /** Nobody else writes meanwhile. */
    @Override
    WriteForm insertMissing(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        String row = "(" + placeholders(columns.size()) + ")";
        String head = "with s(" + aliases(columns) + ") as (values ";
        String tail = ") " + insertHead(entity, columns) + " select * from s where not exists (select 1 from "
                + qualified(entity.table()) + " t where " + sameKey(entity, "t", "s") + ")";
        return new WriteForm(
                Binding.MULTI_ROW,
                mostRows(columns),
                Parameter.of(columns),
                n -> head + String.join(", ", Collections.nCopies(n, row)) + tail,
                Present.SKIPPED);
    }

    /** Who has begun a transaction holds the only write lock. */
    @Override
    public String lockingRead() {
        return "";
    }

    @Override
    String noLimit() {
        return " limit -1";
    }

    @Override
    String tuplesBefore() {
        return "values ";
    }

    /** Booleans are numbers, dates and times are text with six digits of fractions. */
    @Override
    String literal(ColumnType type, Object value) {
        return switch (type.kind()) {
            case BOOLEAN -> Boolean.TRUE.equals(value) ? "1" : "0";
            case DATE -> textLiteral(value.toString());
            case TIME -> textLiteral(MICROS.format((LocalTime) value));
            case DATE_TIME -> {
                LocalDateTime time = (LocalDateTime) value;
                yield textLiteral(time.toLocalDate() + "T" + MICROS.format(time.toLocalTime()));
            }
            default -> super.literal(type, value);
        };
    }

    /** SQLite's LIKE takes ASCII capitals and small letters for the same; GLOB does not. */
    @Override
    String like(String text, String pattern) {
        return text + " glob " + pattern;
    }

    @Override
    String pattern(Like.Kind kind, String part) {
        if (kind != Like.Kind.PATTERN) {
            return kind.pattern(part.replaceAll("[*?\\[]", "[$0]"), "*");
        }
        StringBuilder glob = new StringBuilder();
        for (int i = 0; i < part.length(); i++) {
            char c = part.charAt(i);
            if (c == '!' && i + 1 < part.length()) {
                c = part.charAt(++i);
            } else if (c == '%' || c == '_') {
                glob.append(c == '%' ? '*' : '?');
                continue;
            }
            glob.append(c == '*' || c == '?' || c == '[' ? "[" + c + "]" : String.valueOf(c));
        }
        return glob.toString();
    }

    @Override
    String length(String text) {
        return "length(" + text + ")";
    }

    @Override
    String average(String number) {
        return "avg(" + number + ")";
    }

    /** Dates and times are texts of fixed widths. */
    @Override
    String timePart(Term.Part part, String time) {
        String format = switch (part) {
            case YEAR -> "%Y";
            case MONTH -> "%m";
            case DAY -> "%d";
            case HOUR -> "%H";
            case MINUTE -> "%M";
            case SECOND -> "%S";
        };
        return "cast(strftime('" + format + "', " + time + ") as integer)";
    }

    @Override
    String inZone(String instant, ZoneId zone) {
        return "datetime(" + instant + ", "
                + Offsets.seconds(
                        zone, instant, moment -> "'" + moment.toString().replace("Z", ".000000Z") + "'")
                + " || ' seconds')";
    }

    @Override
    public SqlText nextDrawn(ModelEntity<?> entity) {
        return new SqlText(
                "select seq + 1 from " + sequences() + " where name = " + textLiteral(entity.table()), List.of());
    }

    @Override
    public SqlText nextOf(String sequence) {
        throw noSequences(sequence);
    }
}
