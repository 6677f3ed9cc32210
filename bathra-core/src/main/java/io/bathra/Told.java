package io.bathra;

import io.bathra.flush.UnitAudience;
import io.bathra.flush.Written;

/** A listener of the user's, who knows this unit of work. */
record Told(UnitOfWork work, UnitListener listener) implements UnitAudience {
    @Override
    public void flushed(Written written) {
        listener.flushed(work, new FlushReport(written));
    }

    @Override
    public void committed(Written written) {
        listener.committed(work, new FlushReport(written, work.unit().position()));
    }

    @Override
    public void rolledBack() {
        listener.rolledBack(work);
    }
}
