package io.bathra.micrometer;

import io.bathra.Store;
import io.bathra.trace.StatementListener;
import io.bathra.trace.StoreListener;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.observation.ObservationRegistry;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * Units of work, their flushes and their statements as observations: each unit within what is observed where it
 * begins, a request say; flushes within their unit, statements within their flush or unit. Statements have the names
 * and keys of OpenTelemetry's semantic conventions for database clients
 * (https://opentelemetry.io/docs/specs/semconv/database/), with {@code error.type} always set, to {@code none} where
 * nothing has failed, since some systems want the same keys each time.
 *
 * <pre>{@code
 * Store observed = Observations.of(observationRegistry).counting(meterRegistry).on(store);
 * }</pre>
 *
 * <p>The text of a statement is left out unless it is asked for; values are never told. Immutable.
 */
public final class Observations {
    /** The observation of a statement, and the name of its timer. */
    public static final String STATEMENT = "db.client.operation.duration";

    /** The observation of a unit of work. */
    public static final String UNIT = "bathra.unit";

    /** The observation of a flush. */
    public static final String FLUSH = "bathra.flush";

    /** The gauge of units that are open. */
    public static final String OPEN_UNITS = "bathra.units.open";

    /** The counter of statements that have run more than a few times in one unit. */
    public static final String REPEATED = "bathra.statements.repeated";

    private final ObservationRegistry registry;
    private final @Nullable MeterRegistry meters;
    private final boolean texts;

    private Observations(ObservationRegistry registry, @Nullable MeterRegistry meters, boolean texts) {
        this.registry = registry;
        this.meters = meters;
        this.texts = texts;
    }

    /**
     * Observations that go to a registry.
     *
     * @param registry where meters are kept
     * @return what makes observations
     */
    public static Observations of(ObservationRegistry registry) {
        return new Observations(registry, null, false);
    }

    /**
     * {@return the same, with the counter of repeated statements and the gauge of open units}
     *
     * @param newMeters the meters
     */
    public Observations counting(MeterRegistry newMeters) {
        return new Observations(registry, newMeters, texts);
    }

    /** {@return the same, with the text of each statement, without its values, as {@code db.query.text}} */
    public Observations withTexts() {
        return new Observations(registry, meters, true);
    }

    /**
     * {@return the same store, observed}
     *
     * @param store the store
     */
    public Store on(Store store) {
        if (registry.isNoop() && meters == null) {
            return store; // nobody hears
        }
        Observer observer = new Observer(registry, meters, texts, systemName(store.databaseName()));
        return store.heardBy((StatementListener) observer).heardBy((StoreListener) observer);
    }

    /** OpenTelemetry's name for a product. */
    private static String systemName(String product) {
        String name = product.toLowerCase(Locale.ROOT);
        return name.equals("h2") ? "h2database" : name;
    }
}
