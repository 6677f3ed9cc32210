package io.bathra.spring;

import io.bathra.Store;
import io.bathra.jackson2.Jackson2;
import io.bathra.jackson3.Jackson3;
import io.bathra.json.EntityJson;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.boot.autoconfigure.condition.ConditionalOnMissingBean;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.annotation.Order;

/**
 * Entities as JSON, where the application has bathra-jackson2 or bathra-jackson3: a bean that writes and reads them, and
 * what makes the application's mapper do so. Where both are there, the newer one makes the bean.
 */
@AutoConfiguration(
        after = BathraAutoConfiguration.class,
        beforeName = {
            "org.springframework.boot.autoconfigure.jackson.JacksonAutoConfiguration",
            "org.springframework.boot.jackson.autoconfigure.JacksonAutoConfiguration",
            "org.springframework.boot.jackson2.autoconfigure.Jackson2AutoConfiguration"
        })
@ConditionalOnClass(EntityJson.class)
@ConditionalOnBean(Store.class)
public class BathraJsonAutoConfiguration {
    /** By Jackson 3. */
    @Configuration(proxyBeanMethods = false)
    @ConditionalOnClass({Jackson3.class, tools.jackson.databind.JacksonModule.class})
    @Order(0)
    static class ByJackson3 {
        @Bean
        @ConditionalOnMissingBean
        EntityJson bathraJson(Store store) {
            return Jackson3.json(store.model());
        }

        @Bean
        tools.jackson.databind.JacksonModule bathraEntities(EntityJson json) {
            return Jackson3.module(json);
        }
    }

    /** By Jackson 2. */
    @Configuration(proxyBeanMethods = false)
    @ConditionalOnClass({Jackson2.class, com.fasterxml.jackson.databind.Module.class})
    @Order(1)
    static class ByJackson2 {
        @Bean
        @ConditionalOnMissingBean
        EntityJson bathraJson2(Store store) {
            return Jackson2.json(store.model());
        }

        @Bean
        com.fasterxml.jackson.databind.Module bathraEntities2(EntityJson json) {
            return Jackson2.module(json);
        }
    }
}
