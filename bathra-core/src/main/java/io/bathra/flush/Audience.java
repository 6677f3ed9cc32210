package io.bathra.flush;

import io.bathra.error.AfterCommitException;
import java.util.ArrayList;
import java.util.List;

/** All who are told of what becomes of a unit's transaction, and what is to be told when it is committed. */
final class Audience {
    private final List<UnitAudience> listening = new ArrayList<>(0);

    /** What is to be told when the transaction is committed. */
    private final List<Runnable> afterCommit = new ArrayList<>(0);

    void add(UnitAudience one) {
        listening.add(one);
    }

    /** Whether anybody is told as soon as rows are written. */
    boolean hears() {
        return !listening.isEmpty();
    }

    void tellAfterCommit(List<Runnable> more) {
        if (!more.isEmpty()) {
            afterCommit.addAll(more);
        }
    }

    /** How many are to be told after the commit. */
    int waiting() {
        return afterCommit.size();
    }

    /** Forgets those who were to be told of what was done later than this many. */
    void forgetAfter(int waiting) {
        if (waiting < afterCommit.size()) {
            afterCommit.subList(waiting, afterCommit.size()).clear();
        }
    }

    void flushed(Written written) {
        if (!listening.isEmpty()) {
            listening.forEach(one -> one.flushed(written));
        }
    }

    /** Tells all; one's failure keeps no other from being told. */
    void committed(Written written) {
        if (afterCommit.isEmpty() && listening.isEmpty()) {
            return; // as in most units
        }
        List<Runnable> toTell = new ArrayList<>(afterCommit);
        afterCommit.clear();
        listening.forEach(one -> toTell.add(() -> one.committed(written)));
        RuntimeException failure = null;
        for (Runnable one : toTell) {
            try {
                one.run();
            } catch (RuntimeException e) {
                if (failure == null) {
                    failure = new AfterCommitException(e);
                } else {
                    failure.addSuppressed(e);
                }
            }
        }
        if (failure != null) {
            throw failure;
        }
    }

    void rolledBack() {
        listening.forEach(UnitAudience::rolledBack);
    }
}
