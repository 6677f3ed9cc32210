package io.bathra.sql;

import io.bathra.history.Fill;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import io.bathra.sql.StepSql.Work;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Steps on MariaDB, which commits with each definition. */
final class MariaDbAlterations extends Alterations {
    private static final String INSTANT = "metadata, for an instant";
    private static final String NONE = "metadata at the beginning and end; others read and write";
    private static final String COPY = "metadata, and others only read while the table is copied";

    /** The gentlest form first; what is more disturbing than these is left to the server. */
    private static final List<String> ALTER =
            List.of(", algorithm = instant", ", algorithm = nocopy, lock = none", ", algorithm = inplace, lock = none");

    private static final List<String> INDEX =
            List.of(" algorithm = instant", " algorithm = nocopy lock = none", " algorithm = inplace lock = none");

    private static final String UNSEEN = "set statement foreign_key_checks = 0 for ";

    /**
     * The server cannot do it that way (1845, 1846); renamed in an instant, a column is not found any more by the checks
     * that speak of it (1054). Once in thousands, 11.4 says of a new foreign key that its options are wrong, as if the
     * column took no nulls (1825): they are not, and another form is accepted.
     */
    private static final String REFUSALS = "1845, 1846, 1054, 1825";

    MariaDbAlterations(Dialect dialect) {
        super(dialect);
    }

    @Override
    public String product() {
        return "mariadb";
    }

    @Override
    boolean isReworded(TableChange change, Check old) {
        return false;
    }

    @Override
    public String ownSession() {
        return "select concat(connection_id(), ' ', @@hostname, ':', @@port)";
    }

    /** A node of a cluster knows its own sessions alone: those of others are taken for there. */
    @Override
    public String isSessionThere() {
        return "select if(s.node <> concat(@@hostname, ':', @@port) and exists (select 1 from"
                + " information_schema.system_variables where variable_name = 'WSREP_ON' and global_value = 'ON'), 1,"
                + " (select count(*) from information_schema.processlist p where p.id = s.id)) from (select"
                + " cast(substring_index(told, ' ', 1) as integer) id, substring_index(told, ' ', -1) node from"
                + " (select ? told) t) s";
    }

    /** It counts in whole seconds. */
    @Override
    public List<SessionSetting> settings(long millis) {
        String seconds = String.valueOf(Math.max(1, millis / 1_000));
        return List.of(
                new SessionSetting("select @@lock_wait_timeout", "set lock_wait_timeout = ", seconds),
                new SessionSetting("select @@innodb_lock_wait_timeout", "set innodb_lock_wait_timeout = ", seconds),
                new SessionSetting(
                        "select quote(@@sql_mode)", "set sql_mode = ", "concat(@@sql_mode, ',STRICT_ALL_TABLES')"));
    }

    /** The server tries one form after the other itself: some pools close a connection on which one was refused. */
    @Override
    public String text(StepSql statement) {
        if (statement.options().isEmpty()) {
            return statement.sql();
        }
        StringBuilder text =
                new StringBuilder("begin not atomic declare done boolean default false; begin declare continue"
                        + " handler for " + REFUSALS + " set done = false; ");
        for (String option : statement.options()) {
            text.append("if not done then set done = true; ")
                    .append(statement.sql())
                    .append(option)
                    .append("; end if; ");
        }
        return text + "end; if not done then " + statement.sql() + "; end if; end";
    }

    @Override
    String some(String update, String table, List<String> key, String open, int rows) {
        return update + " where " + open + " order by " + names(key) + " limit " + rows;
    }

    @Override
    boolean isTransactional() {
        return false;
    }

    @Override
    String wholeLock() {
        return INSTANT;
    }

    @Override
    void alter(Script script, String sql) {
        script.gently(sql, ALTER, INSTANT, Work.NOTHING);
    }

    /** A foreign key of columns whose type changes has to go meanwhile, on both sides. */
    @Override
    boolean isInTheWay(TableChange change, ForeignKey key) {
        return key.columns().stream().anyMatch(name -> {
            Column old = change.before().columns().stream()
                    .filter(one -> one.name().equals(name))
                    .findFirst()
                    .orElseThrow();
            return change.now(old)
                    .filter(column -> !dialect.type(old.type()).equals(dialect.type(column.type())))
                    .isPresent();
        });
    }

    @Override
    void addColumn(Script script, TableChange change, Column column) {
        Table table = change.after();
        String add = table(table) + " add column ";
        String filling = filling(change, column);
        if (filling != null && change.fills().get(column.name()) instanceof Fill.OfValue) {
            String type = quote(column.name()) + " " + dialect.definitions().columnType(table, column);
            alter(script, add + type + " not null default " + filling);
            alter(script, table(table) + " alter column " + quote(column.name()) + " drop default");
        } else if (filling != null) {
            alter(script, add + definition(table, optional(column)));
            fill(script, change, column);
            modify(script, table, column, NONE, Work.REWRITE);
        } else {
            boolean copied = isComputed(column) || byDefault(column) != null;
            script.gently(
                    add + definition(table, column),
                    ALTER,
                    copied ? COPY : INSTANT,
                    copied ? Work.REWRITE : Work.NOTHING);
        }
    }

    /**
     * The whole definition is said again, or what is left out would be lost. Where a table has a stored computed column,
     * the server takes one column for another when it looks for foreign keys (error 1832), unless it copies.
     */
    private void modify(Script script, Table table, Column column, String lock, Work work) {
        boolean confusing = table.columns().stream().anyMatch(Alterations::isComputed);
        String sql = table(table) + " modify column " + definition(table, column);
        script.gently(
                confusing ? sql + ", algorithm = copy" : sql,
                confusing ? List.of() : ALTER,
                confusing ? COPY : lock,
                confusing ? Work.REWRITE : work);
    }

    @Override
    void changeColumn(Script script, TableChange change, Column old, Column column) {
        boolean retyped = !dialect.type(old.type()).equals(dialect.type(column.type()));
        if (column.required() && !old.required() && filling(change, column) != null) {
            if (retyped) {
                modify(script, change.after(), optional(column), COPY, Work.REWRITE);
            }
            fill(script, change, column);
        }
        boolean wider = old.type().kind() == column.type().kind()
                && old.type().length() > 0
                && old.type().length() <= column.type().length();
        boolean instant = (!retyped || wider) && old.required() == column.required();
        boolean copied = retyped && !wider;
        modify(
                script,
                change.after(),
                column,
                instant ? INSTANT : copied ? COPY : NONE,
                instant ? Work.NOTHING : Work.REWRITE);
    }

    @Override
    void changePrimaryKey(Script script, Table before, Table after) {
        script.gently(
                table(after) + " drop primary key, add constraint " + quote(after.primaryKey()) + " primary key ("
                        + names(after.keyColumns()) + ")",
                ALTER,
                COPY,
                Work.REWRITE);
    }

    /** It has no name here. */
    @Override
    void renamePrimaryKey(Script script, Table table, String name) {}

    @Override
    void generator(Script script, TableChange change, boolean drawn, boolean draws) {
        Table table = change.after();
        String old = Schema.sequence(change.before().name());
        String name = Schema.sequence(table.name());
        if (drawn && draws && old.equals(name)) {
            return;
        }
        String key = quote(table.keyColumns().get(0));
        String alter = table(table) + " alter column " + key;
        if (drawn && draws) {
            script.add("rename table " + qualified(old) + " to " + qualified(name), INSTANT, Work.NOTHING);
        } else if (draws) {
            dialect.definitions().beforeTable(table).forEach(sql -> script.add(sql, newLock(), Work.NOTHING));
            moveOwnGenerator(script, table, "select coalesce(max(" + key + "), 0) + 1 from " + qualified(table.name()));
        }
        alter(script, alter + (draws ? " set " + dialect.definitions().generated(table) : " drop default"));
        if (drawn && !draws) {
            script.add("drop sequence " + qualified(old), newLock(), Work.NOTHING);
        }
    }

    /** A sequence takes a number alone, so the statement is put together in the server. It never goes back. */
    @Override
    void moveSequence(Script script, String sequence, String next) {
        script.add(
                "begin not atomic declare n bigint default (" + next + "); execute immediate concat('do setval("
                        + sequence.replace("'", "''") + ", ', n, ', 0)'); end",
                newLock(),
                Work.NOTHING);
    }

    @Override
    void moveOwnGenerator(Script script, Table table, String next) {
        moveSequence(script, qualified(Schema.sequence(table.name())), next);
    }

    /**
     * The server copies the table when it looks for rows that refer to nothing, and nobody writes meanwhile. So it does not
     * look, from then on refuses such rows, and those that were there before are asked for.
     */
    @Override
    void addForeignKey(Script script, Table table, ForeignKey key) {
        script.gently(UNSEEN + table(table) + " add " + foreignKey(key), ALTER, NONE, Work.SCAN);
        orphans(script, table, key);
    }

    private void orphans(Script script, Table table, ForeignKey key) {
        List<String> there = new ArrayList<>();
        List<String> same = new ArrayList<>();
        for (int i = 0; i < key.columns().size(); i++) {
            String column = "c." + quote(key.columns().get(i));
            there.add(column + " is not null");
            same.add("p." + quote(key.targetColumns().get(i)) + " = " + column);
        }
        script.noRows("select " + textLiteral("links of " + table.name() + " that lead nowhere") + ", " + keys(table)
                + " from " + qualified(table.name())
                + " c where " + String.join(" and ", there) + " and not exists (select 1 from "
                + qualified(key.targetTable()) + " p where " + String.join(" and ", same) + ")");
    }

    private String keys(Table table) {
        return table.keyColumns().stream().map(name -> "c." + quote(name)).collect(Collectors.joining(", "));
    }

    /** The index that was made for it stays behind. */
    @Override
    void dropForeignKey(Script script, Table table, ForeignKey key) {
        alter(script, table(table) + " drop foreign key " + quote(key.name()));
        alter(script, table(table) + " drop index if exists " + quote(key.name()));
    }

    @Override
    void renameForeignKey(Script script, Table table, ForeignKey old, ForeignKey key) {
        script.gently(
                UNSEEN + table(table) + " drop foreign key " + quote(old.name()) + ", add " + foreignKey(key),
                ALTER,
                NONE,
                Work.SCAN);
        orphans(script, table, key);
    }

    @Override
    void addUnique(Script script, Table table, UniqueConstraint unique) {
        script.gently(
                table(table) + " add constraint " + quote(unique.name()) + " unique (" + names(unique.columns()) + ")",
                ALTER,
                NONE,
                Work.SCAN);
    }

    /** Foreign keys need an index on their columns, and take this one for it if it begins with them. */
    @Override
    void beforeDroppingIndex(Script script, TableChange change, List<String> columns) {
        for (ForeignKey key : change.before().foreignKeys()) {
            boolean rests = columns.size() >= key.columns().size()
                    && columns.subList(0, key.columns().size()).equals(key.columns());
            boolean stays = change.after().foreignKeys().stream().anyMatch(one -> change.isSame(key, one));
            if (rests && stays) {
                script.gently(
                        "create index if not exists " + quote(key.name()) + " on "
                                + qualified(change.before().name()) + " (" + names(key.columns()) + ")",
                        INDEX,
                        NONE,
                        Work.SCAN);
            }
        }
    }

    @Override
    void dropUnique(Script script, Table table, UniqueConstraint unique) {
        dropIndex(script, table, unique.name());
    }

    @Override
    void renameUnique(Script script, Table table, String name, UniqueConstraint unique) {
        renameIndex(script, table, name, unique.name());
    }

    @Override
    void addIndex(Script script, Table table, Index index) {
        script.gently(createIndex(table, index), INDEX, NONE, Work.SCAN);
    }

    @Override
    void dropIndex(Script script, Table table, Index index) {
        dropIndex(script, table, index.name());
    }

    private void dropIndex(Script script, Table table, String name) {
        alter(script, table(table) + " drop index " + quote(name));
    }

    @Override
    void renameIndex(Script script, Table table, Index old, Index index) {
        renameIndex(script, table, old.name(), index.name());
    }

    private void renameIndex(Script script, Table table, String name, String newName) {
        alter(script, table(table) + " rename index " + quote(name) + " to " + quote(newName));
    }

    @Override
    void addCheck(Script script, Table table, Check check) {
        script.gently(
                table(table) + " add constraint " + quote(check.name()) + " check (" + condition(check) + ")",
                ALTER,
                COPY,
                Work.REWRITE);
    }

    @Override
    void renameCheck(Script script, Table table, Check old, Check check) {
        script.gently(
                table(table) + " drop constraint " + quote(old.name()) + ", add constraint " + quote(check.name())
                        + " check (" + condition(check) + ")",
                ALTER,
                COPY,
                Work.REWRITE);
    }
}
