package io.bathra.sql;

import io.bathra.history.Fill;
import io.bathra.mapping.ColumnType.Kind;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import io.bathra.sql.StepSql.Work;
import java.util.List;
import java.util.Locale;

/** Steps on H2, which copies a table for most changes of its columns, and commits with each definition. */
final class H2Alterations extends Alterations {
    H2Alterations(Dialect dialect) {
        super(dialect);
    }

    @Override
    public String product() {
        return "h2";
    }

    @Override
    public String ownSession() {
        return "select session_id || ' ' || session_start from information_schema.sessions where session_id ="
                + " session_id()";
    }

    @Override
    public String isSessionThere() {
        return "select count(*) from information_schema.sessions where session_id || ' ' || session_start = ?";
    }

    @Override
    public List<SessionSetting> settings(long millis) {
        return List.of(new SessionSetting("select lock_timeout()", "set lock_timeout ", String.valueOf(millis)));
    }

    @Override
    public List<String> writtenThrough() {
        return List.of("checkpoint sync");
    }

    /** It would look for the rows of a subquery once for each row. */
    @Override
    String some(String update, String table, List<String> key, String open, int rows) {
        return update + " where " + open + " fetch first " + rows + " rows only";
    }

    @Override
    boolean isTransactional() {
        return false;
    }

    @Override
    String wholeLock() {
        return "exclusive";
    }

    @Override
    void renameColumn(Script script, Table table, String name, String newName) {
        script.add(
                table(table) + " alter column " + quote(name) + " rename to " + quote(newName),
                wholeLock(),
                Work.NOTHING);
    }

    @Override
    void addColumn(Script script, TableChange change, Column column) {
        Table table = change.after();
        String add = table(table) + " add column ";
        String filling = filling(change, column);
        if (filling != null && change.fills().get(column.name()) instanceof Fill.OfValue) {
            String type = quote(column.name()) + " " + dialect.definitions().columnType(table, column);
            script.add(add + type + " default " + filling + " not null", wholeLock(), Work.REWRITE);
            script.add(alter(table, column) + " drop default", wholeLock(), Work.NOTHING);
        } else if (filling != null) {
            script.add(add + definition(table, optional(column)), wholeLock(), Work.REWRITE);
            fill(script, change, column);
            script.add(alter(table, column) + " set not null", wholeLock(), Work.SCAN);
        } else {
            script.add(add + definition(table, column), wholeLock(), Work.REWRITE);
        }
    }

    private String alter(Table table, Column column) {
        return table(table) + " alter column " + quote(column.name());
    }

    @Override
    void changeColumn(Script script, TableChange change, Column old, Column column) {
        Table table = change.after();
        String before = byDefault(old);
        String after = byDefault(column);
        boolean retyped = !dialect.type(old.type()).equals(dialect.type(column.type()));
        if (before != null && (retyped || !before.equals(after))) {
            script.add(alter(table, column) + " drop default", wholeLock(), Work.NOTHING);
        }
        if (retyped
                && old.type().kind() == Kind.LONG_TEXT
                && !column.type().kind().isText()) {
            script.add(alter(table, column) + " set data type varchar", wholeLock(), Work.REWRITE);
        }
        if (retyped) {
            script.add(
                    alter(table, column) + " set data type " + dialect.type(column.type()), wholeLock(), Work.REWRITE);
        }
        if (after != null && (retyped || !after.equals(before))) {
            script.add(alter(table, column) + " set default (" + after + ")", wholeLock(), Work.NOTHING);
        }
        if (column.required() && !old.required()) {
            fill(script, change, column);
            script.add(alter(table, column) + " set not null", wholeLock(), Work.SCAN);
        } else if (!column.required() && old.required()) {
            script.add(alter(table, column) + " drop not null", wholeLock(), Work.NOTHING);
        }
    }

    @Override
    void changePrimaryKey(Script script, Table before, Table after) {
        dropConstraint(script, after, before.primaryKey());
        script.add(
                table(after) + " add constraint " + quote(after.primaryKey()) + " primary key ("
                        + names(after.keyColumns()) + ")",
                wholeLock(),
                Work.SCAN);
    }

    /** A sequence keeps its name, so another one goes on where it stands. */
    @Override
    void generator(Script script, TableChange change, boolean drawn, boolean draws) {
        Table table = change.after();
        String old = Schema.sequence(change.before().name());
        String name = Schema.sequence(table.name());
        if (drawn && draws && old.equals(name)) {
            return;
        }
        String key = quote(table.keyColumns().get(0));
        if (draws) {
            String listed = "select base_value from information_schema.sequences where sequence_name = "
                    + textLiteral(dialect.goesUnquoted(old) ? old.toUpperCase(Locale.ROOT) : old)
                    + " and sequence_schema = "
                    + (schema() == null
                            ? "current_schema"
                            : textLiteral(
                                    dialect.goesUnquoted(schema()) ? schema().toUpperCase(Locale.ROOT) : schema()));
            String next = "select coalesce(max(" + key + "), 0) + 1 from " + qualified(table.name());
            script.add(
                    "create sequence " + qualified(name) + " start with (" + (drawn ? listed : next) + ")",
                    newLock(),
                    Work.NOTHING);
            script.add(
                    table(table) + " alter column " + key + " set "
                            + dialect.definitions().generated(table),
                    wholeLock(),
                    Work.NOTHING);
        } else {
            script.add(table(table) + " alter column " + key + " drop default", wholeLock(), Work.NOTHING);
        }
        if (drawn) {
            script.add("drop sequence " + qualified(old), newLock(), Work.NOTHING);
        }
    }

    @Override
    void moveSequence(Script script, String sequence, String next) {
        script.add("alter sequence " + sequence + " restart with (" + next + ")", newLock(), Work.NOTHING);
    }

    @Override
    void moveOwnGenerator(Script script, Table table, String next) {
        moveSequence(script, qualified(Schema.sequence(table.name())), next);
    }

    @Override
    void addForeignKey(Script script, Table table, ForeignKey key) {
        script.add(table(table) + " add " + foreignKey(key), wholeLock(), Work.SCAN);
    }

    @Override
    void addUnique(Script script, Table table, UniqueConstraint unique) {
        script.add(
                table(table) + " add constraint " + quote(unique.name()) + " unique (" + names(unique.columns()) + ")",
                wholeLock(),
                Work.SCAN);
    }

    @Override
    void addIndex(Script script, Table table, Index index) {
        script.add(createIndex(table, index), wholeLock(), Work.SCAN);
    }

    @Override
    void addCheck(Script script, Table table, Check check) {
        script.add(
                table(table) + " add constraint " + quote(check.name()) + " check (" + condition(check) + ") check",
                wholeLock(),
                Work.SCAN);
    }
}
