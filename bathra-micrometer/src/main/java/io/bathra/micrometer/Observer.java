package io.bathra.micrometer;

import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import io.bathra.trace.StatementListener;
import io.bathra.trace.StoreListener;
import io.micrometer.common.KeyValue;
import io.micrometer.common.KeyValues;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.observation.Observation;
import io.micrometer.observation.ObservationRegistry;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Hears of all units and statements of one store. */
final class Observer implements StatementListener, StoreListener {
    private static final String NONE = "none";
    private static final KeyValue NO_ERROR = KeyValue.of("error.type", NONE);

    /** A statement that runs so often in one unit is no loop. */
    private static final int FEW = 3;

    /** Statements of a program have few shapes; of one that has more, the others are read anew each time. */
    private static final int REMEMBERED = 2_000;

    private final ObservationRegistry registry;
    private final @Nullable MeterRegistry meters;
    private final boolean texts;
    private final KeyValue system;
    private final Map<String, Shape> shapes = new ConcurrentHashMap<>();
    private final Map<Long, Open> open = new ConcurrentHashMap<>();

    /** What is told of a statement whoever executes it. */
    private static final class Shape {
        final String summary;
        final String name;
        final KeyValues keys;

        Shape(Summary summary, KeyValue system) {
            this.summary = summary.toString();
            this.name = this.summary.toLowerCase(Locale.ROOT); // tracers put a hyphen before each capital
            this.keys = KeyValues.of(
                    system,
                    KeyValue.of("db.operation.name", summary.operation()),
                    KeyValue.of("db.collection.name", summary.collection() == null ? NONE : summary.collection()),
                    KeyValue.of("db.query.summary", this.summary));
        }
    }

    /** A unit that is open; used by one thread at a time. */
    private static final class Open {
        final Observation unit;
        final Map<String, Integer> times = new HashMap<>();

        @Nullable
        Observation flush;

        Open(Observation unit) {
            this.unit = unit;
        }

        /** Begins an observation within the flush, or the unit, that is under way: tracers go by what is in scope. */
        Observation within(Supplier<Observation> start) {
            Observation.Scope scope = (flush != null ? flush : unit).openScope();
            try {
                return start.get();
            } finally {
                scope.close();
            }
        }
    }

    Observer(ObservationRegistry registry, @Nullable MeterRegistry meters, boolean texts, String system) {
        this.registry = registry;
        this.meters = meters;
        this.texts = texts;
        this.system = KeyValue.of("db.system.name", system);
        if (meters != null) {
            Gauge.builder(Observations.OPEN_UNITS, open, Map::size)
                    .description("units of work that are open")
                    .tag("db.system.name", system)
                    .register(meters);
        }
    }

    // ---- statements

    @Override
    public @Nullable Ending started(Executed before) {
        Kind kind = before.kind();
        if (kind == Kind.MEMORY || kind == Kind.BEGIN) {
            return null; // nothing goes to the database
        }
        Shape shape = shape(kind == Kind.STATEMENT ? before.sql() : kind.name());
        Open unit = open.get(before.unit());
        if (unit != null && kind == Kind.STATEMENT) {
            count(unit, before.sql(), shape);
        }
        Observation observation = unit == null ? begin(shape) : unit.within(() -> begin(shape));
        if (texts) {
            observation.highCardinalityKeyValue("db.query.text", before.sql());
        }
        return (statement, failure) -> {
            observation.highCardinalityKeyValue("db.response.returned_rows", Long.toString(statement.rows()));
            stop(observation, failure);
        };
    }

    private Shape shape(String sql) {
        Shape known = shapes.get(sql);
        if (known == null) {
            known = new Shape(Summary.of(sql), system);
            if (shapes.size() < REMEMBERED) {
                shapes.put(sql, known);
            }
        }
        return known;
    }

    private Observation begin(Shape shape) {
        return Observation.createNotStarted(Observations.STATEMENT, registry)
                .contextualName(shape.name)
                .lowCardinalityKeyValues(shape.keys)
                .start();
    }

    private void count(Open unit, String sql, Shape shape) {
        if (meters != null && unit.times.merge(sql, 1, Integer::sum) > FEW) {
            meters.counter(Observations.REPEATED, "db.query.summary", shape.summary)
                    .increment();
        }
    }

    private static void stop(Observation observation, @Nullable Throwable failure) {
        observation.lowCardinalityKeyValue(
                failure == null
                        ? NO_ERROR
                        : KeyValue.of("error.type", failure.getClass().getName()));
        if (failure != null) {
            observation.error(failure);
        }
        observation.stop();
    }

    // ---- units and flushes

    @Override
    public void begun(Unit unit) {
        Observation observation = Observation.createNotStarted(Observations.UNIT, registry)
                .contextualName(unit.readOnly() ? "unit that reads" : "unit of work")
                .lowCardinalityKeyValue(system)
                .lowCardinalityKeyValue("bathra.unit.reads", Boolean.toString(unit.readOnly()))
                .lowCardinalityKeyValue("bathra.unit.hosted", Boolean.toString(unit.guest()))
                .start();
        open.put(unit.number(), new Open(observation));
    }

    @Override
    public void flushing(Unit unit) {
        Open one = open.get(unit.number());
        if (one != null) {
            one.flush = one.within(() -> Observation.createNotStarted(Observations.FLUSH, registry)
                    .contextualName("flush")
                    .lowCardinalityKeyValue(system)
                    .start());
        }
    }

    @Override
    public void flushed(Unit unit) {
        endFlush(unit, null);
    }

    @Override
    public void flushFailed(Unit unit, Throwable failure) {
        endFlush(unit, failure);
    }

    private void endFlush(Unit unit, @Nullable Throwable failure) {
        Open one = open.get(unit.number());
        if (one != null && one.flush != null) {
            one.flush.highCardinalityKeyValue("bathra.flush.inserted", Integer.toString(unit.inserted()));
            one.flush.highCardinalityKeyValue("bathra.flush.updated", Integer.toString(unit.updated()));
            one.flush.highCardinalityKeyValue("bathra.flush.deleted", Integer.toString(unit.deleted()));
            stop(one.flush, failure);
            one.flush = null;
        }
    }

    @Override
    public void closed(Unit unit, @Nullable Throwable failure) {
        Open one = open.remove(unit.number());
        if (one != null) {
            one.unit.highCardinalityKeyValue("bathra.unit.tracked", Integer.toString(unit.tracked()));
            stop(one.unit, failure);
        }
    }
}
