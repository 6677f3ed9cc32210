package io.bathra.spring;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.spring.Boats.Boat;
import io.bathra.spring.Office.Desk;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import org.junit.jupiter.api.Test;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ConfigurableApplicationContext;

/** What operations see. */
class ActuatorTest {
    private static String get(int port, String path) throws Exception {
        return HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/actuator/" + path))
                                .build(),
                        BodyHandlers.ofString())
                .body();
    }

    @Test
    void healthInformationAndOpenUnits() throws Exception {
        try (ConfigurableApplicationContext office = new SpringApplicationBuilder(Office.class)
                .properties(
                        "spring.datasource.url=jdbc:h2:mem:actuator",
                        "bathra.tables=make-missing",
                        "spring.main.banner-mode=off",
                        "server.port=0",
                        "server.address=127.0.0.1",
                        "management.endpoints.web.exposure.include=health,info,bathra,metrics",
                        "management.endpoint.health.show-details=always")
                .run()) {
            int port = Integer.parseInt(office.getEnvironment().getRequiredProperty("local.server.port"));
            assertThat(get(port, "health"))
                    .contains("\"bathra\":{")
                    .containsPattern("\"bathra\":\\{[^}]*\"database\":\"H2\",\"openUnits\":0");
            assertThat(get(port, "info"))
                    .contains("\"bathra\":{\"model\":\"boats\",\"entities\":2,\"database\":\"H2\"}");
            office.getBean(Desk.class).work(work -> {
                work.add(new Boat("Skua"));
                work.flush();
                try {
                    assertThat(get(port, "bathra"))
                            .contains("\"model\":\"boats\"")
                            .contains("\"hosted\":true")
                            .contains("\"tracked\":1")
                            .contains("\"written\":1")
                            .contains("\"thread\":\"main\"");
                    assertThat(get(port, "health")).contains("\"openUnits\":1").contains("oldestOpenFor");
                } catch (Exception e) {
                    throw new IllegalStateException(e);
                }
            });
            assertThat(get(port, "bathra")).contains("\"open\":[]");
            assertThat(get(port, "metrics/db.client.operation.duration?tag=db.operation.name:INSERT"))
                    .contains("\"statistic\":\"COUNT\",\"value\":1.0");
            assertThat(get(port, "metrics/bathra.units.open")).contains("\"value\":0.0");
        }
    }
}
