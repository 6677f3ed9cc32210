package io.bathra.micrometer;

import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.UniqueViolation;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.micrometer.core.instrument.Timer;
import io.micrometer.core.instrument.observation.DefaultMeterObservationHandler;
import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import io.micrometer.observation.Observation;
import io.micrometer.observation.ObservationRegistry;
import io.micrometer.tracing.handler.DefaultTracingObservationHandler;
import io.micrometer.tracing.otel.bridge.OtelCurrentTraceContext;
import io.micrometer.tracing.otel.bridge.OtelTracer;
import io.opentelemetry.api.common.AttributeKey;
import io.opentelemetry.api.trace.StatusCode;
import io.opentelemetry.sdk.testing.exporter.InMemorySpanExporter;
import io.opentelemetry.sdk.trace.SdkTracerProvider;
import io.opentelemetry.sdk.trace.data.SpanData;
import io.opentelemetry.sdk.trace.export.SimpleSpanProcessor;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What a real OpenTelemetry SDK gets. */
class ObservationsTest {
    static final class Boat {
        private Long id;
        private String name = "";

        Boat() {}

        Boat(String name) {
            this.name = name;
        }

        Long id() {
            return id;
        }

        String name() {
            return name;
        }
    }

    private static final Model MODEL =
            Model.of("boats", Entity.of(Boat.class, Boat::new).column(Boat::name, required(), length(20), unique()));
    private static final AtomicInteger NUMBERS = new AtomicInteger();

    private final InMemorySpanExporter spans = InMemorySpanExporter.create();
    private final SimpleMeterRegistry meters = new SimpleMeterRegistry();
    private final ObservationRegistry registry = ObservationRegistry.create();
    private Store plain;
    private Store store;

    @BeforeEach
    void anSdkThatKeepsWhatItGets() {
        SdkTracerProvider provider = SdkTracerProvider.builder()
                .addSpanProcessor(SimpleSpanProcessor.create(spans))
                .build();
        OtelTracer tracer = new OtelTracer(provider.get("test"), new OtelCurrentTraceContext(), event -> {});
        registry.observationConfig()
                .observationHandler(new DefaultMeterObservationHandler(meters))
                .observationHandler(new DefaultTracingObservationHandler(tracer));
        plain = Store.open(MODEL, "jdbc:h2:mem:observed" + NUMBERS.incrementAndGet() + ";DB_CLOSE_DELAY=-1");
        plain.schema().createMissing();
        store = Observations.of(registry).counting(meters).on(plain);
    }

    private SpanData span(String name) {
        return spans.getFinishedSpanItems().stream()
                .filter(span -> span.getName().equals(name))
                .findFirst()
                .orElseThrow(() -> new AssertionError(name + " is not among "
                        + spans.getFinishedSpanItems().stream()
                                .map(SpanData::getName)
                                .toList()));
    }

    private static String value(SpanData span, String key) {
        return span.getAttributes().get(AttributeKey.stringKey(key));
    }

    @Test
    void statementsAreWithinTheirFlushOrUnitAndUnitsWithinTheRequest() {
        Observation.createNotStarted("request", registry)
                .observe(() -> store.run(work -> {
                    work.from(Boat.class).list();
                    work.add(new Boat("Skua"));
                }));
        SpanData request = span("request");
        SpanData unit = span("unit of work");
        SpanData flush = span("flush");
        SpanData insert = span("insert boat");
        assertThat(unit.getParentSpanId()).isEqualTo(request.getSpanId());
        assertThat(span("select boat").getParentSpanId()).isEqualTo(unit.getSpanId());
        assertThat(flush.getParentSpanId()).isEqualTo(unit.getSpanId());
        assertThat(insert.getParentSpanId()).isEqualTo(flush.getSpanId());
        assertThat(span("commit").getTraceId()).isEqualTo(request.getTraceId());
        assertThat(value(flush, "bathra.flush.inserted")).isEqualTo("1");
        assertThat(value(unit, "bathra.unit.tracked")).isEqualTo("1");
    }

    @Test
    void keysAreThoseOfTheConventions() {
        store.run(work -> work.add(new Boat("Skua")));
        SpanData insert = span("insert boat");
        assertThat(value(insert, "db.system.name")).isEqualTo("h2database");
        assertThat(value(insert, "db.operation.name")).isEqualTo("INSERT");
        assertThat(value(insert, "db.collection.name")).isEqualTo("boat");
        assertThat(value(insert, "db.query.summary")).isEqualTo("INSERT boat");
        assertThat(value(insert, "db.response.returned_rows")).isEqualTo("1");
        assertThat(value(insert, "error.type")).isEqualTo("none");
        assertThat(value(insert, "db.query.text")).as("not asked for").isNull();
        assertThat(insert.getAttributes().toString()).doesNotContain("Skua");
        Timer timer = meters.get("db.client.operation.duration")
                .tags("db.operation.name", "INSERT", "error.type", "none")
                .timer();
        assertThat(timer.count()).isEqualTo(1);
        assertThat(timer.totalTime(TimeUnit.SECONDS)).isPositive();
    }

    @Test
    void textsAreToldWhenAskedForWithoutValues() {
        Observations.of(registry).withTexts().on(plain).run(work -> work.add(new Boat("Skua")));
        assertThat(value(span("insert boat"), "db.query.text"))
                .startsWith("insert into boat")
                .doesNotContain("Skua");
    }

    @Test
    void failuresAreTold() {
        plain.run(work -> work.add(new Boat("Skua")));
        assertThatThrownBy(() -> store.run(work -> work.add(new Boat("Skua")))).isInstanceOf(UniqueViolation.class);
        SpanData insert = span("insert boat");
        assertThat(value(insert, "error.type")).isEqualTo(UniqueViolation.class.getName());
        assertThat(insert.getStatus().getStatusCode()).isEqualTo(StatusCode.ERROR);
        assertThat(value(span("flush"), "error.type")).isEqualTo(UniqueViolation.class.getName());
        assertThat(meters.get("db.client.operation.duration")
                        .tags("error.type", UniqueViolation.class.getName())
                        .timer()
                        .count())
                .isEqualTo(1);
    }

    @Test
    void statementsThatRepeatAreCountedAndOpenUnitsToo() {
        plain.run(work -> List.of("Skua", "Tern", "Gull", "Fulmar", "Lunde").forEach(name -> work.add(new Boat(name))));
        try (UnitOfWork work = store.begin()) {
            assertThat(meters.get("bathra.units.open").gauge().value()).isEqualTo(1);
            for (long key = 1; key <= 5; key++) {
                work.require(Boat.class, key);
            }
        }
        assertThat(meters.get("bathra.units.open").gauge().value()).isZero();
        assertThat(meters.get("bathra.statements.repeated")
                        .tag("db.query.summary", "SELECT boat")
                        .counter()
                        .count())
                .as("the fourth and the fifth")
                .isEqualTo(2);
    }

    @Test
    void summariesOfStatements() {
        assertThat(Summary.of("select t.id from port_call t where t.x = ?")).hasToString("SELECT port_call");
        assertThat(Summary.of("insert into \"Port Call\" (id) values (?)").operation())
                .isEqualTo("INSERT");
        assertThat(Summary.of("update vessel set name = ?")).hasToString("UPDATE vessel");
        assertThat(Summary.of("delete from vessel where id = ?")).hasToString("DELETE vessel");
        assertThat(Summary.of("with a as (select 1) select * from a")).hasToString("SELECT a");
        assertThat(Summary.of("select count(*) from (select id from boat) t")).hasToString("SELECT boat");
        assertThat(Summary.of("select 1")).hasToString("SELECT");
    }
}
