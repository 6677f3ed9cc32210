package io.bathra.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.StringJoiner;

/** PostgreSQL takes statements behind one another. */
final class PostgresTogether extends Together {
    /** Between two replies the driver sends so many that they fit into any buffer on the way. */
    private static final int MOST = 64;

    @Override
    public int most() {
        return MOST;
    }

    @Override
    String written(List<String> before, List<Part> parts, List<String> after) {
        StringJoiner all = new StringJoiner("; ");
        before.forEach(all::add);
        for (int i = 0; i < parts.size(); i++) {
            all.add(guarded(parts.get(i), i + 1));
        }
        after.forEach(all::add);
        return all.toString();
    }

    /** A trigger may hold rows back. */
    @Override
    public boolean guardsInserts() {
        return true;
    }

    @Override
    public boolean guardsAnswer() {
        return true;
    }

    /**
     * What is not as it should be is cast to a number, which it is not: that fails before the next part begins. The count
     * is in the text, or the server would cast it before it counts.
     */
    private static String guarded(Part part, int number) {
        return part.rows() < 0
                ? part.sql()
                : "with u as (" + part.sql() + " returning 1) select case when count(*) = " + part.rows()
                        + " then 1 else cast('" + MISSED + number + ":' || count(*) as integer) end from u";
    }

    @Override
    String read(List<String> before, List<String> queries) {
        return before.isEmpty() ? all(queries) : all(before) + "; " + all(queries);
    }

    /** To the driver, a transaction begins with whatever is executed first. */
    @Override
    public List<String> opening(Opening opening) {
        List<String> all = new ArrayList<>(3);
        if (!opening.level().isEmpty()) {
            all.add("set transaction isolation level " + opening.level());
        }
        if (opening.lockMillis() > 0) {
            all.add("set local lock_timeout = " + opening.lockMillis());
        }
        if (opening.statementMillis() > 0) {
            all.add("set local statement_timeout = " + opening.statementMillis());
        }
        return all;
    }

    @Override
    public String all(List<String> statements) {
        return String.join("; ", statements);
    }
}
