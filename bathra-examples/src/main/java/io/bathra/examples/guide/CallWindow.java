package io.bathra.examples.guide;

import static io.bathra.Terms.reading;
import static io.bathra.query.Ask.the;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import io.bathra.Store;
import io.bathra.UnitOfWork;
import io.bathra.error.NoSuchRowException;
import io.bathra.error.Problem;
import io.bathra.examples.harbour.CallStatus;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import io.bathra.examples.harbour.Vessel;
import io.bathra.jackson3.Jackson3;
import io.bathra.json.EntityJson;
import io.bathra.json.JsonShape;
import io.bathra.json.Received;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.URLDecoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Port calls over HTTP with the JDK's own server: JSON out and in, patches, and a form. */
public final class CallWindow implements AutoCloseable {
    private static final JsonShape<PortCall> CALL = JsonShape.of(PortCall.class);

    private static final JsonShape<PortCall> CALL_WITH_VESSEL = CALL.with(
                    PortCall::vessel, JsonShape.of(Vessel.class).without(Vessel::operator))
            .without(PortCall::remark);

    private static final String JSON = "application/json";
    private static final String HTML = "text/html; charset=utf-8";

    private final Store store;
    private final EntityJson json = Jackson3.json(Harbour.MODEL);
    private final HttpServer server;

    /**
     * Opens the window.
     *
     * @param port 0 for any that is free
     */
    public CallWindow(Store store, int port) throws IOException {
        this.store = store;
        this.server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 0);
        server.createContext("/calls", this::answer);
        server.start();
    }

    public int port() {
        return server.getAddress().getPort();
    }

    @Override
    public void close() {
        server.stop(0);
    }

    private void answer(HttpExchange exchange) throws IOException {
        String number = exchange.getRequestURI().getPath().replaceFirst("^/calls/?", "");
        String asked = exchange.getRequestMethod() + (number.isEmpty() ? "" : " one");
        try (exchange) {
            switch (asked) {
                case "GET" -> list(exchange);
                case "POST" -> add(exchange);
                case "GET one" -> show(exchange, number);
                case "PATCH one" -> patch(exchange, number);
                case "POST one" -> submit(exchange, number);
                default -> send(exchange, 405, JSON, "");
            }
        } catch (NoSuchRowException e) {
            send(exchange, 404, JSON, "");
        } catch (RuntimeException e) {
            send(exchange, 500, JSON, "");
            throw e;
        }
    }

    // ---- JSON

    /** Each call goes out as it comes from the database, however many there are. */
    private void list(HttpExchange exchange) throws IOException {
        exchange.getResponseHeaders().set("Content-Type", JSON);
        exchange.sendResponseHeaders(200, 0);
        try (OutputStream out = exchange.getResponseBody()) {
            store.run(reading(), work -> {
                try (Stream<PortCall> calls =
                        work.from(PortCall.class).orderBy(the(PortCall::eta).ascending()).stream()) {
                    json.write(CALL, calls, out);
                }
            });
        }
    }

    private void add(HttpExchange exchange) throws IOException {
        Received<PortCall> received = json.read(CALL, exchange.getRequestBody());
        List<Problem> problems = received.problems();
        if (problems.isEmpty()) {
            problems = store.call(work -> {
                work.add(received.orThrow());
                return flushed(work);
            });
        }
        if (problems.isEmpty()) {
            send(exchange, 201, JSON, json.write(CALL, received.orThrow()));
        } else {
            send(exchange, 422, JSON, json.told(problems, Locale.ENGLISH));
        }
    }

    /** Unique values are asked for last, since only the database knows which are taken. */
    private static List<Problem> flushed(UnitOfWork work) {
        List<Problem> problems = work.problems();
        if (problems.isEmpty()) {
            work.flush();
        } else {
            work.discard();
        }
        return problems;
    }

    private void show(HttpExchange exchange, String number) throws IOException {
        PortCall call = store.call(reading(), work -> one(work, number));
        String accepted = exchange.getRequestHeaders().getFirst("Accept");
        if (accepted != null && accepted.contains("text/html")) {
            send(exchange, 200, HTML, page(call, Map.of(), List.of()));
        } else {
            send(exchange, 200, JSON, json.write(CALL_WITH_VESSEL, call)); // its unit is closed by now
        }
    }

    private void patch(HttpExchange exchange, String number) throws IOException {
        byte[] body = exchange.getRequestBody().readAllBytes();
        List<Problem> problems = store.call(work -> {
            List<Problem> found = json.patch(CALL, one(work, number), new String(body, StandardCharsets.UTF_8));
            return found.isEmpty() ? flushed(work) : found;
        });
        send(
                exchange,
                problems.isEmpty() ? 204 : 422,
                JSON,
                problems.isEmpty() ? "" : json.told(problems, Locale.ENGLISH));
    }

    private static PortCall one(UnitOfWork work, String number) {
        return work.from(PortCall.class)
                .where(the(PortCall::number).is(number))
                .alongWith(PortCall::vessel)
                .alongWith(PortCall::berth)
                .first()
                .orElseThrow(() -> new NoSuchRowException("there is no call " + number));
    }

    // ---- a form

    /** All of what somebody has typed is stored, or the form comes back with everything that is wrong. */
    private void submit(HttpExchange exchange, String number) throws IOException {
        Map<String, String> form = form(new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
        String page = store.call(work -> {
            PortCall call = one(work, number);
            List<Problem> problems = work.bind(
                    call, form, PortCall::eta, PortCall::etd, PortCall::status, PortCall::berth, PortCall::remark);
            return page(call, form, problems.isEmpty() ? flushed(work) : problems);
        });
        send(exchange, page.contains("<li>") ? 422 : 200, HTML, page);
    }

    private static Map<String, String> form(String body) {
        Map<String, String> form = new LinkedHashMap<>();
        for (String pair : body.split("&")) {
            String[] halves = pair.split("=", 2);
            form.put(decoded(halves[0]), halves.length > 1 ? decoded(halves[1]) : "");
        }
        return form;
    }

    private static String decoded(String text) {
        return URLDecoder.decode(text, StandardCharsets.UTF_8);
    }

    private static String page(PortCall call, Map<String, String> typed, List<Problem> problems) {
        String problemList = problems.stream()
                .map(problem -> "<li>" + problem.attribute() + " " + html(problem.words(Locale.ENGLISH)) + "</li>")
                .collect(Collectors.joining("\n", "<ul>\n", "\n</ul>"));
        return "<!doctype html>\n<title>Call " + html(call.number()) + "</title>\n<h1>Call " + html(call.number())
                + ", " + html(call.vessel().get().name()) + "</h1>\n"
                + (problems.isEmpty() ? "" : problemList + "\n")
                + "<form method=\"post\">\n"
                + input("eta", typed, call.eta())
                + input("etd", typed, call.etd())
                + input("status", typed, call.status())
                + input(
                        "berth.code",
                        typed,
                        call.berth().find().map(berth -> berth.code()).orElse(""))
                + input("remark", typed, call.remark())
                + "<button>Store</button>\n</form>\n";
    }

    private static String input(String name, Map<String, String> typed, Object value) {
        String shown = typed.getOrDefault(name, value == null ? "" : value.toString());
        return "<label>" + name + " <input name=\"" + name + "\" value=\"" + html(shown) + "\"></label>\n";
    }

    private static String html(String text) {
        return text.replace("&", "&amp;").replace("<", "&lt;").replace("\"", "&quot;");
    }

    private static void send(HttpExchange exchange, int status, String type, String text) throws IOException {
        byte[] body = text.getBytes(StandardCharsets.UTF_8);
        exchange.getResponseHeaders().set("Content-Type", type);
        exchange.sendResponseHeaders(status, body.length == 0 ? -1 : body.length);
        if (body.length > 0) {
            exchange.getResponseBody().write(body);
        }
    }

    // ---- what it shows

    /**
     * Opens the window, asks it a few things, and shows what it answers.
     *
     * @param args the port on which it stays open instead; none for a short show
     */
    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:window;DB_CLOSE_DELAY=-1")) {
            store.schema().createMissing();
            store.run(work -> Season.shipped().vessels().forEach(work::add));
            store.run(work -> {
                Vessel vessel = work.from(Vessel.class)
                        .orderBy(the(Vessel::name).ascending())
                        .list()
                        .get(0);
                PortCall call = new PortCall("2026-0001", vessel, LocalDateTime.of(2026, 4, 1, 6, 30));
                call.plan(null, CallStatus.EXPECTED, "wants a pilot");
                work.add(call);
            });
            try (CallWindow window = new CallWindow(store, port(args))) {
                if (args.length == 0) {
                    show(window);
                } else {
                    System.out.println("http://127.0.0.1:" + window.port() + "/calls, until this program is ended");
                    Thread.currentThread().join();
                }
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private static int port(String[] args) {
        try {
            return args.length == 0 ? 0 : Integer.parseInt(args[0]);
        } catch (NumberFormatException e) {
            throw new IllegalArgumentException("'" + args[0] + "' is no port; give a number such as 8081", e);
        }
    }

    private static void show(CallWindow window) throws IOException, InterruptedException {
        ask(window, "GET", "", "");
        ask(window, "GET", "/2026-0001", "");
        ask(
                window,
                "POST",
                "",
                "{\"number\":\"2026-0002\",\"vessel\":2,\"eta\":\"2026-04-02T08:00\",\"status\":\"EXPECTED\"}");
        ask(
                window,
                "POST",
                "",
                "{\"number\":\"2026-00002\",\"id\":7,\"status\":\"LATE\",\"eta\":\"soon\",\"colour\":\"red\"}");
        ask(window, "PATCH", "/2026-0001", "{\"remark\":null,\"eta\":\"2026-04-01T09:00\"}");
        ask(window, "POST", "/2026-0002", "eta=2026-04-02T10%3A00&etd=later&berth.code=nowhere&status=ALONGSIDE");
        ask(window, "GET", "", "");
    }

    private static void ask(CallWindow window, String method, String path, String body)
            throws IOException, InterruptedException {
        URI uri = URI.create("http://127.0.0.1:" + window.port() + "/calls" + path);
        HttpRequest request = HttpRequest.newBuilder(uri)
                .method(method, body.isEmpty() ? BodyPublishers.noBody() : BodyPublishers.ofString(body))
                .build();
        var answer = HttpClient.newHttpClient().send(request, BodyHandlers.ofString());
        System.out.println(method + " /calls" + path + " " + body);
        System.out.println(answer.statusCode() + " " + answer.body());
        System.out.println();
    }
}
