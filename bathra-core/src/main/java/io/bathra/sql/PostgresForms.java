package io.bathra.sql;

import io.bathra.mapping.KeySource;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.UniqueKey;
import io.bathra.sql.Upsert.Source;
import io.bathra.sql.WriteForm.Binding;
import io.bathra.sql.WriteForm.Present;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Forms of writing of PostgreSQL. */
final class PostgresForms extends Forms {
    /** From here on, one array a column costs the program no more than one placeholder a value, and the server less. */
    private static final int INSERT_ARRAYS_FROM = 8;

    /** A join with arrays has to be planned, so a batch of few updates is faster. */
    private static final int UPDATE_ARRAYS_FROM = 30;

    private static final int DELETE_ARRAYS_FROM = 10;

    /** Large enough that the round trip does not count, small enough that the arrays fit into memory easily. */
    private static final int ARRAY_ROWS = 5000;

    /** From here on, rows that follow the statement are faster than arrays. */
    private static final int COPY_FROM = 100;

    /** So many rows are in one statement; more would make the trace coarse, and nothing faster. */
    private static final int COPY_ROWS = 50_000;

    PostgresForms(Dialect dialect) {
        super(dialect);
    }

    @Override
    WriteForm insert(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        if (rows < INSERT_ARRAYS_FROM) {
            return super.insert(entity, columns, rows);
        }
        boolean drawn = entity.keySource() == KeySource.GENERATED;
        String sql = insertHead(entity, columns) + (drawn ? " overriding system value" : "") + " select * from unnest("
                + arrays(Parameter.of(columns)) + ")";
        WriteForm arrays = new WriteForm(Binding.ARRAYS, ARRAY_ROWS, Parameter.of(columns), n -> sql);
        String copy = "copy " + target(entity, columns) + " from stdin";
        return rows < COPY_FROM
                ? arrays
                : new WriteForm(
                        Binding.COPY, COPY_ROWS, Parameter.of(columns), n -> copy, WriteForm.Present.FAILS, arrays);
    }

    @Override
    public String deferConstraints() {
        return "set constraints all deferred";
    }

    @Override
    public String checkConstraints() {
        return "set constraints all immediate";
    }

    @Override
    public WriteForm insertAbsent(
            ModelEntity<?> entity, List<StoredColumn> columns, @Nullable UniqueKey key, int rows) {
        String sql = insertHead(entity, columns) + " select * from unnest(" + arrays(Parameter.of(columns))
                + ") on conflict" + conflictTarget(key) + " do nothing";
        return new WriteForm(Binding.ARRAYS, ARRAY_ROWS, Parameter.of(columns), n -> sql, Present.SKIPPED);
    }

    /**
     * A row that no transaction has locked or removed was inserted just now. They are counted there, which saves a row
     * for each.
     */
    @Override
    public Upsert.Form upsert(Upsert upsert) {
        Source there = Upsert.rowsOf(dialect, "t");
        Source given = Upsert.rowsOf(dialect, "excluded");
        List<Parameter> parameters = Parameter.of(upsert.columns());
        String sql = "with written(fresh) as ("
                + "insert into " + qualified(upsert.entity().table()) + " as t " + inParentheses(upsert.columns())
                + " select * from unnest(" + arrays(parameters) + ") on conflict ("
                + names(upsert.key().stream().map(StoredColumn::name).toList()) + ") do update set "
                + upsert.sets(dialect, there, given) + " where " + upsert.differs(dialect, there, given)
                + " returning (t.xmax = 0)) select count(*) filter (where fresh), count(*) from written";
        return new Upsert.Form(new WriteForm(Binding.ARRAYS, ARRAY_ROWS, parameters, n -> sql), Upsert.Answer.COUNTS);
    }

    @Override
    WriteForm insertMissing(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        String sql = insertHead(entity, columns) + " select * from unnest(" + arrays(Parameter.of(columns)) + ") s("
                + Dialect.aliases(columns) + ") where not exists (select 1 from " + qualified(entity.table())
                + " t where "
                + sameKey(entity, "t", "s") + ") on conflict do nothing";
        return new WriteForm(Binding.ARRAYS, ARRAY_ROWS, Parameter.of(columns), n -> sql, Present.SKIPPED);
    }

    @Override
    WriteForm update(ModelEntity<?> entity, List<StoredColumn> columns, int rows) {
        if (rows < UPDATE_ARRAYS_FROM) {
            return super.update(entity, columns, rows);
        }
        List<Parameter> match = match(entity);
        List<Parameter> parameters = new ArrayList<>(match);
        parameters.addAll(Parameter.of(columns));
        String sets = columns.stream()
                .map(column -> quote(column.name()) + " = s." + column.alias())
                .collect(Collectors.joining(", "));
        String source = parameters.stream().map(Parameter::alias).collect(Collectors.joining(", "));
        String where = match.stream()
                .map(parameter -> "t." + quote(parameter.column().name()) + " = s." + parameter.alias())
                .collect(Collectors.joining(" and "));
        String sql = "update " + qualified(entity.table()) + " t set " + sets + " from unnest(" + arrays(parameters)
                + ") s(" + source + ") where " + where;
        return new WriteForm(Binding.ARRAYS, ARRAY_ROWS, parameters, n -> sql);
    }

    @Override
    WriteForm delete(ModelEntity<?> entity, int rows) {
        if (rows < DELETE_ARRAYS_FROM) {
            return super.delete(entity, rows);
        }
        List<Parameter> match = match(entity);
        String values = match.size() == 1
                ? " = any(" + arrays(match) + ")"
                : " in (select * from unnest(" + arrays(match) + "))";
        String sql = "delete from " + qualified(entity.table()) + " where " + columnList(match) + values;
        return new WriteForm(Binding.ARRAYS, ARRAY_ROWS, match, n -> sql);
    }

    private static String arrays(List<Parameter> columns) {
        return columns.stream()
                .map(column -> "?::" + PostgresDialect.element(column.type()) + "[]")
                .collect(Collectors.joining(", "));
    }
}
