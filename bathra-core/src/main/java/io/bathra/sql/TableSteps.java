package io.bathra.sql;

import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.ForeignKey;
import io.bathra.schema.Index;
import io.bathra.schema.Table;
import io.bathra.schema.UniqueConstraint;
import java.util.List;

/**
 * In which order tables change: constraints that are in the way go first, those that are new come last; in between, names
 * change, columns come, change and go.
 */
final class TableSteps {
    private final Alterations alterations;
    private final Script script;

    TableSteps(Alterations alterations, Script script) {
        this.alterations = alterations;
        this.script = script;
    }

    void alter(List<TableChange> changes) {
        changes.forEach(change -> dropKeys(change));
        changes.forEach(change -> dropRules(change));
        changes.stream().filter(TableChange::isRenamed).forEach(change -> alterations.renameTable(script, change));
        changes.forEach(change -> alterations.renameColumns(script, change));
        changes.forEach(change -> renameRules(change));
        changes.forEach(change -> alterations.generators(script, change));
        changes.forEach(change -> columns(change));
        changes.forEach(change -> primaryKey(change));
        changes.forEach(change -> dropColumns(change));
        changes.forEach(change -> addRules(change));
        changes.forEach(change -> addKeys(change));
    }

    private void dropKeys(TableChange change) {
        for (ForeignKey old : change.before().foreignKeys()) {
            if (!stays(change, old)) {
                alterations.dropForeignKey(script, change.before(), old);
            }
        }
    }

    private boolean stays(TableChange change, ForeignKey old) {
        return change.after().foreignKeys().stream().anyMatch(key -> change.isSame(old, key))
                && !alterations.isInTheWay(change, old);
    }

    private void addKeys(TableChange change) {
        for (ForeignKey key : change.after().foreignKeys()) {
            boolean there = change.before().foreignKeys().stream()
                    .anyMatch(old -> change.isSame(old, key) && stays(change, old));
            if (!there) {
                alterations.addForeignKey(script, change.after(), key);
            }
        }
    }

    private void dropRules(TableChange change) {
        for (Check old : change.before().checks()) {
            if (alterations.check(change, old) == null) {
                alterations.dropCheck(script, change.before(), old);
            }
        }
        for (UniqueConstraint old : change.before().uniques()) {
            if (change.now(old) == null) {
                alterations.beforeDroppingIndex(script, change, old.columns());
                alterations.dropUnique(script, change.before(), old);
            }
        }
        for (Index old : alterations.dialect.definitions().indexes(change.before())) {
            if (alterations.index(change, old) == null) {
                alterations.beforeDroppingIndex(script, change, old.columns());
                alterations.dropIndex(script, change.before(), old);
            }
        }
    }

    private void renameRules(TableChange change) {
        Table now = change.after();
        if (!change.before().primaryKey().equals(now.primaryKey())
                && change.now(change.before().keyColumns()).equals(now.keyColumns())) {
            alterations.renamePrimaryKey(script, now, change.before().primaryKey());
        }
        for (ForeignKey old : change.before().foreignKeys()) {
            now.foreignKeys().stream()
                    .filter(key -> change.isSame(old, key) && !key.name().equals(old.name()))
                    .filter(key -> !alterations.isInTheWay(change, old))
                    .findFirst()
                    .ifPresent(key -> alterations.renameForeignKey(script, now, old, key));
        }
        for (UniqueConstraint old : change.before().uniques()) {
            UniqueConstraint next = change.now(old);
            if (next != null && !next.name().equals(old.name())) {
                alterations.renameUnique(script, now, old.name(), next);
            }
        }
        for (Index old : alterations.dialect.definitions().indexes(change.before())) {
            Index next = alterations.index(change, old);
            if (next != null && !next.name().equals(old.name())) {
                alterations.renameIndex(script, now, old, next);
            }
        }
        for (Check old : change.before().checks()) {
            Check next = alterations.check(change, old);
            if (next != null && !next.name().equals(old.name())) {
                alterations.renameCheck(script, now, old, next);
            }
        }
    }

    private void addRules(TableChange change) {
        Table before = change.before();
        for (UniqueConstraint one : change.after().uniques()) {
            if (before.uniques().stream().noneMatch(old -> one.equals(change.now(old)))) {
                alterations.addUnique(script, change.after(), one);
            }
        }
        for (Index one : alterations.dialect.definitions().indexes(change.after())) {
            if (alterations.dialect.definitions().indexes(before).stream()
                    .noneMatch(old -> one.equals(alterations.index(change, old)))) {
                alterations.addIndex(script, change.after(), one);
            }
        }
        for (Check one : change.after().checks()) {
            if (before.checks().stream().noneMatch(old -> one == alterations.check(change, old))) {
                alterations.addCheck(script, change.after(), one);
            }
        }
    }

    private void columns(TableChange change) {
        for (Column column : change.after().columns()) {
            Column old = change.then(column).orElse(null);
            if (old == null) {
                alterations.addColumn(script, change, column);
            } else if (!TableChange.isSame(old, column)) {
                alterations.changeColumn(script, change, old, column);
            }
        }
    }

    private void dropColumns(TableChange change) {
        for (Column old : change.before().columns()) {
            if (change.now(old).isEmpty()) {
                alterations.dropColumn(script, change.after(), old);
            }
        }
    }

    private void primaryKey(TableChange change) {
        if (!change.now(change.before().keyColumns()).equals(change.after().keyColumns())) {
            alterations.changePrimaryKey(script, change.before(), change.after());
        }
    }
}
