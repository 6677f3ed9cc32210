package io.bathra.spring;

import io.bathra.junit.Faults;
import javax.sql.DataSource;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.Import;
import org.springframework.jdbc.datasource.DriverManagerDataSource;

/** The office on a data source that fails where a test says. */
@Configuration(proxyBeanMethods = false)
@Import(Office.class)
class FaultyOffice {
    @Bean
    Faults faults() {
        return Faults.in(new DriverManagerDataSource("jdbc:h2:mem:faulty;DB_CLOSE_DELAY=-1"));
    }

    @Bean
    DataSource dataSource(Faults faults) {
        return faults.source();
    }
}
