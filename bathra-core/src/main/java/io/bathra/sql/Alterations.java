package io.bathra.sql;

import io.bathra.history.DataStep;
import io.bathra.history.FieldStep;
import io.bathra.history.SchemaStep;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.Layout;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import io.bathra.sql.StepSql.Work;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What is executed for a step from one schema to the next.
 */
public abstract class Alterations extends DialectPart {
    Alterations(Dialect dialect) {
        super(dialect);
    }

    /** The statements of a step, in order. */
    public final List<StepSql> statements(SchemaStep step, Layout before, Layout after) {
        Script script = new Script(isTransactional(), rowLocks());
        if (step instanceof DataStep.Move move) {
            rows().move(script, move, after);
            if (move.out()) {
                moveGenerator(script, after.table(move.target(after)));
            }
            return script.list();
        }
        if (step instanceof DataStep data) {
            String sql = data instanceof DataStep.Backfill fill && fill.term() != null
                    ? rows().backfill(fill, fill.term(), after)
                    : data.sql().getOrDefault(product(), data.sql().get(DataStep.ANY));
            boolean some = data instanceof DataStep.Backfill fill && fill.portions() > 0;
            if (sql != null && some) {
                script.portions(sql);
            } else if (sql != null) {
                script.rows(sql, Work.SCAN);
            }
            return script.list();
        }
        StepTables tables = StepTables.of(step, before, after);
        sequences(script, before, after);
        if (!tables.made().isEmpty()) {
            dialect.definitions().create(tables.made()).forEach(sql -> script.add(sql, newLock(), Work.NOTHING));
        }
        alter(script, tables.changed());
        for (Table gone : tables.gone()) {
            drop(script, gone);
        }
        return script.list();
    }

    /** What draws a table's keys goes on behind the greatest one that is there. */
    final void moveGenerator(Script script, Table table) {
        String key = quote(table.keyColumns().get(0));
        String next = "select coalesce(max(" + key + "), 0) + 1 from " + qualified(table.name());
        if (table.keySource() instanceof KeyTable keys) {
            script.rows(
                    "update " + qualified(keys.name()) + " set " + KeyTable.NEXT_KEY + " = (" + next + ") where "
                            + KeyTable.OWNER + " = " + textLiteral(table.name()) + " and " + KeyTable.NEXT_KEY + " < ("
                            + next + ")",
                    Work.NOTHING);
        } else if (table.keySource() instanceof KeySource.Sequence sequence) {
            moveSequence(script, qualified(sequence.name()), next);
        } else if (table.columns().stream().anyMatch(Column::generated)) {
            moveOwnGenerator(script, table, next);
        }
    }

    /** A sequence goes on with the answer to a query. */
    abstract void moveSequence(Script script, String sequence, String next);

    /** What draws keys for a table alone goes on with the answer to a query. */
    abstract void moveOwnGenerator(Script script, Table table, String next);

    private RowChanges rows() {
        return new RowChanges(dialect, product());
    }

    /** What rows that are there get in a column; null for nothing. */
    final @Nullable String filling(TableChange change, Column column) {
        return rows().filling(change, column);
    }

    /** Asks for what tells this session from all others, now and later; null where there are no sessions. */
    public abstract @Nullable String ownSession();

    /** Asks whether a session is there, given what tells it, with 1 or 0; null where there are no sessions. */
    public abstract @Nullable String isSessionThere();

    /** What makes a session wait for locks for a short time only, since who waits lets nobody pass, and cut no values. */
    public abstract List<SessionSetting> settings(long millis);

    /** The text that is sent for a statement, by which the first of its forms is executed that the product can do. */
    public String text(StepSql statement) {
        return statement.sql();
    }

    /** Finds the rows that are in the way of a step, in the layout before it. */
    public final List<Offence> offences(SchemaStep step, Layout before) {
        return new Offences(dialect, before).of(step);
    }

    /** Counts the rows of the table that a step writes some at a time. */
    public final String countRows(SchemaStep step, Layout layout) {
        String sheet = step instanceof FieldStep field ? field.sheet() : ((DataStep.Backfill) step).sheet();
        return "select count(*) from "
                + qualified(layout.sheet(sheet).orElseThrow().table());
    }

    /** Begins a transaction. */
    public String begin() {
        return "begin";
    }

    /** What makes sure that what was noted outlives the machine. */
    public List<String> writtenThrough() {
        return List.of();
    }

    /** Makes a session what it was, when a step that brings its transaction along has failed. */
    public List<String> afterOwnTransaction() {
        return List.of();
    }

    /** Asks for the statements that clear away what a failed attempt at a statement has left; empty for nothing. */
    public Optional<String> leftover(String sql) {
        return Optional.empty();
    }

    /** Whether a step can be taken back as a whole. */
    public final boolean takesBack() {
        return isTransactional();
    }

    /** The word for the product in a file. */
    public abstract String product();

    /** Whether definitions are taken back with a transaction. */
    abstract boolean isTransactional();

    /** What a statement that writes rows holds. */
    String rowLocks() {
        return "rows";
    }

    /** What the making of a table holds: nobody works with it yet. */
    String newLock() {
        return "nothing";
    }

    /** What is held by most changes of a table. */
    abstract String wholeLock();

    // ---- tables that go, and generators

    private void drop(Script script, Table gone) {
        script.add("drop table " + qualified(gone.name()), wholeLock(), Work.NOTHING);
        dialect.definitions().afterDrop(gone).forEach(sql -> script.add(sql, newLock(), Work.NOTHING));
        forgetOwner(script, gone);
    }

    private void forgetOwner(Script script, Table table) {
        if (table.keySource() instanceof KeyTable keys) {
            script.rows(
                    "delete from " + qualified(keys.name()) + " where " + KeyTable.OWNER + " = "
                            + textLiteral(table.name()),
                    Work.NOTHING);
        }
    }

    /** Sequences that several entities may share come before the first and go after the last of them. */
    private void sequences(Script script, Layout before, Layout after) {
        List<KeySource> old =
                before.sheets().values().stream().map(one -> one.keySource()).toList();
        after.sheets().values().stream()
                .map(one -> one.keySource())
                .distinct()
                .filter(source -> source instanceof KeySource.Sequence && !old.contains(source))
                .forEach(source -> script.add(
                        dialect.definitions().createSequence((KeySource.Sequence) source), newLock(), Work.NOTHING));
    }

    // ---- tables that change

    /** Changes tables, all of them together. */
    void alter(Script script, List<TableChange> changes) {
        new TableSteps(this, script).alter(changes);
    }

    /** Whether a foreign key has to go while the columns that it is on, or that it refers to, change. */
    boolean isInTheWay(TableChange change, ForeignKey key) {
        return false;
    }

    /** An index goes on which something may rest. */
    void beforeDroppingIndex(Script script, TableChange change, List<String> columns) {}

    @Nullable
    Index index(TableChange change, Index old) {
        return dialect.definitions().indexes(change.after()).stream()
                .filter(one -> one.columns().equals(change.now(old.columns())))
                .findFirst()
                .orElse(null);
    }

    /** Whether a check would be kept in other words, since a type changes of which it speaks; so it is made anew. */
    boolean isReworded(TableChange change, Check old) {
        return old.fields().stream()
                .flatMap(field -> old.columnsOf(field).stream())
                .anyMatch(column -> change.now(column)
                        .filter(now -> !dialect.type(column.type()).equals(dialect.type(now.type())))
                        .isPresent());
    }

    /** A check has stayed when there is one of the same name, or names alone have changed in all of them. */
    final @Nullable Check check(TableChange change, Check old) {
        if (isReworded(change, old)) {
            return null;
        }
        return change.now(old);
    }

    void renameColumns(Script script, TableChange change) {
        for (Column old : change.before().columns()) {
            change.now(old)
                    .filter(column -> !column.name().equals(old.name()))
                    .ifPresent(column -> renameColumn(script, change.after(), old.name(), column.name()));
        }
    }

    /** What draws a table's keys changes, or is named after the table. */
    void generators(Script script, TableChange change) {
        Table before = change.before();
        Table after = change.after();
        if (before.keySource() instanceof KeyTable keys
                && before.keySource().equals(after.keySource())
                && change.isRenamed()) {
            script.rows(
                    "update " + qualified(keys.name()) + " set " + KeyTable.OWNER + " = " + textLiteral(after.name())
                            + " where " + KeyTable.OWNER + " = " + textLiteral(before.name()),
                    Work.NOTHING);
        } else if (!before.keySource().equals(after.keySource())) {
            forgetOwner(script, before);
            if (after.keySource() instanceof KeyTable) {
                new TableWriter(dialect).keyLines(List.of(after)).forEach(sql -> script.rows(sql, Work.NOTHING));
            }
            if (!after.columns().stream().anyMatch(Column::generated)
                    && after.keySource().isDrawn()
                    && after.keySource() != KeySource.TIME_ORDERED) {
                moveGenerator(script, after);
            }
        }
        boolean drawn = before.columns().stream().anyMatch(Column::generated);
        boolean draws = after.columns().stream().anyMatch(Column::generated);
        if (drawn || draws) {
            generator(script, change, drawn, draws);
        }
    }

    /** A table's own generator comes, goes, or belongs to a table that has another name now. */
    abstract void generator(Script script, TableChange change, boolean drawn, boolean draws);

    // ---- what each product says

    /** An update of so many rows at most of those for which a condition holds. */
    String some(String update, String table, List<String> key, String open, int rows) {
        String columns = names(key);
        return update + " where " + (key.size() == 1 ? columns : "(" + columns + ")") + " in (select " + columns
                + " from " + qualified(table) + " where " + open + " order by " + columns + " limit " + rows + ")";
    }

    /** A change of a table that looks at no rows. */
    void alter(Script script, String sql) {
        script.add(sql, wholeLock(), Work.NOTHING);
    }

    final String table(Table table) {
        return "alter table " + qualified(table.name());
    }

    void renameTable(Script script, TableChange change) {
        alter(
                script,
                table(change.before()) + " rename to " + quote(change.after().name()));
    }

    void renameColumn(Script script, Table table, String name, String newName) {
        alter(script, table(table) + " rename column " + quote(name) + " to " + quote(newName));
    }

    abstract void addColumn(Script script, TableChange change, Column column);

    abstract void changeColumn(Script script, TableChange change, Column old, Column column);

    void dropColumn(Script script, Table table, Column column) {
        alter(script, table(table) + " drop column " + quote(column.name()));
    }

    abstract void changePrimaryKey(Script script, Table before, Table after);

    void renamePrimaryKey(Script script, Table table, String name) {
        renameConstraint(script, table, name, table.primaryKey());
    }

    void renameConstraint(Script script, Table table, String name, String newName) {
        alter(script, table(table) + " rename constraint " + quote(name) + " to " + quote(newName));
    }

    abstract void addForeignKey(Script script, Table table, ForeignKey key);

    void dropForeignKey(Script script, Table table, ForeignKey key) {
        dropConstraint(script, table, key.name());
    }

    void renameForeignKey(Script script, Table table, ForeignKey old, ForeignKey key) {
        renameConstraint(script, table, old.name(), key.name());
    }

    abstract void addUnique(Script script, Table table, UniqueConstraint unique);

    void dropUnique(Script script, Table table, UniqueConstraint unique) {
        dropConstraint(script, table, unique.name());
    }

    void renameUnique(Script script, Table table, String name, UniqueConstraint unique) {
        renameConstraint(script, table, name, unique.name());
    }

    abstract void addIndex(Script script, Table table, Index index);

    void dropIndex(Script script, Table table, Index index) {
        script.add("drop index " + qualified(index.name()), wholeLock(), Work.NOTHING);
    }

    void renameIndex(Script script, Table table, Index old, Index index) {
        script.add(
                "alter index " + qualified(old.name()) + " rename to " + quote(index.name()),
                wholeLock(),
                Work.NOTHING);
    }

    abstract void addCheck(Script script, Table table, Check check);

    void dropCheck(Script script, Table table, Check check) {
        dropConstraint(script, table, check.name());
    }

    void renameCheck(Script script, Table table, Check old, Check check) {
        renameConstraint(script, table, old.name(), check.name());
    }

    void dropConstraint(Script script, Table table, String name) {
        alter(script, table(table) + " drop constraint " + quote(name));
    }

    // ---- texts

    final String definition(Table table, Column column) {
        return quote(column.name()) + " " + new TableWriter(dialect).definition(table, column);
    }

    final String foreignKey(ForeignKey key) {
        return new TableWriter(dialect).foreignKey(key);
    }

    final String createIndex(Table table, Index index) {
        return dialect.definitions().createIndex(index, table) + " (" + names(index.columns()) + ")";
    }

    final String condition(Check check) {
        return ConditionWriter.withLiterals(dialect, check);
    }

    static boolean isComputed(Column column) {
        return column.made() instanceof DatabaseMade.Computed;
    }

    static @Nullable String byDefault(Column column) {
        return column.made() instanceof DatabaseMade.Default made ? made.sql() : null;
    }

    /** The same column before it must have a value. */
    static Column optional(Column column) {
        return new Column(column.name(), column.type(), false, column.generated(), column.made());
    }

    /** The rows that have nothing in a column yet get something. */
    final void fill(Script script, TableChange change, Column column) {
        rows().fill(script, change, column);
    }

    /** Asks for rows that a fill leaves with nothing. */
    final String leftEmpty(Table table, Column column, String value) {
        return rows().leftEmpty(table, column, value);
    }
}
