package io.bathra.sql;

import io.bathra.mapping.ColumnSet;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import io.bathra.trace.Operation;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * The forms in which rows are written: several rows or one to a statement, arrays, batches, rows behind the statement.
 * What most databases understand stands here.
 */
public abstract class Forms extends DialectPart {
    /** So many rows are few: their form is worth remembering. */
    private static final int FEW = 32;

    /** Programs need far fewer forms. */
    private static final int REMEMBERED = 10_000;

    private final Remembered<Asked, WriteForm> forms = new Remembered<>(REMEMBERED);

    Forms(Dialect dialect) {
        super(dialect);
    }

    /** Puts the checks of deferrable constraints off. */
    public String deferConstraints() {
        throw new IllegalStateException(dialect.name() + " defers no constraints");
    }

    /** Checks the deferrable constraints, and goes on to check them at once; null where only the commit does. */
    public @Nullable String checkConstraints() {
        return null;
    }

    // ---- writing

    /** How to write so many rows. */
    public final WriteForm form(Operation operation, ColumnSet columns, int rows) {
        return form(new Asked(operation, columns, rows, false));
    }

    /** How to write rows whatever version they have by now. */
    public final WriteForm blindForm(Operation operation, ColumnSet columns) {
        return form(new Asked(operation, columns, 1, true));
    }

    /** What a form depends on. */
    private record Asked(Operation operation, ColumnSet columns, int rows, boolean blind) {
        @Override
        public boolean equals(@Nullable Object other) {
            return other instanceof Asked that
                    && operation == that.operation
                    && columns.equals(that.columns)
                    && rows == that.rows
                    && blind == that.blind;
        }

        @Override
        public int hashCode() {
            return (columns.hashCode() * 31 + operation.ordinal()) * 31 + rows;
        }
    }

    /** Forms for few rows are made once: to make one takes as long as to write three rows with it. */
    private WriteForm form(Asked asked) {
        if (asked.rows > FEW) {
            return made(asked);
        }
        WriteForm known = forms.known(asked);
        return known != null ? known : forms.keep(asked, made(asked).remembering());
    }

    private WriteForm made(Asked asked) {
        ModelEntity<?> entity = asked.columns.entity();
        List<StoredColumn> columns = asked.columns.columns();
        if (asked.blind) {
            return blind(asked.operation, entity, columns);
        }
        return switch (asked.operation) {
            case INSERT -> insert(entity, columns, asked.rows);
            case INSERT_MISSING -> insertMissing(entity, columns, asked.rows);
            case UPDATE -> update(entity, columns, asked.rows);
            case DELETE -> delete(entity, asked.rows);
        };
    }

    private WriteForm blind(Operation operation, ModelEntity<?> entity, List<StoredColumn> columns) {
        List<Parameter> key = Parameter.of(entity.keyColumns());
        String where = where(key);
        String table = qualified(entity.table());
        if (operation == Operation.DELETE) {
            return batched("delete from " + table + where, key);
        }
        String version =
                quote(Objects.requireNonNull(entity.version()).columns().get(0).name());
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
        String row = "(" + Dialect.placeholders(columns.size()) + ")";
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
     * Inserts rows unless rows with the same unique values are there. As a rule these are looked up before: what one
     * database leaves out because of a unique value, another leaves out because of any error.
     *
     * @param key the unique constraint that decides; null for any
     */
    public WriteForm insertAbsent(
            ModelEntity<?> entity, List<StoredColumn> columns, @Nullable UniqueKey key, int rows) {
        WriteForm plain = insert(entity, columns, rows);
        return new WriteForm(
                plain.binding(), plain.chunk(), plain.parameters(), plain.sql(), Present.LOOKED_UP, plain.otherwise());
    }

    /**
     * Inserts rows, or writes them over those that are there, by one statement; null where they have to be looked up
     * before.
     */
    public Upsert.@Nullable Form upsert(Upsert upsert) {
        return null;
    }

    // ---- changing rows that are found

    /** Deletes rows. */
    final SqlText delete(Affected rows) {
        return change(rows, Map.of(), List.of());
    }

    /**
     * Updates or deletes rows.
     *
     * @param sets the new values by the names of columns, quoted; none to delete the rows
     * @param values what is bound for them
     */
    SqlText change(Affected rows, Map<String, String> sets, List<SqlText.Param> values) {
        SqlText condition = rows.condition();
        String clause = condition.sql().isEmpty() ? "" : " where " + condition.sql();
        List<SqlText.Param> params = new ArrayList<>(values);
        params.addAll(condition.params());
        String head = sets.isEmpty()
                ? "delete from " + rows.table()
                : "update " + rows.table() + " set " + assignments("", sets);
        return new SqlText(head + clause, params);
    }

    static String assignments(String prefix, Map<String, String> sets) {
        return sets.entrySet().stream()
                .map(set -> prefix + set.getKey() + " = " + set.getValue())
                .collect(Collectors.joining(", "));
    }

    /** Inserts rows unless rows of their keys are there, whether a constraint sees to that or not. */
    abstract WriteForm insertMissing(ModelEntity<?> entity, List<StoredColumn> columns, int rows);

    /** That a row has the key of one that is to be inserted. */
    final String sameKey(ModelEntity<?> entity, String there, String source) {
        return entity.keyColumns().stream()
                .map(column -> there + "." + quote(column.name()) + " = " + source + "." + column.alias())
                .collect(Collectors.joining(" and "));
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

    /**
     * A statement that deletes rows by a key of one column, without waiting for any others.
     *
     * @param table the table, as SQL names it
     * @param column the column, as SQL names it
     */
    public String delete(String table, String column, int rows) {
        return "delete from " + table + " where " + column + " in (" + Dialect.placeholders(rows) + ")";
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
        return "insert into " + target(entity, columns);
    }

    /** A table and the columns that are written. */
    final String target(ModelEntity<?> entity, List<StoredColumn> columns) {
        return qualified(entity.table()) + " " + inParentheses(columns);
    }

    final String inParentheses(List<StoredColumn> columns) {
        return "(" + names(columns.stream().map(StoredColumn::name).toList()) + ")";
    }

    /** The greatest number of placeholders of one statement. */
    int mostParameters() {
        return 32_000;
    }
}
