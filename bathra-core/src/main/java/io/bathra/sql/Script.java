package io.bathra.sql;

import io.bathra.sql.StepSql.Role;
import io.bathra.sql.StepSql.Work;
import java.util.ArrayList;
import java.util.List;

/** What is executed for one step, as it is collected. */
final class Script {
    private final boolean transactional;
    private final String rowLocks;
    private final List<StepSql> statements = new ArrayList<>();

    /**
     * @param transactional whether definitions are taken back with a transaction
     * @param rowLocks what a statement that writes rows holds
     */
    Script(boolean transactional, String rowLocks) {
        this.transactional = transactional;
        this.rowLocks = rowLocks;
    }

    void add(String sql, String lock, Work work) {
        gently(sql, List.of(), lock, work);
    }

    /** With what may be appended so that others are disturbed less. */
    void gently(String sql, List<String> options, String lock, Work work) {
        statements.add(new StepSql(sql, options, lock, work, transactional, Role.PLAIN));
    }

    /** Rows are written, which a rollback always takes back. */
    void rows(String sql, Work work) {
        statements.add(new StepSql(sql, List.of(), rowLocks, work, true, Role.PLAIN));
    }

    /** Rows are written some at a time. */
    void portions(String sql) {
        statements.add(new StepSql(sql, List.of(), rowLocks, Work.REWRITE, true, Role.PORTIONS));
    }

    /** Rows of which there must be none: what is wrong with them, and then what tells them. Nobody reads more than some. */
    void noRows(String question) {
        statements.add(new StepSql(
                question + " limit " + StepSql.MOST_ROWS, List.of(), "nothing", Work.SCAN, true, Role.NO_ROWS));
    }

    /** Texts are asked for that get lost. */
    void kept(String question) {
        statements.add(new StepSql(question, List.of(), "nothing", Work.NOTHING, true, Role.KEPT));
    }

    /** With a role that no rollback reaches. */
    void as(Role role, String sql, String lock, Work work) {
        statements.add(new StepSql(sql, List.of(), lock, work, false, role));
    }

    List<StepSql> list() {
        return List.copyOf(statements);
    }
}
