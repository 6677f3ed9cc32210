package io.bathra.spring;

import io.bathra.Store;
import io.bathra.error.BathraException;
import org.springframework.boot.actuate.autoconfigure.endpoint.condition.ConditionalOnAvailableEndpoint;
import org.springframework.boot.actuate.endpoint.annotation.Endpoint;
import org.springframework.boot.actuate.info.InfoContributor;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** Health, information and an endpoint with the open units, where the application has the actuator. */
@AutoConfiguration(after = BathraAutoConfiguration.class)
@ConditionalOnClass(Endpoint.class)
@ConditionalOnBean({Store.class, OpenUnits.class})
public class BathraActuatorAutoConfiguration {
    private static final String HEALTH = "management.health.bathra";

    @Bean
    StoreState bathraStoreState(Store store, OpenUnits units) {
        return new StoreState(store, units);
    }

    /** The endpoint with the open units. */
    @Bean
    @ConditionalOnAvailableEndpoint(endpoint = UnitsEndpoint.class)
    UnitsEndpoint bathraUnitsEndpoint(StoreState state, OpenUnits units) {
        return new UnitsEndpoint(state, units);
    }

    /** The model and the database among the information. */
    @Bean
    @ConditionalOnProperty(prefix = "management.info.bathra", name = "enabled", matchIfMissing = true)
    InfoContributor bathraInfoContributor(StoreState state) {
        return builder -> builder.withDetail("bathra", state.what());
    }

    /** Health in Spring Boot 3. */
    @Configuration(proxyBeanMethods = false)
    @ConditionalOnClass(name = "org.springframework.boot.actuate.health.HealthIndicator")
    @ConditionalOnProperty(prefix = HEALTH, name = "enabled", matchIfMissing = true)
    static class HealthOfBoot3 {
        @Bean
        org.springframework.boot.actuate.health.HealthIndicator bathraHealthIndicator(StoreState state) {
            return () -> {
                BathraException failure = state.failure();
                return (failure == null
                                ? org.springframework.boot.actuate.health.Health.up()
                                : org.springframework.boot.actuate.health.Health.down(failure))
                        .withDetails(state.now())
                        .build();
            };
        }
    }

    /** Health in Spring Boot 4, where it is elsewhere. */
    @Configuration(proxyBeanMethods = false)
    @ConditionalOnClass(name = "org.springframework.boot.health.contributor.HealthIndicator")
    @ConditionalOnProperty(prefix = HEALTH, name = "enabled", matchIfMissing = true)
    static class HealthOfBoot4 {
        @Bean
        org.springframework.boot.health.contributor.HealthIndicator bathraHealthIndicator(StoreState state) {
            return () -> {
                BathraException failure = state.failure();
                return (failure == null
                                ? org.springframework.boot.health.contributor.Health.up()
                                : org.springframework.boot.health.contributor.Health.down(failure))
                        .withDetails(state.now())
                        .build();
            };
        }
    }
}
