package io.bathra.sql;

import io.bathra.history.Fill;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import io.bathra.sql.StepSql.Role;
import io.bathra.sql.StepSql.Work;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Steps on PostgreSQL. What has to look at all rows does so under a lock that lets others read and write: constraints
 * are added first and looked at then, and indexes are made concurrently.
 */
final class PostgresAlterations extends Alterations {
    private static final String SHARE_ROW = "share row exclusive, on both tables";
    private static final String SHARE_UPDATE = "share update exclusive";

    private static final Pattern CONCURRENTLY =
            Pattern.compile("create (?:unique )?index concurrently (\"(?:[^\"]|\"\")+\"|\\S+) on");

    PostgresAlterations(Dialect dialect) {
        super(dialect);
    }

    @Override
    public String product() {
        return "postgresql";
    }

    @Override
    public String ownSession() {
        return "select pg_backend_pid() || ' ' || extract(epoch from backend_start)::bigint from pg_stat_activity where"
                + " pid = pg_backend_pid()";
    }

    @Override
    public String isSessionThere() {
        return "select count(*) from pg_stat_activity where pid || ' ' || extract(epoch from backend_start)::bigint = ?";
    }

    @Override
    public List<SessionSetting> settings(long millis) {
        String value = "select quote_literal(current_setting('lock_timeout'))";
        return List.of(new SessionSetting(value, "set lock_timeout = ", String.valueOf(millis)));
    }

    /** An index whose making has failed is there, and of no use. */
    @Override
    public Optional<String> leftover(String sql) {
        Matcher index = CONCURRENTLY.matcher(sql);
        return index.lookingAt()
                ? Optional.of(
                        "select 'drop index concurrently ' || indexrelid::regclass from pg_index where not indisvalid"
                                + " and indexrelid = to_regclass("
                                + textLiteral((schema() == null ? "" : quote(schema()) + ".") + index.group(1)) + ")")
                : Optional.empty();
    }

    @Override
    boolean isTransactional() {
        return true;
    }

    @Override
    String wholeLock() {
        return "access exclusive";
    }

    @Override
    void addColumn(Script script, TableChange change, Column column) {
        Table table = change.after();
        String add = table(table) + " add column ";
        String filling = filling(change, column);
        boolean constant = filling != null && change.fills().get(column.name()) instanceof Fill.OfValue;
        if (isComputed(column)) {
            script.add(add + definition(table, column), wholeLock(), Work.REWRITE);
        } else if (constant) {
            String type = quote(column.name()) + " " + dialect.definitions().columnType(table, column);
            script.add(add + type + " default " + filling + " not null", wholeLock(), Work.NOTHING);
            script.add(alter(table, column) + " drop default", wholeLock(), Work.NOTHING);
        } else if (filling != null) {
            script.add(add + definition(table, optional(column)), wholeLock(), Work.NOTHING);
            fill(script, change, column);
            require(script, table, column);
        } else {
            boolean rewrites = byDefault(column) != null || column.generated();
            script.add(add + definition(table, column), wholeLock(), rewrites ? Work.REWRITE : Work.NOTHING);
        }
    }

    private String alter(Table table, Column column) {
        return table(table) + " alter column " + quote(column.name());
    }

    /** A check that is known to hold saves the look at all rows under the lock. */
    private void require(Script script, Table table, Column column) {
        String name = quote("bathra_" + column.name() + "_there");
        script.add(
                table(table) + " add constraint " + name + " check (" + quote(column.name())
                        + " is not null) not valid",
                wholeLock(),
                Work.NOTHING);
        script.add(table(table) + " validate constraint " + name, SHARE_UPDATE, Work.SCAN);
        script.add(alter(table, column) + " set not null", wholeLock(), Work.NOTHING);
        script.add(table(table) + " drop constraint " + name, wholeLock(), Work.NOTHING);
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
        if (retyped) {
            String type = dialect.type(column.type());
            boolean wider = isWider(old, column);
            script.add(
                    alter(table, column) + " type " + type
                            + (wider ? "" : " using " + quote(column.name()) + "::" + type),
                    wholeLock(),
                    wider ? Work.NOTHING : Work.REWRITE);
        }
        if (after != null && (retyped || !after.equals(before))) {
            script.add(alter(table, column) + " set default (" + after + ")", wholeLock(), Work.NOTHING);
        }
        if (column.required() && !old.required()) {
            fill(script, change, column);
            require(script, table, column);
        } else if (!column.required() && old.required()) {
            script.add(alter(table, column) + " drop not null", wholeLock(), Work.NOTHING);
        }
    }

    /** Texts that may be longer stay as they are. */
    private static boolean isWider(Column old, Column column) {
        return PostgresDialect.element(old.type()).equals("text")
                && PostgresDialect.element(column.type()).equals("text")
                && (column.type().length() == 0
                        || (old.type().length() > 0
                                && old.type().length() <= column.type().length()));
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

    @Override
    void generator(Script script, TableChange change, boolean drawn, boolean draws) {
        if (drawn == draws) {
            return; // it belongs to the column, and is found by it
        }
        Table table = change.after();
        Column key = table.columns().stream()
                .filter(one -> one.name().equals(table.keyColumns().get(0)))
                .findFirst()
                .orElseThrow();
        if (drawn) {
            script.add(alter(table, key) + " drop identity", wholeLock(), Work.NOTHING);
        } else {
            script.add(alter(table, key) + " add " + dialect.definitions().generated(table), wholeLock(), Work.NOTHING);
            moveGenerator(script, table);
        }
    }

    @Override
    void moveSequence(Script script, String sequence, String next) {
        script.add("select setval(" + textLiteral(sequence) + ", (" + next + "), false)", newLock(), Work.NOTHING);
    }

    @Override
    void moveOwnGenerator(Script script, Table table, String next) {
        script.add(
                "select setval(pg_get_serial_sequence(" + textLiteral(qualified(table.name())) + ", "
                        + textLiteral(table.keyColumns().get(0)) + "), (" + next + "), false)",
                newLock(),
                Work.NOTHING);
    }

    @Override
    void addForeignKey(Script script, Table table, ForeignKey key) {
        script.add(table(table) + " add " + foreignKey(key) + " not valid", SHARE_ROW, Work.NOTHING);
        script.add(table(table) + " validate constraint " + quote(key.name()), SHARE_UPDATE, Work.SCAN);
    }

    @Override
    void addUnique(Script script, Table table, UniqueConstraint unique) {
        String columns = " (" + names(unique.columns()) + ")";
        script.as(
                Role.ALONE,
                "create unique index concurrently " + quote(unique.name()) + " on " + qualified(table.name()) + columns,
                SHARE_UPDATE,
                Work.SCAN);
        script.add(
                table(table) + " add constraint " + quote(unique.name()) + " unique using index " + quote(unique.name())
                        + (unique.deferrable() ? dialect.definitions().deferrableUnique() : ""),
                wholeLock(),
                Work.NOTHING);
    }

    @Override
    void addIndex(Script script, Table table, Index index) {
        script.as(
                Role.ALONE,
                createIndex(table, index).replaceFirst("create index", "create index concurrently"),
                SHARE_UPDATE,
                Work.SCAN);
    }

    @Override
    void addCheck(Script script, Table table, Check check) {
        script.add(
                table(table) + " add constraint " + quote(check.name()) + " check (" + condition(check) + ") not valid",
                wholeLock(),
                Work.NOTHING);
        script.add(table(table) + " validate constraint " + quote(check.name()), SHARE_UPDATE, Work.SCAN);
    }
}
