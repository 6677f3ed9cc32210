package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import io.bathra.sql.StepSql.Role;
import io.bathra.sql.StepSql.Work;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * Steps on SQLite. Names change in place, and a column that may be empty is added; for everything else the table is
 * made anew and its rows are copied, as <a href="https://www.sqlite.org/lang_altertable.html#otheralter">SQLite's
 * manual</a> says.
 */
final class SqliteAlterations extends Alterations {
    private static final String NEW = "bathra_new_";
    private static final String LOCK = "the file, for whoever writes";

    SqliteAlterations(Dialect dialect) {
        super(dialect);
    }

    @Override
    public String product() {
        return "sqlite";
    }

    @Override
    boolean isReworded(TableChange change, Check old) {
        return false;
    }

    @Override
    public @Nullable String ownSession() {
        return null;
    }

    @Override
    public @Nullable String isSessionThere() {
        return null;
    }

    @Override
    public List<SessionSetting> settings(long millis) {
        return List.of(new SessionSetting("pragma busy_timeout", "pragma busy_timeout = ", String.valueOf(millis)));
    }

    @Override
    public String begin() {
        return "begin immediate";
    }

    @Override
    public List<String> afterOwnTransaction() {
        return List.of("pragma legacy_alter_table = off", "pragma foreign_keys = on");
    }

    @Override
    boolean isTransactional() {
        return true;
    }

    @Override
    String wholeLock() {
        return LOCK;
    }

    @Override
    String rowLocks() {
        return LOCK;
    }

    @Override
    String newLock() {
        return LOCK;
    }

    @Override
    void alter(Script script, List<TableChange> changes) {
        changes.stream().filter(TableChange::isRenamed).forEach(change -> renameTable(script, change));
        changes.forEach(change -> renameColumns(script, change));
        changes.forEach(change -> generators(script, change));
        List<TableChange> anew = changes.stream().filter(this::isMadeAnew).toList();
        for (TableChange change : changes) {
            if (!anew.contains(change)) {
                addColumns(script, change);
                indexes(script, change);
            }
        }
        if (!anew.isEmpty()) {
            script.as(Role.ALONE, "pragma foreign_keys = off", "nothing", Work.NOTHING);
            script.as(Role.ALONE, "pragma legacy_alter_table = on", "nothing", Work.NOTHING);
            script.as(Role.BEGIN, begin(), LOCK, Work.NOTHING);
            anew.forEach(change -> makeAnew(script, change));
            anew.forEach(change -> script.noRows("select "
                    + textLiteral("links of " + change.after().name() + " that lead nowhere")
                    + ", rowid from pragma_foreign_key_check("
                    + textLiteral(change.after().name()) + ")"));
            script.as(Role.COMMIT, "commit", LOCK, Work.NOTHING);
            afterOwnTransaction().forEach(sql -> script.as(Role.ALONE, sql, "nothing", Work.NOTHING));
        }
    }

    private boolean isMadeAnew(TableChange change) {
        Table before = change.before();
        Table after = change.after();
        boolean columns = before.columns().stream()
                .anyMatch(old -> change.now(old)
                        .filter(column -> TableChange.isSame(old, column) && old.generated() == column.generated())
                        .isEmpty());
        boolean added = after.columns().stream()
                .filter(column -> change.then(column).isEmpty())
                .anyMatch(column -> !isAdded(after, column));
        boolean keys = before.foreignKeys().size() != after.foreignKeys().size()
                || !before.foreignKeys().stream()
                        .allMatch(old -> after.foreignKeys().stream().anyMatch(key -> change.isSame(old, key)));
        boolean uniques = before.uniques().size() != after.uniques().size()
                || before.uniques().stream().anyMatch(old -> change.now(old) == null);
        boolean checks = before.checks().size() != after.checks().size()
                || before.checks().stream().anyMatch(old -> check(change, old) == null);
        return columns
                || added
                || keys
                || uniques
                || checks
                || !change.now(before.keyColumns()).equals(after.keyColumns());
    }

    /** Whether a new column needs no new table. */
    private static boolean isAdded(Table table, Column column) {
        return !column.required()
                && column.made() == null
                && table.foreignKeys().stream().noneMatch(key -> key.columns().contains(column.name()));
    }

    private void addColumns(Script script, TableChange change) {
        for (Column column : change.after().columns()) {
            if (change.then(column).isEmpty()) {
                script.add(
                        table(change.after()) + " add column " + definition(change.after(), column),
                        LOCK,
                        Work.NOTHING);
                fill(script, change, column);
            }
        }
    }

    private void indexes(Script script, TableChange change) {
        for (Index old : change.before().indexes()) {
            Index next = index(change, old);
            if (next == null || !next.name().equals(old.name())) {
                dropIndex(script, change.after(), old);
            }
        }
        for (Index one : change.after().indexes()) {
            boolean there = change.before().indexes().stream()
                    .anyMatch(
                            old -> one.equals(index(change, old)) && one.name().equals(old.name()));
            if (!there) {
                addIndex(script, change.after(), one);
            }
        }
    }

    private void makeAnew(Script script, TableChange change) {
        Table table = change.after();
        String name = table.name();
        Table anew = table.named(NEW + name);
        script.add(new TableWriter(dialect).createTable(anew), LOCK, Work.NOTHING);
        List<String> columns = new ArrayList<>();
        List<String> values = new ArrayList<>();
        for (Column column : table.columns()) {
            String value = isComputed(column) ? null : copied(change, column);
            if (value != null && column.required() && filling(change, column) != null) {
                script.noRows(leftEmpty(table, column, value));
            }
            if (value != null) {
                columns.add(quote(column.name()));
                values.add(value);
            }
        }
        script.add(
                "insert into " + qualified(anew.name()) + " (" + String.join(", ", columns) + ") select "
                        + String.join(", ", values) + " from " + qualified(name),
                LOCK,
                Work.REWRITE);
        if (table.columns().stream().anyMatch(Column::generated)) {
            sequence(script, table, anew);
        }
        script.kept(kept(change));
        script.add("drop table " + qualified(name), LOCK, Work.NOTHING);
        script.add(table(anew) + " rename to " + quote(name), LOCK, Work.NOTHING);
        table.indexes().forEach(index -> addIndex(script, table, index));
    }

    /** Triggers, and indexes of the user's own, which go with the table. */
    private String kept(TableChange change) {
        List<String> own = new ArrayList<>();
        change.before().indexes().forEach(index -> own.add(textLiteral(index.name())));
        change.after().indexes().forEach(index -> own.add(textLiteral(index.name())));
        return "select sql from " + qualified("sqlite_master") + " where lower(tbl_name) = "
                + textLiteral(change.after().name().toLowerCase(Locale.ROOT)) + " and type in ('index', 'trigger')"
                + " and sql is not null and name not in (" + String.join(", ", own) + ") order by type, name";
    }

    /** Keys that were given out are not given out again. */
    private void sequence(Script script, Table table, Table anew) {
        String sequences = qualified("sqlite_sequence");
        script.add("delete from " + sequences + " where name = " + textLiteral(anew.name()), LOCK, Work.NOTHING);
        script.add(
                "insert into " + sequences + " (name, seq) select " + textLiteral(anew.name())
                        + ", coalesce((select seq from " + sequences + " where name = " + textLiteral(table.name())
                        + "), (select max(" + quote(table.keyColumns().get(0)) + ") from " + qualified(anew.name())
                        + "), 0)",
                LOCK,
                Work.NOTHING);
    }

    /** What a row gets in a column of its copy; null for what the table gives it. */
    private @Nullable String copied(TableChange change, Column column) {
        Column old = change.then(column).orElse(null);
        String filling = filling(change, column);
        if (old == null) {
            return filling;
        }
        String value = cast(old.type(), column.type(), quote(column.name()));
        return filling == null ? value : "coalesce(" + value + ", " + filling + ")";
    }

    private String cast(ColumnType old, ColumnType type, String value) {
        if (old.kind() == Kind.DATE_TIME && type.kind() == Kind.DATE) {
            return "substr(" + value + ", 1, 10)";
        } else if (old.kind() == Kind.DATE && type.kind() == Kind.DATE_TIME) {
            return value + " || 'T00:00:00.000000'";
        }
        boolean text = dialect.type(type).equals("text");
        boolean wasText = dialect.type(old).equals("text");
        if (text == wasText || type.kind() == Kind.UUID || type.kind() == Kind.BYTES) {
            return value;
        }
        return "cast(" + value + " as "
                + (text ? "text" : dialect.type(type).startsWith("decimal") ? "numeric" : dialect.type(type)) + ")";
    }

    @Override
    void addIndex(Script script, Table table, Index index) {
        script.add(createIndex(table, index), LOCK, Work.SCAN);
    }

    /** Keys are drawn by the table itself. */
    @Override
    void generator(Script script, TableChange change, boolean drawn, boolean draws) {}

    @Override
    void moveSequence(Script script, String sequence, String next) {
        throw SqliteDialect.noSequences(sequence);
    }

    /** It looks at the keys itself. */
    @Override
    void moveOwnGenerator(Script script, Table table, String next) {}

    @Override
    void addColumn(Script script, TableChange change, Column column) {
        throw notByItself();
    }

    @Override
    void changeColumn(Script script, TableChange change, Column old, Column column) {
        throw notByItself();
    }

    @Override
    void changePrimaryKey(Script script, Table before, Table after) {
        throw notByItself();
    }

    @Override
    void addForeignKey(Script script, Table table, ForeignKey key) {
        throw notByItself();
    }

    @Override
    void addUnique(Script script, Table table, UniqueConstraint unique) {
        throw notByItself();
    }

    @Override
    void addCheck(Script script, Table table, Check check) {
        throw notByItself();
    }

    private static IllegalStateException notByItself() {
        return new IllegalStateException("SQLite makes the whole table anew for that");
    }
}
