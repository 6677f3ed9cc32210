package io.bathra.spring;

import io.bathra.micrometer.Observations;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.observation.ObservationRegistry;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.context.annotation.Bean;

/** Observations of the store, where the application has bathra-micrometer and an observation registry. */
@AutoConfiguration(
        before = BathraAutoConfiguration.class,
        afterName = {
            "org.springframework.boot.actuate.autoconfigure.observation.ObservationAutoConfiguration",
            "org.springframework.boot.micrometer.observation.autoconfigure.ObservationAutoConfiguration",
            "org.springframework.boot.actuate.autoconfigure.metrics.CompositeMeterRegistryAutoConfiguration",
            "org.springframework.boot.micrometer.metrics.autoconfigure.CompositeMeterRegistryAutoConfiguration"
        })
@ConditionalOnClass({Observations.class, ObservationRegistry.class})
@ConditionalOnBean(ObservationRegistry.class)
public class BathraObservationAutoConfiguration {

    /** The store is observed. */
    @Bean
    StoreSetup bathraObservations(
            ObservationRegistry registry, ObjectProvider<MeterRegistry> meters, BathraProperties properties) {
        return store -> {
            Observations observations = Observations.of(registry);
            MeterRegistry counting = meters.getIfUnique();
            if (counting != null) {
                observations = observations.counting(counting);
            }
            return (properties.observations().texts() ? observations.withTexts() : observations).on(store);
        };
    }
}
