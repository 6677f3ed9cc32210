package io.bathra.sql;

import io.bathra.error.BathraException;
import io.bathra.history.DataStep;
import io.bathra.history.Fill;
import io.bathra.history.SchemaStep;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.KeySource.KeyTable;
import io.bathra.question.Term;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.Layout;
import io.bathra.schema.Literal;
import io.bathra.schema.Sheet;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import io.bathra.sql.StepSql.Work;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What is executed for a step from one schema to the next. Constraints that are in the way go first, those that are new
 * come last; in between, names change, columns come, change and go.
 */
public abstract class Alterations extends DialectPart {
    /** What is executed for one step, as it is collected. */
    final class Script {
        private final List<StepSql> statements = new ArrayList<>();

        void add(String sql, String lock, Work work) {
            statements.add(new StepSql(sql, lock, work, isTransactional(), false));
        }

        /** Rows are written, which a rollback always takes back. */
        void rows(String sql, Work work) {
            statements.add(new StepSql(sql, rowLocks(), work, true, false));
        }

        void alone(String sql, String lock, Work work) {
            statements.add(new StepSql(sql, lock, work, false, true));
        }

        List<StepSql> list() {
            return List.copyOf(statements);
        }
    }

    Alterations(Dialect dialect) {
        super(dialect);
    }

    /** The statements of a step, in order. */
    public final List<StepSql> statements(SchemaStep step, Layout before, Layout after) {
        Script script = new Script();
        if (step instanceof DataStep.Move move) {
            move(script, move, after);
            return script.list();
        }
        if (step instanceof DataStep data) {
            String sql = data instanceof DataStep.Backfill fill && fill.term() != null
                    ? backfill(fill, fill.term(), after)
                    : data.sql().getOrDefault(product(), data.sql().get(DataStep.ANY));
            if (sql != null) {
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

    private String backfill(DataStep.Backfill step, Term term, Layout layout) {
        String table = layout.sheet(step.sheet()).orElseThrow().table();
        Map<String, List<Column>> fields = layout.columnsByField(table);
        String column =
                quote(Objects.requireNonNull(fields.get(step.field())).get(0).name());
        String value = ConditionWriter.term(dialect, fields, term);
        return "update " + qualified(table) + " set " + column + " = " + value + " where " + column + " is null and "
                + value + " is not null";
    }

    private void move(Script script, DataStep.Move step, Layout layout) {
        Sheet sheet = layout.sheet(step.sheet()).orElseThrow();
        Sheet target = step.target(layout);
        Table table = layout.table(target);
        String owner = qualified(sheet.table());
        String link = quote(sheet.columns(List.of(step.link())).get(0));
        String key = quote(target.keyColumns().get(0));
        List<String> own = new ArrayList<>();
        List<String> other = new ArrayList<>();
        step.fields().forEach((field, far) -> {
            sheet.columns(List.of(field)).forEach(column -> own.add(quote(column)));
            target.columns(List.of(far)).forEach(column -> other.add(quote(column)));
        });
        if (!step.out()) {
            List<String> sets = new ArrayList<>();
            for (int i = 0; i < own.size(); i++) {
                sets.add(own.get(i) + " = (select far." + other.get(i) + " from " + qualified(table.name())
                        + " far where far." + key + " = " + owner + "." + link + ")");
            }
            script.rows(
                    "update " + owner + " set " + String.join(", ", sets) + " where " + link + " is not null",
                    Work.REWRITE);
            return;
        }
        String ownKey = quote(sheet.keyColumns().get(0));
        String there = String.join(" is not null or ", own) + " is not null";
        script.rows(
                "insert into " + qualified(table.name()) + " (" + key + ", " + String.join(", ", other) + ") select "
                        + ownKey
                        + ", " + String.join(", ", own) + " from " + owner + " where " + link + " is null and (" + there
                        + ")",
                Work.REWRITE);
        script.rows(
                "update " + owner + " set " + link + " = " + ownKey + " where " + link + " is null and (" + there + ")",
                Work.REWRITE);
        moveGenerator(script, table);
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
                        "create sequence if not exists " + qualified(((KeySource.Sequence) source).name())
                                + " start with 1 increment by " + ((KeySource.Sequence) source).block(),
                        newLock(),
                        Work.NOTHING));
    }

    // ---- tables that change

    void alter(Script script, List<TableChange> changes) {
        changes.forEach(change -> dropKeys(script, change));
        changes.forEach(change -> dropRules(script, change));
        changes.stream().filter(TableChange::isRenamed).forEach(change -> renameTable(script, change));
        changes.forEach(change -> renameColumns(script, change));
        changes.forEach(change -> renameRules(script, change));
        changes.forEach(change -> generators(script, change));
        changes.forEach(change -> columns(script, change));
        changes.forEach(change -> primaryKey(script, change));
        changes.forEach(change -> dropColumns(script, change));
        changes.forEach(change -> addRules(script, change));
        changes.forEach(change -> addKeys(script, change));
    }

    /** Whether a foreign key has to go while the columns that it is on, or that it refers to, change. */
    boolean isInTheWay(TableChange change, ForeignKey key) {
        return false;
    }

    private void dropKeys(Script script, TableChange change) {
        for (ForeignKey old : change.before().foreignKeys()) {
            if (!stays(change, old)) {
                dropForeignKey(script, change.before(), old);
            }
        }
    }

    private boolean stays(TableChange change, ForeignKey old) {
        return change.after().foreignKeys().stream().anyMatch(key -> change.isSame(old, key))
                && !isInTheWay(change, old);
    }

    private void addKeys(Script script, TableChange change) {
        for (ForeignKey key : change.after().foreignKeys()) {
            boolean there = change.before().foreignKeys().stream()
                    .anyMatch(old -> change.isSame(old, key) && stays(change, old));
            if (!there) {
                addForeignKey(script, change.after(), key);
            }
        }
    }

    private void dropRules(Script script, TableChange change) {
        for (Check old : change.before().checks()) {
            if (check(change, old) == null) {
                dropCheck(script, change.before(), old);
            }
        }
        for (UniqueConstraint old : change.before().uniques()) {
            if (unique(change, old) == null) {
                beforeDroppingIndex(script, change, old.columns());
                dropUnique(script, change.before(), old);
            }
        }
        for (Index old : dialect.definitions().indexes(change.before())) {
            if (index(change, old) == null) {
                beforeDroppingIndex(script, change, old.columns());
                dropIndex(script, change.before(), old);
            }
        }
    }

    /** An index goes on which something may rest. */
    void beforeDroppingIndex(Script script, TableChange change, List<String> columns) {}

    private void renameRules(Script script, TableChange change) {
        Table now = change.after();
        if (!change.before().primaryKey().equals(now.primaryKey())
                && change.now(change.before().keyColumns()).equals(now.keyColumns())) {
            renamePrimaryKey(script, now, change.before().primaryKey());
        }
        for (ForeignKey old : change.before().foreignKeys()) {
            now.foreignKeys().stream()
                    .filter(key -> change.isSame(old, key) && !key.name().equals(old.name()))
                    .filter(key -> !isInTheWay(change, old))
                    .findFirst()
                    .ifPresent(key -> renameForeignKey(script, now, old, key));
        }
        for (UniqueConstraint old : change.before().uniques()) {
            UniqueConstraint next = unique(change, old);
            if (next != null && !next.name().equals(old.name())) {
                renameUnique(script, now, old.name(), next);
            }
        }
        for (Index old : dialect.definitions().indexes(change.before())) {
            Index next = index(change, old);
            if (next != null && !next.name().equals(old.name())) {
                renameIndex(script, now, old, next);
            }
        }
        for (Check old : change.before().checks()) {
            Check next = check(change, old);
            if (next != null && !next.name().equals(old.name())) {
                renameCheck(script, now, old, next);
            }
        }
    }

    private void addRules(Script script, TableChange change) {
        Table before = change.before();
        for (UniqueConstraint one : change.after().uniques()) {
            if (before.uniques().stream().noneMatch(old -> one.equals(unique(change, old)))) {
                addUnique(script, change.after(), one);
            }
        }
        for (Index one : dialect.definitions().indexes(change.after())) {
            if (dialect.definitions().indexes(before).stream().noneMatch(old -> one.equals(index(change, old)))) {
                addIndex(script, change.after(), one);
            }
        }
        for (Check one : change.after().checks()) {
            if (before.checks().stream().noneMatch(old -> one == check(change, old))) {
                addCheck(script, change.after(), one);
            }
        }
    }

    static @Nullable UniqueConstraint unique(TableChange change, UniqueConstraint old) {
        return change.after().uniques().stream()
                .filter(one -> one.columns().equals(change.now(old.columns())) && one.deferrable() == old.deferrable())
                .findFirst()
                .orElse(null);
    }

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
        List<Check> before = change.before().checks();
        List<Check> after = change.after().checks();
        for (Check one : after) {
            if (one.name().equals(old.name())) {
                return one;
            }
        }
        int place = before.indexOf(old);
        boolean kept = before.size() == after.size()
                && before.stream()
                        .noneMatch(one ->
                                after.stream().anyMatch(other -> other.name().equals(one.name())));
        return kept ? after.get(place) : null;
    }

    void renameColumns(Script script, TableChange change) {
        for (Column old : change.before().columns()) {
            change.now(old)
                    .filter(column -> !column.name().equals(old.name()))
                    .ifPresent(column -> renameColumn(script, change.after(), old.name(), column.name()));
        }
    }

    private void columns(Script script, TableChange change) {
        for (Column column : change.after().columns()) {
            Column old = change.then(column).orElse(null);
            if (old == null) {
                addColumn(script, change, column);
            } else if (!isSame(old, column)) {
                changeColumn(script, change, old, column);
            }
        }
    }

    static boolean isSame(Column old, Column column) {
        return old.type().equals(column.type())
                && old.required() == column.required()
                && Objects.equals(old.made(), column.made());
    }

    private void dropColumns(Script script, TableChange change) {
        for (Column old : change.before().columns()) {
            if (change.now(old).isEmpty()) {
                dropColumn(script, change.after(), old);
            }
        }
    }

    private void primaryKey(Script script, TableChange change) {
        if (!change.now(change.before().keyColumns()).equals(change.after().keyColumns())) {
            changePrimaryKey(script, change.before(), change.after());
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

    final String table(Table table) {
        return "alter table " + qualified(table.name());
    }

    void renameTable(Script script, TableChange change) {
        script.add(table(change.before()) + " rename to " + quote(change.after().name()), wholeLock(), Work.NOTHING);
    }

    void renameColumn(Script script, Table table, String name, String newName) {
        script.add(table(table) + " rename column " + quote(name) + " to " + quote(newName), wholeLock(), Work.NOTHING);
    }

    abstract void addColumn(Script script, TableChange change, Column column);

    abstract void changeColumn(Script script, TableChange change, Column old, Column column);

    void dropColumn(Script script, Table table, Column column) {
        script.add(table(table) + " drop column " + quote(column.name()), wholeLock(), Work.NOTHING);
    }

    abstract void changePrimaryKey(Script script, Table before, Table after);

    void renamePrimaryKey(Script script, Table table, String name) {
        renameConstraint(script, table, name, table.primaryKey());
    }

    void renameConstraint(Script script, Table table, String name, String newName) {
        script.add(
                table(table) + " rename constraint " + quote(name) + " to " + quote(newName),
                wholeLock(),
                Work.NOTHING);
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
        script.add(table(table) + " drop constraint " + quote(name), wholeLock(), Work.NOTHING);
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

    /** What rows that are there get in a column; null for nothing. */
    final @Nullable String filling(TableChange change, Column column) {
        Fill fill = change.fills().get(column.name());
        if (fill == null) {
            return null;
        } else if (fill instanceof Fill.OfValue value) {
            return literal(column, value.literal());
        } else if (fill instanceof Fill.OfTerm term) {
            return ConditionWriter.term(dialect, change.fields(), term.term());
        }
        Fill.OfSql sql = (Fill.OfSql) fill;
        return sql.expressions().getOrDefault(product(), sql.expressions().get(DataStep.ANY));
    }

    private String literal(Column column, Object literal) {
        try {
            return dialect.expressions().literal(column.type(), Literal.as(column.type(), literal));
        } catch (BathraException e) {
            throw e;
        } catch (RuntimeException e) {
            throw new BathraException("rows cannot be filled with " + literal + ", since " + column.name() + " keeps "
                    + column.type().words() + ": " + e.getMessage());
        }
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
        String filling = filling(change, column);
        if (filling != null) {
            script.rows(
                    "update " + qualified(change.after().name()) + " set " + quote(column.name()) + " = " + filling
                            + " where " + quote(column.name()) + " is null",
                    Work.REWRITE);
        }
    }
}
