package io.bathra.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.micrometer.Observations;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.core.instrument.observation.DefaultMeterObservationHandler;
import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import io.micrometer.observation.ObservationRegistry;
import org.junit.jupiter.api.Test;

/** A store that is observed without Spring. */
class ObservedTest {
    @Test
    void statementsAreTimed() {
        MeterRegistry meters = new SimpleMeterRegistry();
        ObservationRegistry observations = ObservationRegistry.create();
        observations.observationConfig().observationHandler(new DefaultMeterObservationHandler(meters));
        try (Store store = Store.open(Booking.MODEL, "jdbc:h2:mem:observed")) {
            store.schema().createMissing();
            Store observed = Observations.of(observations).counting(meters).on(store);
            observed.run(work -> work.add(new Booking("26-000001", "Skua", "B1")));
        }
        assertThat(meters.get("db.client.operation.duration")
                        .tag("db.query.summary", "INSERT booking")
                        .timer()
                        .count())
                .isEqualTo(1);
    }
}
