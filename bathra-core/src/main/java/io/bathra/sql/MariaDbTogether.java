package io.bathra.sql;

import java.math.BigDecimal;
import java.util.List;
import java.util.StringJoiner;

/** MariaDB takes a block of statements. */
final class MariaDbTogether extends Together {
    /** The number of the part that is being executed. */
    private static final String PART = "@bathra_part";

    private static final String NO_WAIT = " nowait";

    /** The server takes a block apart in a time that grows faster than the block. */
    private static final int MOST = 32;

    @Override
    public int most() {
        return MOST;
    }

    @Override
    String written(List<String> before, List<Part> parts, List<String> after) {
        StringBuilder block = new StringBuilder("begin not atomic ");
        before.forEach(one -> block.append(one).append("; "));
        for (int i = 0; i < parts.size(); i++) {
            Part part = parts.get(i);
            block.append("set ").append(PART).append(" = ").append(i + 1).append("; ");
            block.append(part.sql()).append("; ");
            if (part.rows() >= 0) {
                block.append("if row_count() <> ").append(part.rows()).append(" then signal sqlstate '45000' set");
                block.append(" message_text = '").append(MISSED).append(i + 1);
                block.append("', mysql_errno = 30001; end if; ");
            }
        }
        if (!after.isEmpty()) {
            block.append("set ")
                    .append(PART)
                    .append(" = ")
                    .append(parts.size() + 1)
                    .append("; ");
        }
        after.forEach(one -> block.append(one).append("; "));
        return block.append("end").toString();
    }

    @Override
    public String lastPart() {
        return "select " + PART;
    }

    @Override
    public boolean guardsInserts() {
        return false;
    }

    @Override
    public boolean guardsAnswer() {
        return false;
    }

    /** A block takes no locks without waiting for them. */
    @Override
    public boolean takes(String query) {
        return !query.endsWith(NO_WAIT);
    }

    @Override
    String read(List<String> before, List<String> queries) {
        return before.isEmpty() && queries.size() == 1 ? queries.get(0) : block(before, queries);
    }

    /** A level that nothing has taken up would hold for the next transaction, so both go over together. */
    @Override
    public List<String> opening(Opening opening) {
        String start = (opening.upToDate() ? MariaDbDialect.SEEING_ALL : "")
                + (opening.readOnly() ? "start transaction read only" : "start transaction");
        return opening.level().isEmpty()
                ? List.of(start)
                : List.of("set transaction isolation level " + opening.level(), start);
    }

    /** The server knows limits of a session and of a statement. Locks are waited for in whole seconds, one at least. */
    @Override
    public String beforeEach(Opening opening) {
        StringJoiner limits = new StringJoiner(", ", "set statement ", " for ").setEmptyValue("");
        if (opening.lockMillis() > 0) {
            limits.add("innodb_lock_wait_timeout = " + (opening.lockMillis() + 999) / 1_000);
        }
        if (opening.statementMillis() > 0) {
            limits.add("max_statement_time = " + BigDecimal.valueOf(opening.statementMillis(), 3));
        }
        return limits.toString();
    }

    @Override
    public String all(List<String> statements) {
        return statements.size() == 1 ? statements.get(0) : block(statements, List.of());
    }

    private static String block(List<String> first, List<String> then) {
        StringBuilder block = new StringBuilder("begin not atomic ");
        first.forEach(one -> block.append(one).append("; "));
        then.forEach(one -> block.append(one).append("; "));
        return block.append("end").toString();
    }
}
