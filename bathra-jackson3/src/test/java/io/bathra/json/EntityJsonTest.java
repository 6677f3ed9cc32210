package io.bathra.json;

import static io.bathra.json.Quays.MODEL;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.Problem;
import io.bathra.jackson2.Jackson2;
import io.bathra.jackson3.Jackson3;
import io.bathra.json.Quays.Bollard;
import io.bathra.json.Quays.Call;
import io.bathra.json.Quays.Certificate;
import io.bathra.json.Quays.Engine;
import io.bathra.json.Quays.Hull;
import io.bathra.json.Quays.Imo;
import io.bathra.json.Quays.Place;
import io.bathra.json.Quays.Ship;
import io.bathra.json.Quays.State;
import java.io.ByteArrayOutputStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Entities as JSON and back by either library, byte by byte the same. */
class EntityJsonTest {
    enum By {
        JACKSON_2(Jackson2.json(MODEL)),
        JACKSON_3(Jackson3.json(MODEL));

        private final EntityJson json;

        By(EntityJson json) {
            this.json = json;
        }
    }

    private static final JsonShape<Call> CALL = JsonShape.of(Call.class);
    private static final JsonShape<Ship> SHIP = JsonShape.of(Ship.class);
    private static final JsonShape<Ship> SHIP_WITH_CALLS = SHIP.with(Ship::calls, CALL);

    private static final String SHIP_TEXT = "{\"id\":1,\"imo\":\"9161728\",\"name\":\"Anna & \\\"Marie\\\" \u2713\","
            + "\"hull\":{\"lengthM\":120.5000,\"engine\":{\"powerKw\":4000,\"maker\":null}},\"towed\":false,"
            + "\"certificates\":[{\"kind\":\"safety\",\"until\":\"2027-01-31\"},{\"kind\":\"load line\",\"until\":null}],"
            + "\"flags\":[\"PT\"],\"crew\":{\"mates\":2},\"revision\":0}";

    private static final String CALL_TEXT = "{\"id\":1,\"number\":\"C-1\",\"ship\":1,"
            + "\"bollard\":{\"quay\":\"N\",\"bollard\":7},\"state\":\"EXPECTED\",\"eta\":\"2026-04-01T06:30\","
            + "\"charge\":1250.50,\"parcels\":12,\"draught\":7.25,"
            + "\"token\":\"018f3c1e-7b2a-7c3d-8e4f-5a6b7c8d9e0f\",\"stamp\":\"00ff\"}";

    private final Store store = Store.open(MODEL, "jdbc:h2:mem:" + System.nanoTime() + ";DB_CLOSE_DELAY=-1");

    @BeforeEach
    void someAreThere() {
        store.schema().createMissing();
        store.run(work -> {
            Ship ship = Quays.ship();
            work.add(ship);
            Bollard bollard = Quays.bollard();
            work.add(bollard);
            work.add(Quays.call("C-1", ship, bollard));
        });
    }

    private Ship shipReadWithCalls() {
        return store.call(work -> work.from(Ship.class).alongWith(Ship::calls).one());
    }

    private static List<String> told(List<Problem> problems) {
        return problems.stream()
                .map(problem -> problem.attribute() + " = " + problem.value() + " " + problem.words(Locale.ENGLISH))
                .toList();
    }

    // ---- out

    @ParameterizedTest
    @EnumSource
    void anEntityShowsWhatLiesInItsRowAndNothingSecret(By by) {
        Ship ship = store.call(work -> work.from(Ship.class).one());
        Call call = store.call(work -> work.from(Call.class).one());
        assertThat(by.json.write(SHIP, ship)).as("after its unit is closed").isEqualTo(SHIP_TEXT);
        assertThat(by.json.write(CALL, call)).isEqualTo(CALL_TEXT);
    }

    @ParameterizedTest
    @EnumSource
    void aShapeNestsAsDeepAsItSaysAndSkipsTheWayBack(By by) {
        Ship ship = shipReadWithCalls();
        String calls = ",\"calls\":[" + CALL_TEXT.replace("\"ship\":1,", "") + "]";
        assertThat(by.json.write(SHIP_WITH_CALLS.without(Ship::hull), ship))
                .isEqualTo(SHIP_TEXT
                        .replaceAll("\"hull\":.*\"towed\"", "\"towed\"")
                        .replace(",\"revision\"", calls + ",\"revision\""));
        Call call =
                store.call(work -> work.from(Call.class).alongWith(Call::ship).one());
        assertThat(by.json.write(CALL.with(Call::ship, SHIP.without(Ship::certificates)), call))
                .isEqualTo(CALL_TEXT.replace(
                        "\"ship\":1", "\"ship\":" + SHIP_TEXT.replaceAll("\"certificates\":.*\"flags\"", "\"flags\"")));
    }

    @ParameterizedTest
    @EnumSource
    void whatWasNotReadIsAnErrorThatSaysHowToReadIt(By by) {
        Ship ship = store.call(work -> work.from(Ship.class).one());
        Call call = store.call(work -> work.from(Call.class).one());
        assertThatThrownBy(() -> by.json.write(SHIP_WITH_CALLS, ship))
                .isInstanceOf(BathraException.class)
                .hasMessageContaining("Ship.calls is asked for by the shape, but was not read")
                .hasMessageContaining(".alongWith(Ship::calls)");
        assertThatThrownBy(() -> by.json.write(CALL.with(Call::ship, SHIP), call))
                .hasMessageContaining(".alongWith(Call::ship)");
        assertThatThrownBy(() -> by.json.write(SHIP.with(Ship::history), ship))
                .hasMessageContaining("Ship.history is asked for by the shape, but was not read");
        ship.history().set("new");
        assertThat(by.json.write(SHIP.with(Ship::history), ship)).contains("\"history\":\"new\"");
    }

    @ParameterizedTest
    @EnumSource
    void aLinkToSomethingUnstoredIsAnErrorAndNotNull(By by) {
        Call call = Quays.call("C-2", Quays.ship(), null);
        assertThatThrownBy(() -> by.json.write(CALL, call))
                .hasMessageContaining("Call.ship leads to a Ship that is not stored yet");
    }

    @Test
    void aShapeThatCannotBeIsRefused() {
        EntityJson json = Jackson3.json(MODEL);
        Ship ship = new Ship();
        assertThatThrownBy(() -> json.write(SHIP.with(Ship::doorCode), ship)).hasMessageContaining("is secret");
        assertThatThrownBy(() -> json.write(SHIP.with(Ship::calls), ship)).hasMessageContaining("JsonShape.of(...)");
        assertThatThrownBy(() -> json.write(SHIP.without(Ship::hull).with(Ship::hull), ship))
                .hasMessageContaining("names hull twice");
        assertThatThrownBy(() -> json.read(JsonShape.of(String.class), "{}"))
                .hasMessageContaining("is not in the model");
    }

    @ParameterizedTest
    @EnumSource
    void aListStreams(By by) {
        store.run(work -> {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            try (Stream<Call> calls = work.from(Call.class).stream()) {
                by.json.write(CALL, calls, out);
            }
            assertThat(out.toString(StandardCharsets.UTF_8)).isEqualTo("[" + CALL_TEXT + "]");
        });
    }

    @Test
    void mappersWriteAndReadEntitiesWhereverTheyStand() throws Exception {
        Ship ship = shipReadWithCalls();
        Map<String, Object> answer = Map.of("ships", List.of(ship));
        Shaped shaped = SHIP_WITH_CALLS.showAll(List.of(ship));
        var two = com.fasterxml.jackson.databind.json.JsonMapper.builder()
                .addModule(Jackson2.module(Jackson2.json(MODEL)))
                .build();
        var three = tools.jackson.databind.json.JsonMapper.builder()
                .addModule(Jackson3.module(Jackson3.json(MODEL)))
                .build();
        assertThat(two.writeValueAsString(answer)).isEqualTo("{\"ships\":[" + SHIP_TEXT + "]}");
        assertThat(three.writeValueAsString(answer)).isEqualTo("{\"ships\":[" + SHIP_TEXT + "]}");
        assertThat(two.writeValueAsString(shaped))
                .isEqualTo(three.writeValueAsString(shaped))
                .contains("\"calls\":[{");
        String in = "[{\"name\":\"Bea\",\"hull\":null},{\"name\":\"Cleo\"}]";
        assertThat(two.readValue(in, Ship[].class)).extracting(Ship::name).containsExactly("Bea", "Cleo");
        assertThat(three.readValue(in, Ship[].class)).extracting(Ship::name).containsExactly("Bea", "Cleo");
        assertThatThrownBy(() -> three.readValue("{\"name\":1,\"id\":4}", Ship.class))
                .hasStackTraceContaining("Ship.id = 4")
                .hasStackTraceContaining("Ship.name = 1")
                .satisfiesAnyOf(
                        e -> assertThat(e).isInstanceOf(InvalidChangesException.class),
                        e -> assertThat(e).hasCauseInstanceOf(InvalidChangesException.class));
    }

    // ---- in

    @ParameterizedTest
    @EnumSource
    void aNewEntityComesOutOfAText(By by) {
        String text = CALL_TEXT.replace("\"id\":1,", "").replace("C-1", "C-9").replace("EXPECTED", "MOORED");
        Call call = by.json.read(CALL, text).orThrow();
        assertThat(call.ship().isRead()).as("a key is enough").isFalse();
        store.run(work -> work.add(call));
        store.run(work -> {
            Call stored = work.from(Call.class)
                    .orderBy(io.bathra.query.Ask.the(Call::number).descending())
                    .list()
                    .get(0);
            assertThat(by.json.write(CALL, stored)).isEqualTo(text.replace("{\"number\"", "{\"id\":2,\"number\""));
            assertThat(stored.state()).isEqualTo(State.MOORED);
            assertThat(stored.ship().get().imo()).isEqualTo(new Imo("9161728"));
            assertThat(stored.bollard().get().place()).isEqualTo(new Place("N", 7));
        });
    }

    @ParameterizedTest
    @EnumSource
    void newEntitiesComeAlongWhereTheShapeLetsThem(By by) {
        JsonShape<Ship> shape = SHIP_WITH_CALLS.taking(Ship::doorCode);
        Ship ship = by.json
                .read(
                        shape,
                        "{\"name\":\"Bea\",\"doorCode\":\"77\",\"hull\":{\"lengthM\":12},\"certificates\":[{\"kind\":\"safety\"}],\"crew\":{\"cooks\":1},"
                                + "\"calls\":[{\"number\":\"C-3\"},{\"number\":\"C-4\"}]}")
                .orThrow();
        store.run(work -> work.add(ship));
        store.run(work -> assertThat(work.from(Call.class).list())
                .filteredOn(call -> call.ship().get().name().equals("Bea"))
                .extracting(Call::number)
                .containsExactly("C-3", "C-4"));
        assertThat(ship.certificates()).containsExactly(new Certificate("safety", null));
        assertThat(ship.hull()).isEqualTo(new Hull(new BigDecimal("12.0000"), null));
        assertThat(ship.crew()).containsExactly(Map.entry("cooks", 1));
        assertThat(ship.doorCode()).isEqualTo("77");

        Call call = by.json
                .read(CALL.with(Call::ship, SHIP), "{\"number\":\"C-5\",\"ship\":{\"name\":\"Dora\"}}")
                .orThrow();
        assertThat(call.ship().get().name()).isEqualTo("Dora");
    }

    @ParameterizedTest
    @EnumSource
    void everythingThatIsWrongIsToldWithItsPath(By by) {
        String text =
                "{\"id\":7,\"revision\":1,\"imo\":\"91617281\",\"nmae\":\"x\",\"towed\":\"yes\",\"doorCode\":\"1\","
                        + "\"hull\":{\"lengthM\":1e50000000,\"beam\":3,\"engine\":{\"powerKw\":\"many\"},\"lengthM\":1},"
                        + "\"certificates\":[{\"kind\":7},5,null],\"flags\":{},\"crew\":{\"mates\":null},"
                        + "\"calls\":[{\"number\":\"C-1234567890\",\"eta\":\"soon\",\"ship\":1},[]]}";
        Received<Ship> received = by.json.read(SHIP_WITH_CALLS, text);
        assertThat(received.entity()).isNull();
        assertThat(told(received.problems()))
                .containsExactlyInAnyOrder(
                        "id = 7 cannot be set",
                        "revision = 1 cannot be set",
                        "imo = 91617281 may have at most 7 characters",
                        "nmae = x is not known here",
                        "towed = yes has to be one of true, false",
                        "doorCode = 1 cannot be set",
                        "hull.lengthM = 1 is given more than once",
                        "hull.beam = 3 is not known here",
                        "hull.engine.powerKw = many has to be a whole number, such as 42",
                        "certificates[0].kind = 7 has to be a text",
                        "certificates[1] = 5 has to be an object with members",
                        "certificates[2] = null is required",
                        "flags = {\u2026} has to be a list",
                        "crew[mates] = null is required",
                        "name = null is required",
                        "calls[0].number = C-1234567890 may have at most 9 characters",
                        "calls[0].eta = soon has to be a date and time, such as 2026-04-01T06:30",
                        "calls[0].ship = 1 cannot be set",
                        "calls[1] = [\u2026] has to be an object with members");
        assertThatThrownBy(received::orThrow).isInstanceOf(InvalidChangesException.class);
        assertThat(told(by.json
                        .read(CALL, "{\"number\":\"C-2\",\"ship\":1,\"parcels\":100}")
                        .problems()))
                .containsExactly("parcels = 100 is not allowed");
        assertThat(told(by.json
                        .read(
                                CALL,
                                "{\"number\":\"C-2\",\"ship\":null,\"charge\":1e50000000,\"bollard\":{\"quay\":\"N\"}}")
                        .problems()))
                .containsExactlyInAnyOrder(
                        "ship = null is required",
                        "charge = 1E+50000000 may have at most 5 digits before the point and 2 behind it",
                        "bollard = null is required");
    }

    // ---- patches

    @ParameterizedTest
    @EnumSource
    void aPatchChangesWhatItNames(By by) {
        store.run(work -> {
            Ship ship = work.from(Ship.class).one();
            assertThat(by.json.patch(
                            SHIP,
                            ship,
                            "{\"imo\":null,\"hull\":{\"engine\":{\"maker\":\"Own\"}},\"flags\":[\"PT\",\"DK\"],"
                                    + "\"certificates\":[{\"kind\":\"safety\",\"until\":\"2027-01-31\"}]}"))
                    .isEmpty();
            assertThat(work.changes()).isNotEmpty();
        });
        store.run(work -> {
            Ship ship = work.from(Ship.class).one();
            assertThat(ship.imo()).isNull();
            assertThat(ship.name()).startsWith("Anna");
            assertThat(ship.hull()).isEqualTo(new Hull(new BigDecimal("120.5000"), new Engine(4000, "Own")));
            assertThat(ship.flags()).containsExactlyInAnyOrder("PT", "DK");
            assertThat(ship.certificates()).extracting(Certificate::kind).containsExactly("safety");
            assertThat(ship.crew()).containsExactly(Map.entry("mates", 2));
        });
    }

    @ParameterizedTest
    @EnumSource
    void aPatchIsTakenAsAWholeOrNotAtAll(By by) {
        store.run(work -> {
            Ship ship = work.from(Ship.class).alongWith(Ship::calls).one();
            assertThat(told(by.json.patch(
                            SHIP_WITH_CALLS,
                            ship,
                            "{\"name\":null,\"imo\":\"1\",\"calls\":[],\"id\":1,\"crew\":null}")))
                    .containsExactlyInAnyOrder(
                            "calls = [\u2026] cannot be set", "id = 1 cannot be set", "name = null is required");
            assertThat(work.changes()).isEmpty();
            Call call = work.from(Call.class).one();
            assertThat(by.json.patch(CALL.with(Call::ship, SHIP), call, "{\"ship\":{\"towed\":true}}"))
                    .isEmpty();
            assertThat(call.ship().get()).isSameAs(ship);
            assertThat(ship.towed).isTrue();
            Bollard bollard = work.from(Bollard.class).one();
            assertThat(told(by.json.patch(
                            JsonShape.of(Bollard.class), bollard, "{\"place\":{\"quay\":\"S\",\"bollard\":7}}")))
                    .containsExactly("place = Place[quay=S, bollard=7] cannot be set");
        });
    }

    // ---- hostile texts

    @ParameterizedTest
    @EnumSource
    void hostileTextsAreRefused(By by) {
        assertThat(told(by.json.read(SHIP, "{\"name\":\"a\",\"name\":\"b\"}").problems()))
                .containsExactly("name = b is given more than once");
        for (String text : List.of(
                "",
                "{",
                "{\"name\":",
                "{\"name\":\"x\"",
                "nonsense",
                "{'name':1}",
                "{\"name\":\"x\"} {}",
                "[".repeat(100_000),
                "{\"nmae\":" + "{\"a\":".repeat(100_000),
                "{\"name\":\"" + "x".repeat(10_000_000) + "\"}",
                "{\"towed\":" + "1".repeat(5_000) + "}",
                "{\"name\":\"\u0000\"}",
                "{\"name\":NaN}")) {
            List<Problem> problems = by.json.read(SHIP, text).problems();
            assertThat(problems)
                    .as(text.substring(0, Math.min(20, text.length())))
                    .isNotEmpty();
            assertThat(problems.toString()).hasSizeLessThan(500);
        }
        StringBuilder many = new StringBuilder("{");
        for (int i = 0; i < 100_000; i++) {
            many.append("\"x").append(i).append("\":1,");
        }
        assertThat(by.json.read(SHIP, many + "\"name\":\"x\"}").problems()).hasSize(101);
        String lone =
                new String(new byte[] {'{', '"', 'n', (byte) 0xff, '"', ':', '1', '}'}, StandardCharsets.ISO_8859_1);
        assertThat(by.json
                        .read(SHIP, new java.io.ByteArrayInputStream(lone.getBytes(StandardCharsets.ISO_8859_1)))
                        .problems())
                .isNotEmpty();
    }
}
