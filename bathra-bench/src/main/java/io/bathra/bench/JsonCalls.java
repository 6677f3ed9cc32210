package io.bathra.bench;

import static io.bathra.model.Declare.digits;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.unique;

import io.bathra.Store;
import io.bathra.jackson3.Jackson3;
import io.bathra.json.EntityJson;
import io.bathra.json.JsonShape;
import io.bathra.link.Link;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.io.ByteArrayOutputStream;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.ObjectWriteContext;
import tools.jackson.core.json.JsonFactory;

/**
 * Ten thousand port calls as JSON and back, beside code written by hand for Jackson's generator and parser, in pairs.
 * Takes how many pairs there are to be.
 */
public final class JsonCalls {
    private static final int CALLS = 10_000;
    private static final int WARMING = 30;
    private static final JsonFactory FACTORY = new JsonFactory();

    enum Status {
        EXPECTED,
        ALONGSIDE,
        DEPARTED
    }

    record Size(BigDecimal lengthMetres, BigDecimal beamMetres) {}

    static final class Vessel {
        @Nullable
        Long id;

        String imo = "";

        String imo() {
            return imo;
        }
    }

    static final class Call {
        @Nullable
        Long id;

        String number = "";
        LocalDateTime eta = LocalDateTime.MIN;

        @Nullable
        LocalDateTime etd;

        Status status = Status.EXPECTED;

        @Nullable
        String remark;

        @Nullable
        BigDecimal charge;

        int parcels;

        @Nullable
        Size size;

        boolean pilot;
        final Link<Vessel> vessel = Link.empty();

        @Nullable
        Long id() {
            return id;
        }

        String number() {
            return number;
        }

        LocalDateTime eta() {
            return eta;
        }

        @Nullable
        BigDecimal charge() {
            return charge;
        }

        @Nullable
        String remark() {
            return remark;
        }

        Link<Vessel> vessel() {
            return vessel;
        }
    }

    private static final Model MODEL = Model.of(
            "calls",
            Entity.of(Vessel.class, Vessel::new).column(Vessel::imo, required(), length(7), unique()),
            Entity.of(Call.class, Call::new)
                    .column(Call::number, required(), length(9), unique())
                    .column(Call::eta, required())
                    .column(Call::charge, digits(9, 2))
                    .column(Call::remark, length(80))
                    .link(Call::vessel, required()));

    private static final JsonShape<Call> CALL = JsonShape.of(Call.class);
    private static final JsonShape<Call> NEW = CALL.without(Call::id);

    private final EntityJson json = Jackson3.json(MODEL);
    private final List<Call> calls;
    private final List<String> texts = new ArrayList<>();

    private JsonCalls(List<Call> calls) {
        this.calls = calls;
        calls.forEach(call -> texts.add(json.write(NEW, call)));
    }

    /** One way of doing a job. */
    private interface Way {
        void run() throws Exception;
    }

    public static void main(String[] args) throws Exception {
        int pairs = Integer.parseInt(args[0]);
        try (Store store = Store.open(MODEL, "jdbc:h2:mem:calls;DB_CLOSE_DELAY=-1")) {
            store.schema().createMissing();
            store.run(work -> calls().forEach(work::add));
            JsonCalls all =
                    new JsonCalls(store.call(work -> work.from(Call.class).list()));
            all.compare();
            compare("out", pairs, all::outByHand, all::outByBathra);
            compare("in", pairs, all::inByHand, all::inByBathra);
        }
        System.exit(0);
    }

    private static List<Call> calls() {
        Vessel vessel = new Vessel();
        vessel.imo = "9074729";
        List<Call> calls = new ArrayList<>();
        for (int i = 0; i < CALLS; i++) {
            Call call = new Call();
            call.number = String.format("26-%06d", i);
            call.eta = LocalDateTime.of(2026, 4, 1, 6, 30).plusMinutes(7L * i);
            call.etd = i % 3 == 0 ? null : call.eta.plusHours(i % 50);
            call.status = Status.values()[i % 3];
            call.remark = i % 5 == 0 ? null : "wants a pilot at the second buoy, " + i;
            call.charge = BigDecimal.valueOf(125_000L + i, 2);
            call.parcels = i % 90;
            call.size = new Size(BigDecimal.valueOf(1_000_000 + i, 4), BigDecimal.valueOf(200_000, 4));
            call.pilot = i % 2 == 0;
            call.vessel.set(vessel);
            calls.add(call);
        }
        return calls;
    }

    private static void compare(String name, int pairs, Way byHand, Way bathra) throws Exception {
        double[] ratios = new double[pairs];
        double[] hand = new double[pairs];
        double[] ours = new double[pairs];
        for (int i = -WARMING; i < pairs; i++) {
            double one = i % 2 == 0 ? time(byHand) : 0;
            double two = time(bathra);
            one = i % 2 == 0 ? one : time(byHand);
            if (i >= 0) {
                ratios[i] = two / one;
                hand[i] = one;
                ours[i] = two;
            }
        }
        System.out.printf(
                Locale.ROOT,
                "%-4s %,d calls: by hand %.1f ms, by Bathra %.1f ms, ratio %.2f (median of %d pairs)%n",
                name,
                CALLS,
                median(hand),
                median(ours),
                median(ratios),
                pairs);
    }

    private static double time(Way way) throws Exception {
        long start = System.nanoTime();
        way.run();
        return (System.nanoTime() - start) / 1e6;
    }

    private static double median(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        return sorted[sorted.length / 2];
    }

    /** Both write the same bytes, and take the same out of them. */
    private void compare() throws Exception {
        ByteArrayOutputStream hand = new ByteArrayOutputStream();
        ByteArrayOutputStream bathra = new ByteArrayOutputStream();
        writeByHand(hand);
        json.write(CALL, calls.stream(), bathra);
        if (!Arrays.equals(hand.toByteArray(), bathra.toByteArray())) {
            throw new AssertionError("not the same bytes");
        }
        for (String text : texts) {
            if (!json.write(NEW, readByHand(text)).equals(text)
                    || !json.write(NEW, json.read(NEW, text).orThrow()).equals(text)) {
                throw new AssertionError("not the same call: " + text);
            }
        }
    }

    private void outByBathra() {
        json.write(CALL, calls.stream(), OutputStream.nullOutputStream());
    }

    private void inByBathra() {
        for (String text : texts) {
            json.read(NEW, text).orThrow();
        }
    }

    private void outByHand() {
        writeByHand(OutputStream.nullOutputStream());
    }

    private void inByHand() {
        for (String text : texts) {
            readByHand(text);
        }
    }

    // ---- by hand

    private void writeByHand(OutputStream out) {
        try (JsonGenerator generator = FACTORY.createGenerator(ObjectWriteContext.empty(), out)) {
            generator.writeStartArray();
            for (Call call : calls) {
                generator.writeStartObject();
                generator.writeNumberProperty("id", call.id == null ? 0 : call.id);
                generator.writeStringProperty("number", call.number);
                generator.writeStringProperty("eta", call.eta.toString());
                generator.writeName("etd");
                if (call.etd == null) {
                    generator.writeNull();
                } else {
                    generator.writeString(call.etd.toString());
                }
                generator.writeStringProperty("status", call.status.name());
                generator.writeStringProperty("remark", call.remark);
                generator.writeNumberProperty("charge", call.charge);
                generator.writeNumberProperty("parcels", call.parcels);
                generator.writeName("size");
                Size size = call.size;
                if (size == null) {
                    generator.writeNull();
                } else {
                    generator.writeStartObject();
                    generator.writeNumberProperty("lengthMetres", size.lengthMetres());
                    generator.writeNumberProperty("beamMetres", size.beamMetres());
                    generator.writeEndObject();
                }
                generator.writeBooleanProperty("pilot", call.pilot);
                generator.writeName("vessel");
                Long vessel = (Long) call.vessel.key();
                if (vessel == null) {
                    generator.writeNull();
                } else {
                    generator.writeNumber(vessel);
                }
                generator.writeEndObject();
            }
            generator.writeEndArray();
        }
    }

    private static Call readByHand(String text) {
        try (JsonParser parser =
                FACTORY.createParser(ObjectReadContext.empty(), text.getBytes(StandardCharsets.UTF_8))) {
            Call call = new Call();
            parser.nextToken();
            while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
                String name = parser.currentName();
                JsonToken token = parser.nextToken();
                if (token != JsonToken.VALUE_NULL) {
                    take(call, name, parser);
                }
            }
            return call;
        }
    }

    private static void take(Call call, String name, JsonParser parser) {
        switch (name) {
            case "number" -> call.number = parser.getString();
            case "eta" -> call.eta = LocalDateTime.parse(parser.getString());
            case "etd" -> call.etd = LocalDateTime.parse(parser.getString());
            case "status" -> call.status = Status.valueOf(parser.getString());
            case "remark" -> call.remark = parser.getString();
            case "charge" -> call.charge = parser.getDecimalValue();
            case "parcels" -> call.parcels = parser.getIntValue();
            case "size" -> call.size = size(parser);
            case "pilot" -> call.pilot = parser.getBooleanValue();
            case "vessel" -> call.vessel.toKey(parser.getLongValue());
            default -> throw new IllegalArgumentException("what is " + name + "?");
        }
    }

    private static Size size(JsonParser parser) {
        BigDecimal length = BigDecimal.ZERO;
        BigDecimal beam = BigDecimal.ZERO;
        while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
            String name = parser.currentName();
            parser.nextToken();
            if (name.equals("lengthMetres")) {
                length = parser.getDecimalValue();
            } else {
                beam = parser.getDecimalValue();
            }
        }
        return new Size(length, beam);
    }
}
