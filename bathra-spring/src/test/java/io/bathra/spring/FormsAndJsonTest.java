package io.bathra.spring;

import static org.assertj.core.api.Assertions.assertThat;

import io.bathra.Store;
import io.bathra.error.Problem;
import io.bathra.json.EntityJson;
import io.bathra.json.JsonShape;
import io.bathra.json.Shaped;
import io.bathra.spring.Boats.Boat;
import io.bathra.spring.Boats.Visit;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.annotation.Import;
import org.springframework.context.i18n.LocaleContextHolder;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.validation.FieldError;
import org.springframework.validation.MapBindingResult;
import org.springframework.validation.ObjectError;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/** Entities leave controllers and come into them as JSON; problems of forms become Spring's. */
class FormsAndJsonTest {
    private static final JsonShape<Visit> VISIT =
            JsonShape.of(Visit.class).with(Visit::boat, JsonShape.of(Boat.class).without(Boat::revision));

    @RestController
    @Transactional
    public static class Controller {
        private final Units units;
        private final EntityJson json;

        Controller(Units units, EntityJson json) {
            this.units = units;
            this.json = json;
        }

        @GetMapping("/boats")
        public List<Boat> boats() {
            return units.here().from(Boat.class).list();
        }

        @GetMapping("/visits")
        public Shaped visits() {
            return VISIT.showAll(
                    units.here().from(Visit.class).alongWith(Visit::boat).list());
        }

        @PostMapping("/visits")
        public List<String> add(@RequestBody byte[] body) {
            var received = json.read(JsonShape.of(Visit.class), new java.io.ByteArrayInputStream(body));
            if (received.problems().isEmpty()) {
                units.here().add(received.orThrow());
            }
            return received.problems().stream()
                    .map(problem -> problem.attribute() + " " + problem.words(Locale.ENGLISH))
                    .toList();
        }
    }

    @Import(Controller.class)
    static class Harbour extends Office {}

    private static HttpResponse<String> send(int port, String path, String body) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                .header("Content-Type", "application/json");
        return HttpClient.newHttpClient()
                .send(
                        body == null
                                ? request.build()
                                : request.POST(BodyPublishers.ofString(body)).build(),
                        BodyHandlers.ofString());
    }

    @Test
    void entitiesComeAndGo() throws Exception {
        try (ConfigurableApplicationContext office = new SpringApplicationBuilder(Harbour.class)
                .properties(
                        "spring.datasource.url=jdbc:h2:mem:json",
                        "bathra.tables=make-missing",
                        "spring.main.banner-mode=off",
                        "server.port=0",
                        "server.address=127.0.0.1")
                .run()) {
            int port = Integer.parseInt(office.getEnvironment().getRequiredProperty("local.server.port"));
            office.getBean(Store.class).run(work -> work.add(new Boat("Skua")));
            assertThat(send(port, "/boats", null).body())
                    .isEqualTo("[{\"id\":1,\"name\":\"Skua\",\"calls\":0,\"revision\":0}]");
            assertThat(send(port, "/visits", "{\"boat\":1,\"remark\":\"far too long\",\"id\":3}")
                            .body())
                    .isEqualTo("[\"id cannot be set\",\"remark may have at most 10 characters\"]");
            assertThat(send(port, "/visits", "{\"boat\":1,\"remark\":\"short\"}")
                            .body())
                    .isEqualTo("[]");
            assertThat(send(port, "/visits", null).body())
                    .isEqualTo("[{\"id\":1,\"remark\":\"short\",\"boat\":{\"id\":1,\"name\":\"Skua\",\"calls\":0}}]");
        }
    }

    @Test
    void problemsBecomeErrorsOfTheForm() {
        Store store = Store.open(Boats.MODEL, "jdbc:h2:mem:forms;DB_CLOSE_DELAY=-1");
        store.schema().createMissing();
        Map<String, String> form = Map.of("name", "a name that is far too long", "calls", "many");
        List<Problem> problems = store.call(work -> work.bind(new Boat(), form, Boat::name, Boat::calls));
        MapBindingResult result = new MapBindingResult(form, "boat");
        LocaleContextHolder.setLocale(Locale.GERMAN);
        try {
            FormProblems.tell(problems, result);
            FormProblems.tell(
                    List.of(new Problem("Boat", "name+calls", null, io.bathra.error.Flaw.other("do not fit"))), result);
        } finally {
            LocaleContextHolder.resetLocaleContext();
        }
        FieldError name = result.getFieldError("name");
        assertThat(name.getDefaultMessage()).isEqualTo("darf h\u00f6chstens 20 Zeichen haben");
        assertThat(name.getCodes()).contains("too-long.boat.name", "too-long");
        assertThat(name.getArguments()).containsExactly(20);
        assertThat(name.getRejectedValue()).isEqualTo("a name that is far too long");
        assertThat(name.isBindingFailure()).isFalse();
        assertThat(result.getFieldError("calls").isBindingFailure()).isTrue();
        assertThat(result.getGlobalErrors())
                .extracting(ObjectError::getDefaultMessage)
                .containsExactly("name+calls ist nicht zul\u00e4ssig");
    }
}
