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
import java.util.List;

/** Steps on MariaDB, which commits with each definition. */
final class MariaDbAlterations extends Alterations {
    private static final String INSTANT = "metadata, for an instant";
    private static final String NONE = "metadata at the beginning and end; others read and write";
    private static final String COPY = "metadata, and others only read while the table is copied";

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
        return "select cast(connection_id() as char)";
    }

    @Override
    public String isSessionThere() {
        return "select count(*) from information_schema.processlist where id = cast(? as integer)";
    }

    /** It counts in whole seconds. */
    @Override
    public List<String> impatient(long millis) {
        long seconds = Math.max(1, millis / 1_000);
        return List.of("set lock_wait_timeout = " + seconds, "set innodb_lock_wait_timeout = " + seconds);
    }

    @Override
    public List<String> patient() {
        return List.of("set lock_wait_timeout = default", "set innodb_lock_wait_timeout = default");
    }

    @Override
    boolean isTransactional() {
        return false;
    }

    @Override
    String wholeLock() {
        return INSTANT;
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
            script.add(add + type + " not null default " + filling, INSTANT, Work.NOTHING);
            script.add(table(table) + " alter column " + quote(column.name()) + " drop default", INSTANT, Work.NOTHING);
        } else if (filling != null) {
            script.add(add + definition(table, optional(column)), INSTANT, Work.NOTHING);
            fill(script, change, column);
            script.add(modify(table, column), NONE, Work.REWRITE);
        } else {
            boolean copied = isComputed(column) || byDefault(column) != null;
            script.add(add + definition(table, column), copied ? COPY : INSTANT, copied ? Work.REWRITE : Work.NOTHING);
        }
    }

    /**
     * The whole definition is said again, or what is left out would be lost. Where a table has a stored computed column,
     * the server takes one column for another when it looks for foreign keys (error 1832), unless it copies.
     */
    private String modify(Table table, Column column) {
        boolean confusing = table.columns().stream().anyMatch(Alterations::isComputed);
        return table(table) + " modify column " + definition(table, column) + (confusing ? ", algorithm = copy" : "");
    }

    @Override
    void changeColumn(Script script, TableChange change, Column old, Column column) {
        boolean retyped = !dialect.type(old.type()).equals(dialect.type(column.type()));
        if (column.required() && !old.required()) {
            fill(script, change, column);
        }
        boolean wider = old.type().kind() == column.type().kind()
                && old.type().length() > 0
                && old.type().length() <= column.type().length();
        boolean instant = (!retyped || wider) && old.required() == column.required();
        boolean copied = retyped && !wider;
        script.add(
                modify(change.after(), column),
                instant ? INSTANT : copied ? COPY : NONE,
                instant ? Work.NOTHING : Work.REWRITE);
    }

    @Override
    void changePrimaryKey(Script script, Table before, Table after) {
        script.add(
                table(after) + " drop primary key, add constraint " + quote(after.primaryKey()) + " primary key ("
                        + names(after.keyColumns()) + ")",
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
        script.add(
                alter + (draws ? " set " + dialect.definitions().generated(table) : " drop default"),
                INSTANT,
                Work.NOTHING);
        if (drawn && !draws) {
            script.add("drop sequence " + qualified(old), newLock(), Work.NOTHING);
        }
    }

    /** A sequence takes a number alone, so the statement is put together in the server. */
    @Override
    void moveSequence(Script script, String sequence, String next) {
        script.add(
                "begin not atomic declare n bigint default (" + next + "); execute immediate concat('alter sequence "
                        + sequence.replace("'", "''") + " restart with ', n); end",
                newLock(),
                Work.NOTHING);
    }

    @Override
    void moveOwnGenerator(Script script, Table table, String next) {
        moveSequence(script, qualified(Schema.sequence(table.name())), next);
    }

    @Override
    void addForeignKey(Script script, Table table, ForeignKey key) {
        script.add(table(table) + " add " + foreignKey(key), COPY, Work.REWRITE);
    }

    /** The index that was made for it stays behind. */
    @Override
    void dropForeignKey(Script script, Table table, ForeignKey key) {
        script.add(table(table) + " drop foreign key " + quote(key.name()), INSTANT, Work.NOTHING);
        script.add(
                "drop index if exists " + quote(key.name()) + " on " + qualified(table.name()), INSTANT, Work.NOTHING);
    }

    @Override
    void renameForeignKey(Script script, Table table, ForeignKey old, ForeignKey key) {
        script.add(
                table(table) + " drop foreign key " + quote(old.name()) + ", add " + foreignKey(key),
                COPY,
                Work.REWRITE);
    }

    @Override
    void addUnique(Script script, Table table, UniqueConstraint unique) {
        script.add(
                table(table) + " add constraint " + quote(unique.name()) + " unique (" + names(unique.columns()) + ")",
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
                script.add(
                        "create index if not exists " + quote(key.name()) + " on "
                                + qualified(change.before().name()) + " (" + names(key.columns()) + ")",
                        NONE,
                        Work.SCAN);
            }
        }
    }

    @Override
    void dropUnique(Script script, Table table, UniqueConstraint unique) {
        script.add("drop index " + quote(unique.name()) + " on " + qualified(table.name()), INSTANT, Work.NOTHING);
    }

    @Override
    void renameUnique(Script script, Table table, String name, UniqueConstraint unique) {
        renameIndex(script, table, name, unique.name());
    }

    @Override
    void addIndex(Script script, Table table, Index index) {
        script.add(createIndex(table, index), NONE, Work.SCAN);
    }

    @Override
    void dropIndex(Script script, Table table, Index index) {
        script.add("drop index " + quote(index.name()) + " on " + qualified(table.name()), INSTANT, Work.NOTHING);
    }

    @Override
    void renameIndex(Script script, Table table, Index old, Index index) {
        renameIndex(script, table, old.name(), index.name());
    }

    private void renameIndex(Script script, Table table, String name, String newName) {
        script.add(table(table) + " rename index " + quote(name) + " to " + quote(newName), INSTANT, Work.NOTHING);
    }

    @Override
    void addCheck(Script script, Table table, Check check) {
        script.add(
                table(table) + " add constraint " + quote(check.name()) + " check (" + condition(check) + ")",
                COPY,
                Work.REWRITE);
    }

    @Override
    void renameCheck(Script script, Table table, Check old, Check check) {
        script.add(
                table(table) + " drop constraint " + quote(old.name()) + ", add constraint " + quote(check.name())
                        + " check (" + condition(check) + ")",
                COPY,
                Work.REWRITE);
    }
}
