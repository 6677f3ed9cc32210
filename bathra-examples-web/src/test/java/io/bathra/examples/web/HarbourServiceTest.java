package io.bathra.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariDataSource;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ConfigurableApplicationContext;

/** The service over HTTP. */
class HarbourServiceTest {
    private static final int REQUESTS = 200;
    private static final int RACING = 8;
    private static final HttpClient CLIENT = HttpClient.newHttpClient();
    private static ConfigurableApplicationContext service;
    private static String address;

    @BeforeAll
    static void start() {
        service = new SpringApplicationBuilder(HarbourService.class)
                .properties("spring.main.banner-mode=off")
                .run("--server.port=0", "--spring.datasource.url=jdbc:h2:mem:service");
        address = "http://127.0.0.1:" + service.getEnvironment().getRequiredProperty("local.server.port");
    }

    @AfterAll
    static void stop() {
        service.close();
    }

    @AfterEach
    void noConnectionIsOut() {
        HikariDataSource pool = (HikariDataSource) service.getBean(DataSource.class);
        assertThat(pool.getHikariPoolMXBean().getActiveConnections()).isZero();
    }

    private static HttpResponse<String> send(HttpRequest.Builder request) throws Exception {
        return CLIENT.send(request.build(), BodyHandlers.ofString());
    }

    private static HttpRequest.Builder to(String path) {
        return HttpRequest.newBuilder(URI.create(address + path)).header("Content-Type", "application/json");
    }

    private static HttpResponse<String> get(String path) throws Exception {
        return send(to(path));
    }

    private static HttpResponse<String> post(String json) throws Exception {
        return send(to("/api/bookings").POST(BodyPublishers.ofString(json)));
    }

    private static HttpResponse<String> put(String id, int revision, String json) throws Exception {
        return send(to("/api/bookings/" + id)
                .header("If-Match", "\"" + revision + "\"")
                .PUT(BodyPublishers.ofString(json)));
    }

    private static String json(String number, String remark) {
        return "{\"number\":\"" + number + "\",\"vessel\":\"Skua\",\"berth\":\"B1\",\"eta\":\"2027-01-01T10:00\","
                + "\"remark\":\"" + remark + "\"}";
    }

    private static String value(String body, String name) {
        Matcher found = Pattern.compile("\"" + name + "\":\"?([^\",}]*)").matcher(body);
        assertThat(found.find()).as(name + " in " + body).isTrue();
        return found.group(1);
    }

    @Test
    void pagesFollowOneAnother() throws Exception {
        String first = get("/api/bookings?size=20").body();
        String second =
                get("/api/bookings?size=20&after=" + value(first, "next")).body();
        assertThat(first).contains("\"number\":\"26-000001\"").doesNotContain("\"number\":\"26-000030\"");
        assertThat(second).contains("\"number\":\"26-000030\"").doesNotContain("\"number\":\"26-000001\"");
        assertThat(get("/api/bookings?size=0").statusCode()).isEqualTo(400);
        assertThat(get("/api/bookings?after=nonsense").statusCode()).isEqualTo(400);
    }

    @Test
    void aBookingIsMadeShownChangedAndDeleted() throws Exception {
        HttpResponse<String> made = post(json("27-000001", "first"));
        assertThat(made.statusCode()).isEqualTo(201);
        String id = value(made.body(), "id");
        assertThat(made.headers().firstValue("Location")).contains("/api/bookings/" + id);
        assertThat(get("/api/bookings/" + id).headers().firstValue("ETag")).contains("\"0\"");
        HttpResponse<String> changed = put(id, 0, json("27-000001", "second"));
        assertThat(changed.statusCode()).isEqualTo(200);
        assertThat(changed.headers().firstValue("ETag")).contains("\"1\"");
        assertThat(send(to("/api/bookings/" + id).header("If-Match", "\"0\"").DELETE())
                        .statusCode())
                .isEqualTo(409);
        assertThat(send(to("/api/bookings/" + id).header("If-Match", "\"1\"").DELETE())
                        .statusCode())
                .isEqualTo(204);
        assertThat(get("/api/bookings/" + id).statusCode()).isEqualTo(404);
    }

    @Test
    void allProblemsOfAFormAreToldAtOnceByField() throws Exception {
        HttpResponse<String> refused = post(
                "{\"number\":\"26-0000011\",\"vessel\":\" \",\"berth\":\"B1\",\"eta\":\"soon\",\"draughtCentimetres\":\"3,5\"}");
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(refused.body())
                .contains("{\"field\":\"eta\",\"value\":\"soon\",\"reason\":\"has to be a date and time, such as")
                .contains("{\"field\":\"draughtCentimetres\",\"value\":\"3,5\",\"reason\":\"has to be a whole number")
                .contains(
                        "{\"field\":\"number\",\"value\":\"26-0000011\",\"reason\":\"may have at most 9 characters\"}")
                .contains("{\"field\":\"vessel\",\"value\":null,\"reason\":\"is required\"}");
        assertThat(post(json("26-000001", "taken")).body())
                .contains("{\"field\":\"number\",\"value\":\"26-000001\",\"reason\":\"is taken\"}");
        HttpResponse<String> german = send(to("/api/bookings")
                .header("Accept-Language", "de")
                .POST(BodyPublishers.ofString("{\"number\":\"26-0000011\"}")));
        assertThat(german.body())
                .contains("darf h\u00f6chstens 9 Zeichen haben")
                .contains("fehlt");
    }

    @Test
    void aFormOfAPageWithoutAScriptIsTold() throws Exception {
        HttpRequest.Builder form = HttpRequest.newBuilder(URI.create(address + "/api/bookings"))
                .header("Content-Type", "application/x-www-form-urlencoded");
        HttpResponse<String> refused =
                send(form.POST(BodyPublishers.ofString("number=27-000009&vessel=Skua&eta=soon")));
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(refused.body())
                .isEqualTo("[\"eta has to be a date and time, such as 2026-04-01T06:30\",\"berth is required\"]");
        assertThat(send(form.POST(BodyPublishers.ofString(
                                "number=27-000009&vessel=Skua&berth=B1&eta=2027-01-01T10%3A00&revision=7")))
                        .body())
                .contains("\"eta\":\"2027-01-01T10:00\"")
                .contains("\"revision\":0");
    }

    @Test
    void aPatchChangesWhatItNames() throws Exception {
        String id = value(post(json("27-000003", "old")).body(), "id");
        HttpResponse<String> changed = patch(id, 0, "{\"remark\":null,\"berth\":\"B4\"}");
        assertThat(changed.statusCode()).isEqualTo(200);
        assertThat(changed.body())
                .contains("\"berth\":\"B4\"")
                .contains("\"remark\":null")
                .contains("\"vessel\":\"Skua\"");
        HttpResponse<String> refused = patch(id, 1, "{\"berth\":\"far away\",\"revision\":3,\"colour\":1}");
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(refused.body())
                .contains("{\"field\":\"berth\",\"value\":\"far away\",\"reason\":\"may have at most 4 characters\"}")
                .contains("{\"field\":\"revision\",\"value\":\"3\",\"reason\":\"cannot be set\"}")
                .contains("{\"field\":\"colour\",\"value\":\"1\",\"reason\":\"is not known here\"}");
        assertThat(patch(id, 0, "{\"berth\":\"B5\"}").body())
                .isEqualTo("{\"conflicts\":[{\"field\":\"berth\",\"mine\":\"B5\",\"theirs\":\"B4\"}]}");
    }

    private static HttpResponse<String> patch(String id, int revision, String json) throws Exception {
        return send(HttpRequest.newBuilder(URI.create(address + "/api/bookings/" + id))
                .header("Content-Type", "application/merge-patch+json")
                .header("If-Match", "\"" + revision + "\"")
                .method("PATCH", BodyPublishers.ofString(json)));
    }

    @Test
    void aLostRaceIsToldWithWhatIsWantedAndWhatIsThere() throws Exception {
        String id = value(post(json("27-000002", "old")).body(), "id");
        assertThat(put(id, 0, json("27-000002", "theirs")).statusCode()).isEqualTo(200);
        String mine = json("27-000002", "mine");
        HttpResponse<String> lost = put(id, 0, mine);
        assertThat(lost.statusCode()).isEqualTo(409);
        assertThat(lost.body())
                .isEqualTo("{\"conflicts\":[{\"field\":\"remark\",\"mine\":\"mine\",\"theirs\":\"theirs\"}]}");
        assertThat(send(to("/api/bookings/" + id).PUT(BodyPublishers.ofString(mine)))
                        .statusCode())
                .as("without If-Match")
                .isEqualTo(428);
    }

    @Test
    void anImportStoresWhatItCanAndTellsOfTheRestByLine() throws Exception {
        HttpResponse<String> report = send(HttpRequest.newBuilder(URI.create(address + "/api/bookings/import"))
                .header("Content-Type", "text/csv")
                .POST(BodyPublishers.ofString("""
                        number,vessel,berth,eta,draughtCentimetres,remark
                        28-000001,Ness,B2,2027-06-01T10:00,400,
                        28-000001,Twice,B2,2027-06-01T10:00,400,
                        28-000002,,B2,never,400,
                        28-000003,Skua,B2,2027-06-01T11:00,,
                        """)));
        assertThat(report.body())
                .startsWith("{\"stored\":2,")
                .contains("\"line\":3,\"problems\":[{\"field\":\"number\"")
                .contains("\"line\":4,\"problems\":[{\"field\":\"eta\"")
                .contains("\"field\":\"vessel\"");
    }

    @Test
    void theTraceOfTheLastRequestIsThereForDevelopers() throws Exception {
        get("/api/bookings?size=3");
        assertThat(get("/api/trace").body())
                .startsWith("[{\"what\":\"GET /api/bookings\",\"status\":200,\"lines\":[")
                .contains("select t.id, t.number");
        get("/api/bookings?size=4");
        HttpResponse<String> page = get("/api/trace/0");
        assertThat(page.headers().firstValue("Content-Type")).contains("text/html;charset=UTF-8");
        assertThat(page.body())
                .contains(
                        "<h1>GET /api/bookings, 200</h1>",
                        "from booking t",
                        "default-src &#39;none&#39;".replace("&#39;", "'"));
        assertThat(get("/api/trace/99").statusCode()).isEqualTo(404);
    }

    @Test
    void thePageIsServed() throws Exception {
        assertThat(get("/").body()).contains("<h1>Berth bookings</h1>").contains("harbour.js");
        assertThat(get("/harbour.js").statusCode()).isEqualTo(200);
    }

    @Test
    void manyRequestsAtOnceKeepTheirCounts() throws Exception {
        String id = value(post(json("29-000000", "0")).body(), "id");
        List<Integer> statuses = together(RACING, number -> () -> {
            while (true) {
                HttpResponse<String> seen = get("/api/bookings/" + id);
                int count = Integer.parseInt(value(seen.body(), "remark"));
                int revision = Integer.parseInt(value(seen.body(), "revision"));
                int status =
                        put(id, revision, json("29-000000", "" + (count + 1))).statusCode();
                if (status != 409) {
                    return status;
                }
            }
        });
        assertThat(statuses).containsOnly(200);
        assertThat(value(get("/api/bookings/" + id).body(), "remark")).isEqualTo("" + REQUESTS);
        assertThat(together(
                        REQUESTS,
                        number -> () -> post(json(String.format("29-%06d", number + 1), "new"))
                                .statusCode()))
                .containsOnly(201);
    }

    private interface Requests {
        Callable<Integer> request(int number);
    }

    private static List<Integer> together(int atOnce, Requests requests) throws Exception {
        ExecutorService threads = Executors.newFixedThreadPool(atOnce);
        List<Callable<Integer>> all = new ArrayList<>();
        for (int number = 0; number < REQUESTS; number++) {
            all.add(requests.request(number));
        }
        List<Integer> answers = new ArrayList<>();
        for (Future<Integer> answer : threads.invokeAll(all)) {
            answers.add(answer.get());
        }
        threads.shutdown();
        return answers;
    }
}
