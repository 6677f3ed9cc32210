package io.bathra;

import io.bathra.error.BathraException;
import io.bathra.error.NotExactlyOneException;
import io.bathra.jdbc.Transaction;
import io.bathra.query.Sql;
import io.bathra.read.Causes;
import io.bathra.read.PlainRows;
import io.bathra.read.SqlLevel;
import io.bathra.sql.PlainText;
import io.bathra.sql.SqlText;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A statement in plain SQL, at the place where it will be executed. Immutable; made by {@code sql(...)} of a store, a
 * plain transaction or a unit of work.
 *
 * <p>In a unit of work whatever is pending is flushed first, rows that become entities are tracked objects, and when
 * the statement writes, tracked objects of the tables that it names are brought up to date or dropped. Elsewhere
 * entities are not tracked, and their unread links cannot be read. H2 and MariaDB commit by themselves when a table is
 * created, changed or dropped: such a statement is refused within a transaction.
 *
 * @param <R> what a row of the answer becomes
 */
public final class SqlCall<R> {
    private final SqlLevel level;
    private final Sql<R> statement;

    SqlCall(SqlLevel level, Sql<R> statement) {
        this.level = level;
        this.statement = statement;
    }

    /**
     * Gives a parameter its value; a collection of values for a list of placeholders.
     *
     * @param parameter the parameter's name
     * @param value the value
     * @return the call with that
     */
    public SqlCall<R> with(String parameter, @Nullable Object value) {
        return new SqlCall<>(level, statement.with(parameter, value));
    }

    /**
     * Gives parameters the values of the record's components of the same names.
     *
     * @param parameters the values, by name
     * @return the call with that
     */
    public SqlCall<R> with(Record parameters) {
        return new SqlCall<>(level, statement.with(parameters));
    }

    /**
     * Gives parameters values by name.
     *
     * @param parameters the values, by name
     * @return the call with that
     */
    public SqlCall<R> with(Map<String, ? extends @Nullable Object> parameters) {
        return new SqlCall<>(level, statement.with(parameters));
    }

    /**
     * Says what a row becomes: a record, an entity, or a single value.
     *
     * @param <T> what each row becomes
     * @param rowType a record, an entity, or the class of a single value
     * @return the call with that
     */
    public <T> SqlCall<T> as(Class<T> rowType) {
        return new SqlCall<>(level, statement.as(rowType));
    }

    /**
     * {@return the same statement without a transaction around it, for what the database refuses within one: {@code
     * vacuum},
     * {@code create database}, {@code create index concurrently}} What it has done when it fails stays done.
     *
     * <pre>{@code
     * store.sql("analyze").withoutTransaction().execute();
     * }</pre>
     *
     * @throws BathraException when the statement belongs to a plain transaction or a unit of work
     */
    public SqlCall<R> withoutTransaction() {
        return new SqlCall<>(level.withoutTransaction(), statement);
    }

    /**
     * {@return all rows}
     *
     * @throws BathraException when a column is missing that a row is made of, or a value does not fit
     */
    public List<R> list() {
        return execute((transaction, text) ->
                PlainRows.of(level, transaction, statement.type(), text).list());
    }

    /** {@return the first row, if there is any} */
    public Optional<R> first() {
        List<R> rows = list();
        return rows.isEmpty() ? Optional.empty() : Optional.ofNullable(rows.get(0));
    }

    /**
     * {@return the only row}
     *
     * @throws io.bathra.error.NotExactlyOneException when there is none, or more than one
     */
    public R one() {
        List<R> rows = list();
        if (rows.size() != 1) {
            throw new NotExactlyOneException(statement.text(), rows.size());
        }
        return rows.get(0);
    }

    /**
     * {@return the rows one after the other, in bounded memory} The stream holds the transaction's connection, and
     * lets go of it when it has been read to its end or is closed. Entities are not tracked. On MariaDB the
     * transaction can execute nothing else meanwhile without reading the rest into memory.
     *
     * @throws BathraException when the statement writes, or is executed without a transaction; or when it gives
     *     entities that have parts, which would need statements of their own meanwhile
     */
    public Stream<R> stream() {
        PlainText text = text();
        if (text.mayWrite()) {
            throw new BathraException(
                    "a statement that writes is not read as a stream; call list()\n  statement: " + text.text());
        }
        SqlText bound = text.bind(statement.values());
        Transaction transaction = level.begin(text);
        return PlainRows.of(level, transaction, statement.type(), bound).stream();
    }

    /**
     * Executes a statement that changes rows or tables.
     *
     * @return how many rows it has written, as far as the database counts them
     */
    public long execute() {
        return execute((transaction, text) -> transaction.execute(Causes.SQL, text));
    }

    /**
     * Executes the statement once for each record or map, whose values are added to those given before. They go to the
     * database in portions.
     *
     * @param rows the rows
     * @return how many rows each has written, {@link java.sql.Statement#SUCCESS_NO_INFO} where the driver does not tell
     * @throws BathraException before anything is executed, when lists of different lengths are among the values
     */
    public int[] executeAll(Collection<?> rows) {
        PlainText text = text();
        List<List<SqlText.Param>> sets = new ArrayList<>(rows.size());
        String sql = "";
        for (Object row : rows) {
            SqlText bound = text.bind(values(row));
            if (!sets.isEmpty() && !bound.sql().equals(sql)) {
                throw new BathraException("the lists among the values of row " + (sets.size() + 1)
                        + " have other lengths than those of the row before, which makes it another statement; execute"
                        + " them one by one\n  statement: " + text.text());
            }
            sql = bound.sql();
            sets.add(bound.params());
        }
        if (sets.isEmpty()) {
            return new int[0];
        }
        String same = sql;
        return within(text, transaction -> transaction.executeAll(Causes.SQL, same, sets));
    }

    /**
     * Executes several statements one after the other.
     *
     * @return how many there were
     */
    static int script(SqlLevel level, String text) {
        List<String> statements = PlainText.statements(level.dialect(), text);
        for (int i = 0; i < statements.size(); i++) {
            try {
                new SqlCall<>(level, Sql.of(statements.get(i).strip())).execute();
            } catch (BathraException e) {
                e.addSuppressed(new BathraException("this was statement " + (i + 1) + " of " + statements.size()
                        + " of a script; those before have been executed"));
                throw e;
            }
        }
        return statements.size();
    }

    private Map<String, @Nullable Object> values(Object row) {
        if (row instanceof Record named) {
            return statement.with(named).values();
        }
        if (row instanceof Map<?, ?> map) {
            Sql<R> all = statement;
            for (Map.Entry<?, ?> entry : map.entrySet()) {
                all = all.with(String.valueOf(entry.getKey()), entry.getValue());
            }
            return all.values();
        }
        throw new BathraException("values come from records and maps, but here is an object of "
                + row.getClass().getName() + "\n  statement: " + statement.text());
    }

    private PlainText text() {
        return PlainText.of(level.dialect(), statement.text());
    }

    private <T> T execute(BiFunction<Transaction, SqlText, T> use) {
        PlainText text = text();
        SqlText bound = text.bind(statement.values());
        return within(text, transaction -> use.apply(transaction, bound));
    }

    private <T> T within(PlainText text, Function<Transaction, T> use) {
        Transaction transaction = level.begin(text);
        boolean done = false;
        try {
            T answer = text.mayWrite()
                    ? level.writing(text, () -> use.apply(transaction))
                    : level.reading(() -> use.apply(transaction));
            done = true;
            return answer;
        } finally {
            level.end(transaction, done);
        }
    }

    /** The text; values are left out, since some may be secret. */
    @Override
    public String toString() {
        return statement.toString();
    }
}
