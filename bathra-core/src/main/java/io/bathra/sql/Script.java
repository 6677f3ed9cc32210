package io.bathra.sql;

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
        statements.add(new StepSql(sql, lock, work, transactional, false, false));
    }

    /** Rows are written, which a rollback always takes back. */
    void rows(String sql, Work work) {
        statements.add(new StepSql(sql, rowLocks, work, true, false, false));
    }

    /** Rows are written some at a time. */
    void portions(String sql) {
        statements.add(new StepSql(sql, rowLocks, Work.SCAN, true, false, true));
    }

    void alone(String sql, String lock, Work work) {
        statements.add(new StepSql(sql, lock, work, false, true, false));
    }

    List<StepSql> list() {
        return List.copyOf(statements);
    }
}
