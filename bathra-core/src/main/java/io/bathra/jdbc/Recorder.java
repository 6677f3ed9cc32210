package io.bathra.jdbc;

import io.bathra.text.Cause;
import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.Operation;
import io.bathra.trace.StatementListener;
import io.bathra.trace.StatementListener.Ending;
import io.bathra.trace.Trace;
import java.time.Duration;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** A trace that transactions write, and the one place from which listeners are told of statements. */
public final class Recorder extends Trace {
    private static final Logger LOG = LoggerFactory.getLogger("io.bathra");
    private static final Logger SQL = LoggerFactory.getLogger("io.bathra.sql");
    private static final double NANOS_OF_A_MILLISECOND = 1e6;

    /** Reading the wall clock for each statement would cost more than noting it. */
    private static final Instant THEN = Instant.now();

    private static final long NANOS_THEN = System.nanoTime();

    private final long unit;
    private final @Nullable StatementListener listener;
    private int transaction;
    private int trips;
    private int step;

    /** How many have begun in the trip that is being put together; -1 while each makes a trip of its own. */
    private int together = -1;

    private @Nullable Operation operation;

    /**
     * @param unit the number of the unit whose trace it is
     * @param listener who stands around statements; null for nobody
     */
    public Recorder(long unit, @Nullable StatementListener listener) {
        this.unit = unit;
        this.listener = listener;
    }

    /** The number of the unit. */
    public long unit() {
        return unit;
    }

    /** What begins from now on carries out a step of a plan; 0 for none. */
    void carriesOut(int newStep, @Nullable Operation newOperation) {
        step = newStep;
        operation = newOperation;
    }

    /** What begins from now on is sent together, until all of it has begun. */
    void beginTogether() {
        together = 0;
        trips++;
    }

    /** All that is sent together has begun. */
    void allHaveBegun() {
        together = -1;
    }

    /** Something begins; whoever begins it says how it has ended. */
    Execution begin(Kind kind, CharSequence cause, Shown shown, @Nullable String path) {
        if (kind == Kind.BEGIN) {
            transaction++;
            trips = 0;
        }
        int trip = kind == Kind.BEGIN || kind == Kind.MEMORY ? 0 : together < 0 ? ++trips : trips;
        int part = together < 0 ? 1 : ++together;
        Execution execution = new Execution(kind, cause, shown, path, trip, part);
        if (listener != null) {
            execution.announce(listener);
        }
        return execution;
    }

    /**
     * Something that is executed. It keeps what it was given; words and times are made of that when somebody reads the
     * trace or listens, since few do.
     */
    final class Execution implements Note {
        private final Kind kind;
        private final CharSequence cause;
        private final Shown shown;
        private final @Nullable String path;
        private final int inTransaction = transaction;
        private final int trip;
        private final int part;
        private final int ofStep = step;
        private final @Nullable Operation ofOperation = operation;
        private final String thread = Thread.currentThread().getName();
        private final long start = System.nanoTime();
        private long nanos;
        private long rows;
        private boolean over;
        private @Nullable Ending ending;

        private Execution(Kind kind, CharSequence cause, Shown shown, @Nullable String path, int trip, int part) {
            this.kind = kind;
            this.cause = cause;
            this.shown = shown;
            this.path = path;
            this.trip = trip;
            this.part = part;
        }

        private void announce(StatementListener somebody) {
            try {
                ending = somebody.started(executed());
            } catch (RuntimeException e) {
                LOG.warn("a listener of statements has failed when one was started", e);
            }
        }

        /** It has ended; tells whether it had not before. */
        boolean ended(long newRows) {
            return ended(newRows, System.nanoTime() - start);
        }

        /** The same for what was sent together with another one, whose time is that of the trip. */
        boolean endedAlong(long newRows) {
            return ended(newRows, 0);
        }

        private boolean ended(long newRows, long taken) {
            if (over) {
                return false;
            }
            over = true;
            nanos = taken;
            rows = newRows;
            add(this);
            tell(null);
            if (SQL.isDebugEnabled()) {
                log();
            }
            return true;
        }

        private void log() {
            if (kind == Kind.STATEMENT) {
                SQL.debug(
                        "{} [{} rows, {} ms, {}]",
                        shown.sql(),
                        rows,
                        String.format("%.1f", nanos / NANOS_OF_A_MILLISECOND),
                        Cause.withoutValues(cause));
            } else {
                SQL.debug("{}", shown.sql());
            }
        }

        /** It has failed, unless it had ended before; gives back why. */
        <T extends Throwable> T failed(T failure) {
            if (!over) {
                over = true;
                nanos = System.nanoTime() - start;
                tell(failure);
            }
            return failure;
        }

        private void tell(@Nullable Throwable failure) {
            if (ending != null) {
                try {
                    ending.ended(executed(), failure);
                } catch (RuntimeException e) {
                    LOG.warn("a listener of statements has failed when one had ended", e);
                }
            }
        }

        @Override
        public Kind kind() {
            return kind;
        }

        @Override
        public CharSequence cause() {
            return cause;
        }

        Shown shown() {
            return shown;
        }

        long nanos() {
            return nanos;
        }

        @Override
        public Executed executed() {
            return new Executed(
                    unit,
                    inTransaction,
                    trip,
                    part,
                    ofStep,
                    kind,
                    ofOperation,
                    ofOperation == null ? null : shown.table(),
                    shown.sql(),
                    path,
                    rows,
                    THEN.plusNanos(start - NANOS_THEN),
                    Duration.ofNanos(nanos),
                    thread,
                    Cause.withoutValues(cause),
                    Cause.fix(cause));
        }
    }
}
