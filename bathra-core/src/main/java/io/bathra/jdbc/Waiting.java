package io.bathra.jdbc;

import io.bathra.jdbc.Recorder.Execution;
import io.bathra.trace.Executed.Kind;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What a transaction has decided to execute, and what can wait for the next statement and go over with it: how it
 * begins, and its savepoints.
 */
final class Waiting {
    /**
     * One of them.
     *
     * @param kind begin or savepoint
     * @param savepoint the savepoint that it sets; 0 for none
     * @param cause why it is executed; null for what no trace tells of
     */
    private record One(Kind kind, int savepoint, @Nullable CharSequence cause, Shown shown, String sql) {}

    private final Recorder trace;
    private List<One> all = List.of();

    Waiting(Recorder trace) {
        this.trace = trace;
    }

    private void add(One one) {
        all = all.isEmpty() ? new ArrayList<>(3) : all;
        all.add(one);
    }

    /** The transaction has still to begin by these statements. */
    void begin(List<String> opening) {
        for (String sql : opening) {
            add(new One(Kind.BEGIN, 0, null, Shown.own(sql, null), sql));
        }
    }

    /** Something is to be executed before a savepoint, so that it is kept. */
    void first(String sql) {
        add(new One(Kind.STATEMENT, 0, null, Shown.own(sql, null), sql));
    }

    /** A savepoint is to be set. */
    void set(CharSequence cause, Shown shown, String name, int number) {
        add(new One(Kind.SAVEPOINT, number, cause, shown, "savepoint " + name));
    }

    /** A savepoint is of no use any more. */
    void release(CharSequence cause, Shown shown, String name, int number) {
        if (!forgetFrom(number)) {
            add(new One(Kind.SAVEPOINT, 0, cause, shown, "release savepoint " + name));
        }
    }

    /** The transaction goes back to a savepoint; tells whether nothing has to be executed, since it was never set. */
    boolean backTo(int number) {
        for (int i = 0; i < all.size(); i++) {
            if (all.get(i).savepoint == number) {
                all.subList(i + 1, all.size()).clear();
                return true;
            }
        }
        all = List.of();
        return false;
    }

    /** Forgets that a savepoint was to be set, and all behind it; tells whether there was such. */
    private boolean forgetFrom(int number) {
        for (int i = 0; i < all.size(); i++) {
            if (all.get(i).savepoint == number) {
                all.subList(i, all.size()).clear();
                return true;
            }
        }
        return false;
    }

    /** Whether the transaction has not begun at the server. */
    boolean isToBegin() {
        return !all.isEmpty() && all.get(0).kind == Kind.BEGIN;
    }

    boolean isEmpty() {
        return all.isEmpty();
    }

    void clear() {
        all = List.of();
    }

    /** All of it is about to be executed, with something behind it in the same trip. */
    Going go() {
        List<One> going = all;
        all = List.of();
        List<String> sql = new ArrayList<>(going.size());
        List<Execution> executions = new ArrayList<>(going.size());
        for (One one : going) {
            sql.add(one.sql);
            if (one.cause != null) {
                executions.add(trace.begin(one.kind, one.cause, one.shown, null));
            }
        }
        return new Going(sql, executions, this, going);
    }

    /**
     * What is being executed.
     *
     * @param sql the statements
     * @param executions those that a trace tells of
     * @param from where it has waited
     * @param all what has waited
     */
    record Going(List<String> sql, List<Execution> executions, Waiting from, List<One> all) {
        /** Whether the transaction begins with it. */
        boolean opens() {
            return !all.isEmpty() && all.get(0).kind == Kind.BEGIN;
        }

        /** The first savepoint that is set; none in most cases, which is more than all numbers. */
        int firstSavepoint() {
            for (One one : all) {
                if (one.savepoint > 0) {
                    return one.savepoint;
                }
            }
            return Integer.MAX_VALUE;
        }

        /** None of it was executed, so it waits again. */
        void waitAgain() {
            from.all = new ArrayList<>(all);
        }

        void ended() {
            for (Execution one : executions) {
                one.endedAlong(0);
            }
        }

        void failed(Throwable failure) {
            for (Execution one : executions) {
                one.failed(failure);
            }
        }
    }
}
