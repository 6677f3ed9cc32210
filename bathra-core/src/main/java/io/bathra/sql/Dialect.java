package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.model.ColumnType;
import io.bathra.model.KeySource;
import io.bathra.model.KeySource.KeyTable;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import io.bathra.model.StoredColumn;
import io.bathra.model.UniqueKey;
import io.bathra.plan.Abilities;
import io.bathra.plan.Operation;
import io.bathra.query.Condition.Like;
import io.bathra.query.Locking;
import io.bathra.query.Term;
import io.bathra.schema.Column;
import io.bathra.schema.Comparison;
import io.bathra.schema.Index;
import io.bathra.schema.LiveColumn;
import io.bathra.schema.Table;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import java.math.BigDecimal;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * The SQL of one database. What most databases understand stands here; a subclass says what its database does
 * differently. Dialects know nothing of connections.
 */
public abstract class Dialect extends Names implements Comparison.Spelling {
    /** Longer lists are rare, and filling them up might pass the greatest number of placeholders. */
    private static final int MOST_FILLED = 8192;

    Dialect(@Nullable String schema) {
        super(schema);
    }

    /** The database's name, as a person writes it. */
    public abstract String name();

    // ---- plain text

    /** How the text of a statement is read. */
    Lexis lexis() {
        return Lexis.STANDARD;
    }

    /** Whether a statement of these words ends the transaction that it is executed in. */
    boolean commitsByItself(List<String> words) {
        return false;
    }

    // ---- tables

    /**
     * The statements that create tables, with their constraints and indexes. A table comes after those that it refers to;
     * where tables refer to one another in a ring, a foreign key is added at the end.
     */
    public final List<String> create(List<Table> tables) {
        return new TableWriter(this).create(tables);
    }

    /** The statements that drop tables, whatever refers to them, and what was made for them. */
    public List<String> drop(List<Table> tables) {
        return new TableWriter(this).drop(tables);
    }

    /** The statement that makes the schema which the model names. */
    public String createSchema(String name) {
        return "create schema " + quote(name);
    }

    /** What a foreign key calls the table that it refers to. */
    String referred(String table) {
        return qualified(table);
    }

    /** The beginning of a statement that creates an index, up to the table's name. */
    String createIndex(Index index, Table table) {
        return "create index " + quote(index.name()) + " on " + qualified(table.name());
    }

    /** What makes a computed column keep its value. */
    String computedOptions() {
        return " stored";
    }

    /** A key column whose definition holds the primary key constraint too; null where the constraint stands by itself. */
    @Nullable
    String inlineKey(Table table, Column column) {
        return null;
    }

    /** Whether a foreign key can be added to a table that is there. */
    boolean addsForeignKeysLater() {
        return true;
    }

    /** What follows a table's closing parenthesis. */
    String tableOptions() {
        return "";
    }

    /** What follows a table's name so that foreign keys that refer to it go too. */
    String dropOptions() {
        return " cascade";
    }

    /** What is left to drop when a table has gone. */
    List<String> afterDrop(Table table) {
        return List.of();
    }

    /** What the catalogue calls the types that keep such values, in small letters. */
    abstract List<String> listedTypes(ColumnType type);

    @Override
    public Optional<String> typeMismatch(Table table, Column declared, LiveColumn listed) {
        ColumnType type = declared.type();
        boolean text = type.kind() == ColumnType.Kind.STRING && type.length() > 0;
        boolean decimal = type.kind() == ColumnType.Kind.DECIMAL;
        boolean fits = listedTypes(type).contains(listed.type())
                && (!text || listed.size() == type.length())
                && (!decimal || listed.size() == type.precision() && listed.scale() == type.scale());
        if (fits) {
            return Optional.empty();
        }
        String size =
                text ? "(" + listed.size() + ")" : decimal ? "(" + listed.size() + ", " + listed.scale() + ")" : "";
        return Optional.of("it is " + listed.type() + size + ", but should be " + type(type));
    }

    /** What makes a unique constraint deferrable, where the database can. */
    String deferrableUnique() {
        return "";
    }

    /** What makes a foreign key deferrable, where the database can. */
    String deferrableKey() {
        return "";
    }

    /** What a plan may expect. */
    public Abilities abilities() {
        return Abilities.FEWEST;
    }

    /** Whether a recursive query comes to an end when the rows lead back to where it has been. */
    boolean endsRecursion() {
        return true;
    }

    /** Puts the checks of deferrable constraints off. */
    public String deferConstraints() {
        throw new IllegalStateException(name() + " defers no constraints");
    }

    /** Checks the deferrable constraints, and goes on to check them at once; null where only the commit does. */
    public @Nullable String checkConstraints() {
        return null;
    }

    /** What a new table needs before it can be used. */
    List<String> afterTable(Table table) {
        return List.of();
    }

    /** What has to exist before a table can be created. */
    List<String> beforeTable(Table table) {
        if (table.keySource() instanceof KeySource.Sequence sequence) {
            return List.of("create sequence if not exists " + qualified(sequence.name()) + " start with 1 increment by "
                    + sequence.block());
        }
        return List.of();
    }

    /** The indexes that the database does not make by itself. */
    @Override
    public List<Index> indexes(Table table) {
        return table.indexes();
    }

    /** How a column says that the database draws its values. */
    abstract String generated(Table table);

    /** A column's type. */
    abstract String type(ColumnType type);

    /** The name of a type on which SQL's standard and most databases agree. */
    static String standardType(ColumnType type) {
        return switch (type.kind()) {
            case BOOLEAN -> "boolean";
            case BYTE, SHORT -> "smallint";
            case INTEGER -> "integer";
            case LONG -> "bigint";
            case FLOAT -> "real";
            case DOUBLE -> "double precision";
            case DATE -> "date";
            default -> throw new IllegalStateException("no common type keeps " + type.kind());
        };
    }

    /** A column's type in a table, with whatever keeps the values within it. */
    String type(Table table, Column column) {
        return type(column.type());
    }

    // ---- keys

    /**
     * How keys for new rows are drawn in one round trip; their order and gaps mean nothing.
     *
     * @param sql a statement with one placeholder, the number of keys
     * @param block whether it answers with one row, the last key of a block, instead of a row for each key
     * @param otherwise what to run in the same way when {@code sql} answers with no row at all
     */
    public record KeyDraw(
            String sql, boolean block, @Nullable String otherwise) {}

    /** For keys that the database draws for one table alone. */
    public abstract KeyDraw drawKeys(ModelEntity<?> entity);

    /** For the values of a sequence; the placeholder is how many. */
    public abstract KeyDraw drawValues(String sequence);

    /**
     * Asks which key, or a smaller one, would be drawn next for a table whose keys the database draws: one row with one number, or
     * none when it cannot be told.
     */
    public abstract SqlText nextDrawn(ModelEntity<?> entity);

    /** Asks which value, or a smaller one, a sequence would give next. */
    public abstract SqlText nextOf(String sequence);

    /** Asks for the greatest key of a table. */
    public final SqlText greatestKey(ModelEntity<?> entity) {
        String key = quote(entity.keyColumns().get(0).name());
        return new SqlText("select max(" + key + ") from " + qualified(entity.table()), List.of());
    }

    /** Moves the next key of a key table; the placeholders are how far, and the owner. */
    public final String moveNextKey(KeyTable keys) {
        return "update " + qualified(keys.name()) + " set " + KeyTable.NEXT_KEY + " = " + KeyTable.NEXT_KEY
                + " + ? where " + KeyTable.OWNER + " = ?";
    }

    /** Reads the next key of a key table; the placeholder is the owner. */
    public final String nextKey(KeyTable keys) {
        return "select " + KeyTable.NEXT_KEY + " from " + qualified(keys.name()) + " where " + KeyTable.OWNER + " = ?";
    }

    // ---- updates

    /** A computed value as a column of a type is to keep it. */
    String assigned(ColumnType type, String value) {
        return value;
    }

    /** What stands before an update whose new values are all made of the old ones. */
    String assigningAtOnce() {
        return "";
    }

    /** Whether a change goes through a list that a subquery gives anew for each row, so that it is better asked for each row. */
    boolean looksThroughListsRowByRow() {
        return false;
    }

    // ---- conditions

    /** Whether a column has one of these values. */
    String oneOf(String column, ColumnType type, List<?> values, List<SqlText.Param> params) {
        return list(column, type, values, params);
    }

    /**
     * Whether several columns together have one of these combinations of values.
     *
     * @param tuples each with a value for each column
     */
    String oneOf(List<String> columns, List<ColumnType> types, List<List<Object>> tuples, List<SqlText.Param> params) {
        String tuple = "(" + placeholders(columns.size()) + ")";
        for (List<Object> values : tuples) {
            for (int i = 0; i < types.size(); i++) {
                params.add(new SqlText.Value(types.get(i), values.get(i)));
            }
        }
        return "(" + String.join(", ", columns) + ") in (" + tuplesBefore()
                + String.join(", ", Collections.nCopies(tuples.size(), tuple)) + ")";
    }

    /** What stands before a list of tuples. */
    String tuplesBefore() {
        return "";
    }

    /** The pattern of a text that has a part at its start, its end or anywhere; one of the user's own as this database has it. */
    String pattern(Like.Kind kind, String part) {
        String escaped = kind == Like.Kind.PATTERN
                ? part
                : part.replace("!", "!!").replace("%", "!%").replace("_", "!_");
        return kind.pattern(escaped, "%");
    }

    /** Whether a text fits a pattern; case counts. */
    String like(String text, String pattern) {
        return text + " like " + pattern + " escape '!'";
    }

    /** What asks for the plan of the statement behind it. */
    public String explain() {
        return "explain ";
    }

    // ---- computed values

    /** How many characters a text has. */
    String length(String text) {
        return "char_length(" + text + ")";
    }

    /** A quotient whose divisor is null in place of zero. */
    String quotient(String dividend, String divisor, boolean whole) {
        return "(" + dividend + " / " + divisor + ")";
    }

    /** The average as a floating-point number. */
    String average(String number) {
        return "avg(cast(" + number + " as double precision))";
    }

    /** A part of a date, time or date-time as a whole number. */
    String timePart(Term.Part part, String time) {
        return "extract(" + part.name().toLowerCase(Locale.ROOT) + " from " + time + ")";
    }

    /** An instant as a date-time in a zone. */
    abstract String inZone(String instant, ZoneId zone);

    /**
     * An ordering term.
     *
     * @param term writes it; each time its values are bound once more
     */
    String ordered(Supplier<String> term, boolean descending, boolean nullsFirst) {
        return term.get() + (descending ? " desc" : "") + (nullsFirst ? " nulls first" : " nulls last");
    }

    /** A list of placeholders; long ones are filled up to a power of two, so that few shapes have to be compiled. */
    final String list(String column, ColumnType type, List<?> values, List<SqlText.Param> params) {
        boolean filled = values.size() > 8 && values.size() <= MOST_FILLED;
        int length = filled ? Integer.highestOneBit(values.size() - 1) * 2 : values.size();
        for (int i = 0; i < length; i++) {
            params.add(new SqlText.Value(type, values.get(Math.min(i, values.size() - 1))));
        }
        return column + " in (" + String.join(", ", Collections.nCopies(length, placeholder(type))) + ")";
    }

    /** What stands for a value that is bound. */
    String placeholder(ColumnType type) {
        return "?";
    }

    /** What stands for a value that is bound where nothing but itself tells its type; texts are as long as they are. */
    String constant(ColumnType type) {
        boolean text = type.kind() == ColumnType.Kind.STRING
                || type.kind() == ColumnType.Kind.ENUM
                || type.kind() == ColumnType.Kind.CHARACTER;
        return "cast(" + placeholder(type) + " as " + type(text ? ColumnType.text(0) : type) + ")";
    }

    /** More rows behind those of a select, each given as its values. */
    String andRows(List<String> rows) {
        return rows.stream().map(row -> " union all select " + row).collect(Collectors.joining());
    }

    /** A whole number that is missing. */
    String noNumber() {
        return "cast(null as integer)";
    }

    /** A value as it stands in SQL text, for the few places where it cannot be bound. */
    String literal(ColumnType type, Object value) {
        return switch (type.kind()) {
            case BOOLEAN, BYTE, SHORT, INTEGER, LONG, FLOAT, DOUBLE -> value.toString();
            case DECIMAL -> ((BigDecimal) value).toPlainString();
            case ENUM -> textLiteral(value instanceof Enum<?> constant ? constant.name() : value.toString());
            case CHARACTER, STRING, LONG_TEXT -> textLiteral(value.toString());
            case DATE -> "date " + textLiteral(value.toString());
            case TIME -> "time " + textLiteral(value.toString());
            case DATE_TIME -> "timestamp " + textLiteral(value.toString().replace('T', ' '));
            default ->
                throw new BathraException("a check cannot compare with " + value
                        + ", since there is no portable way to write a "
                        + type.javaType().getSimpleName() + " into a table's definition");
        };
    }

    /** What takes a part of the answer only. */
    final String slice(OptionalInt limit, int offset) {
        String rows = limit.isPresent() ? " limit " + limit.getAsInt() : offset > 0 ? noLimit() : "";
        return rows + (offset > 0 ? " offset " + offset : "");
    }

    /** What has to stand before an offset where there is no limit. */
    String noLimit() {
        return "";
    }

    /** Whether rows without a value come first when nothing is said. */
    boolean putsNullsFirst(boolean descending) {
        return !descending;
    }

    final String placeholders(int count) {
        return String.join(", ", Collections.nCopies(count, "?"));
    }

    // ---- writing

    /** How to write so many rows. */
    public final WriteForm form(
            Operation operation, ModelEntity<?> entity, List<StoredAttribute> attributes, int rows) {
        List<StoredColumn> columns = ModelEntity.columns(attributes);
        return switch (operation) {
            case INSERT -> insert(entity, columns, rows);
            case INSERT_MISSING -> insertMissing(entity, columns, rows);
            case UPDATE -> update(entity, columns, rows);
            case DELETE -> delete(entity, rows);
        };
    }

    /** How to write rows whatever version they have by now. */
    public final WriteForm blindForm(Operation operation, ModelEntity<?> entity, List<StoredAttribute> attributes) {
        List<Parameter> key = Parameter.of(entity.keyColumns());
        String where = where(key);
        String table = qualified(entity.table());
        if (operation == Operation.DELETE) {
            return batched("delete from " + table + where, key);
        }
        String version =
                quote(Objects.requireNonNull(entity.version()).columns().get(0).name());
        List<StoredColumn> columns = ModelEntity.columns(attributes);
        List<Parameter> parameters = new ArrayList<>(Parameter.of(columns));
        parameters.addAll(key);
        String sets =
                columns.stream().map(column -> quote(column.name()) + " = ?, ").collect(Collectors.joining());
        return batched("update " + table + " set " + sets + version + " = " + version + " + 1" + where, parameters);
    }

    WriteForm insert(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        return multiRow(entity, columns);
    }

    private WriteForm multiRow(ModelEntity<?> entity, List<StoredColumn> columns) {
        String head = insertHead(entity, columns) + " values ";
        String row = "(" + placeholders(columns.size()) + ")";
        return new WriteForm(
                Binding.MULTI_ROW,
                mostRows(columns),
                Parameter.of(columns),
                n -> head + String.join(", ", Collections.nCopies(n, row)));
    }

    /**
     * Inserts rows whose keys the database draws meanwhile, and answers with some columns of each.
     *
     * @param answered these columns; in which order the rows come is nobody's to rely on
     */
    public WriteForm insertAnswering(ModelEntity<?> entity, List<StoredColumn> columns, List<StoredColumn> answered) {
        WriteForm plain = multiRow(entity, columns);
        String names = names(answered.stream().map(StoredColumn::name).toList());
        return new WriteForm(
                plain.binding(),
                plain.chunk(),
                plain.parameters(),
                n -> answering(plain.sql().apply(n), names));
    }

    /** A statement that answers with columns of the rows that it inserts. */
    String answering(String insert, String columns) {
        return insert + " returning " + columns;
    }

    /**
     * Inserts rows unless rows with the same unique values are there. As a rule these are looked up before: what one database
     * leaves out because of a unique value, another leaves out because of any error.
     *
     * @param key the unique constraint that decides; null for any
     */
    public WriteForm insertAbsent(
            ModelEntity<?> entity, List<StoredColumn> columns, @Nullable UniqueKey key, int rows) {
        WriteForm plain = insert(entity, columns, rows);
        return new WriteForm(
                plain.binding(), plain.chunk(), plain.parameters(), plain.sql(), Present.LOOKED_UP, plain.otherwise());
    }

    /** Inserts rows, or writes them over those that are there, by one statement; null where they have to be looked up before. */
    public Upsert.@Nullable Form upsert(Upsert upsert) {
        return null;
    }

    /** Inserts rows unless rows of their keys are there, whether a constraint sees to that or not. */
    abstract WriteForm insertMissing(ModelEntity<?> entity, List<StoredColumn> columns, int rows);

    /** That a row has the key of one that is to be inserted. */
    final String sameKey(ModelEntity<?> entity, String there, String source) {
        return entity.keyColumns().stream()
                .map(column -> there + "." + quote(column.name()) + " = " + source + "." + column.alias())
                .collect(Collectors.joining(" and "));
    }

    static String aliases(List<StoredColumn> columns) {
        return columns.stream().map(StoredColumn::alias).collect(Collectors.joining(", "));
    }

    /** The greatest number of rows of one statement with a placeholder for each value. */
    final int mostRows(List<StoredColumn> columns) {
        return Math.max(1, Math.min(1000, mostParameters() / columns.size()));
    }

    WriteForm update(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        List<Parameter> parameters = new ArrayList<>(Parameter.of(columns));
        parameters.addAll(match(entity));
        String sets =
                columns.stream().map(column -> quote(column.name()) + " = ?").collect(Collectors.joining(", "));
        return batched("update " + qualified(entity.table()) + " set " + sets + whereMatch(entity), parameters);
    }

    WriteForm delete(ModelEntity<?> entity, int rows) {
        return batched("delete from " + qualified(entity.table()) + whereMatch(entity), match(entity));
    }

    /** What tells which row is meant: its key, and where the entity has a version, the one that was read. */
    final List<Parameter> match(ModelEntity<?> entity) {
        List<Parameter> match = new ArrayList<>(Parameter.of(entity.keyColumns()));
        if (entity.version() != null) {
            match.add(new Parameter(entity.version().columns().get(0), true));
        }
        return match;
    }

    private String whereMatch(ModelEntity<?> entity) {
        return where(match(entity));
    }

    private String where(List<Parameter> match) {
        return match.stream()
                .map(parameter -> quote(parameter.column().name()) + " = ?")
                .collect(Collectors.joining(" and ", " where ", ""));
    }

    /**
     * What follows a select so that its rows are held.
     *
     * @param alias what the select calls the table of these rows
     */
    String locking(Locking othersRows, String alias) {
        return " for update"
                + switch (othersRows) {
                    case WAIT -> "";
                    case NO_WAIT -> " nowait";
                    case SKIP_LOCKED -> " skip locked";
                };
    }

    /** What follows a select so that it reads what is there now, and holds it. */
    public String lockingRead() {
        return " for update";
    }

    /** Columns by name, in parentheses where they are several. */
    final String columnList(List<Parameter> columns) {
        String names = names(
                columns.stream().map(parameter -> parameter.column().name()).toList());
        return columns.size() == 1 ? names : "(" + names + ")";
    }

    /** A statement that is executed for each row: what every driver can do. */
    final WriteForm batched(String sql, List<Parameter> parameters) {
        return new WriteForm(Binding.BATCH, 1000, parameters, n -> sql);
    }

    /** The columns of a unique constraint as a list in parentheses; nothing for any constraint. */
    final String conflictTarget(@Nullable UniqueKey key) {
        return key == null
                ? ""
                : " ("
                        + names(ModelEntity.columns(key.attributes()).stream()
                                .map(StoredColumn::name)
                                .toList())
                        + ")";
    }

    final String insertHead(ModelEntity<?> entity, List<StoredColumn> columns) {
        return "insert into " + qualified(entity.table()) + " ("
                + names(columns.stream().map(StoredColumn::name).toList()) + ")";
    }

    /** The greatest number of placeholders of one statement. */
    int mostParameters() {
        return 32_000;
    }
}
