package io.bathra.spring;

import io.bathra.trace.Executed;
import io.bathra.trace.StatementListener;
import java.time.Duration;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Logs statements, without their values. */
final class StatementLog implements StatementListener {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra.statements");

    private final boolean all;
    private final @Nullable Duration slowerThan;

    StatementLog(BathraProperties.Log wanted) {
        this.all = wanted.statements();
        this.slowerThan = wanted.slowerThan();
    }

    @Override
    public Ending started(Executed before) {
        return (statement, failure) -> {
            if (slowerThan != null && statement.time().compareTo(slowerThan) > 0) {
                LOG.warn("slow: {}", line(statement, failure));
            } else if (all && LOG.isDebugEnabled()) {
                LOG.debug("{}", line(statement, failure));
            }
        };
    }

    private static String line(Executed statement, @Nullable Throwable failure) {
        String what = failure == null
                ? statement.rows() + " rows"
                : "failed, " + failure.getClass().getSimpleName();
        return String.format(
                Locale.ROOT,
                "unit %d: %s [%s, %.1f ms, for %s]",
                statement.unit(),
                statement.sql(),
                what,
                statement.time().toNanos() / 1e6,
                statement.purpose());
    }
}
