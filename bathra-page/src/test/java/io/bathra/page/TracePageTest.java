package io.bathra.page;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assumptions.assumeThat;

import io.bathra.Store;
import io.bathra.link.Link;
import io.bathra.link.Links;
import io.bathra.model.Declare;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.imageio.ImageIO;
import org.htmlunit.WebClient;
import org.htmlunit.html.DomElement;
import org.htmlunit.html.HtmlInput;
import org.htmlunit.html.HtmlPage;
import org.htmlunit.html.HtmlSelect;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What pages show, what their script does, and that nothing that anybody has named does anything in them. */
class TracePageTest {
    static final class Ship {
        private Long id;
        private String name = "";
        private String code = "";
        private final Links<Visit> visits = Links.empty();

        Ship() {}

        Ship(String name) {
            this.name = name;
        }

        Long id() {
            return id;
        }

        String name() {
            return name;
        }

        String code() {
            return code;
        }

        Links<Visit> visits() {
            return visits;
        }
    }

    static final class Visit {
        private Long id;
        private final Link<Ship> ship = Link.empty();

        Link<Ship> ship() {
            return ship;
        }
    }

    private static final Model MODEL = Model.of(
            "ships",
            Entity.of(Ship.class, Ship::new)
                    .column(Ship::code, Declare.secret())
                    .links(Ship::visits, Visit::ship),
            Entity.of(Visit.class, Visit::new));

    @TempDir
    private Path folder;

    private final Store store = Store.open(MODEL, "jdbc:h2:mem:" + System.nanoTime() + ";DB_CLOSE_DELAY=-1");

    @BeforeEach
    void tables() {
        store.schema().createMissing();
    }

    private static void addShips(Store store) {
        store.run(work -> {
            for (int i = 0; i < 6; i++) {
                Ship ship = new Ship("Ship " + i);
                ship.code = "pin-" + i;
                Visit visit = new Visit();
                ship.visits().add(visit);
                work.add(ship);
            }
        });
    }

    private static void oneByOne(Store store) {
        for (long key = 1; key <= 6; key++) {
            long one = key;
            store.run(work -> {
                work.require(Ship.class, one);
                work.require(Ship.class, one);
            });
        }
    }

    private HtmlPage opened(String html) throws IOException {
        Path file = folder.resolve("page.html");
        Files.writeString(file, html);
        WebClient client = new WebClient();
        client.getOptions().setThrowExceptionOnScriptError(true);
        return client.getPage(file.toUri().toURL());
    }

    private static List<DomElement> lines(HtmlPage page) {
        return page.getByXPath("//div[@class='block']/div").stream()
                .map(DomElement.class::cast)
                .toList();
    }

    private static long shown(HtmlPage page) {
        return lines(page).stream().filter(line -> !line.hasAttribute("hidden")).count();
    }

    @Test
    void aRecordingShowsWhatAllUnitsHaveDone() throws IOException {
        Recording recording = Recording.of(store);
        addShips(recording.store());
        oneByOne(recording.store());
        assertThatThrownBy(() -> recording.store().sql("select * from nowhere").list())
                .isInstanceOf(RuntimeException.class);
        recording.close();
        oneByOne(recording.store());
        String html = recording.page("Ships & visits").html();
        HtmlPage page = opened(html);
        assertThat(page.getTitleText()).isEqualTo("Ships & visits");
        String text = page.getBody().asNormalizedText();
        assertThat(text)
                .contains("6 times, 6 rows")
                .contains("Cure: ")
                .contains("answers from memory")
                .contains("failed: StatementException")
                .doesNotContain("pin-", "Ship 3");
        assertThat(page.querySelectorAll(".lane")).hasSize(8);
        assertThat(page.getElementById("flushes").asNormalizedText()).contains("2 steps, 12 rows");
        assertThat(page.getElementById("memory").asNormalizedText()).contains("find Ship\t6");
    }

    @Test
    void theScriptFiltersByUnitKindTableAndText() throws IOException {
        Recording recording = Recording.of(store);
        addShips(recording.store());
        oneByOne(recording.store());
        HtmlPage page = opened(recording.page("filters").html());
        long all = lines(page).size();
        assertThat(shown(page)).isEqualTo(all);
        assertThat(page.getElementById("shown").getTextContent()).isEqualTo(all + " lines");
        HtmlSelect kind = (HtmlSelect) page.getElementById("kind");
        kind.setSelectedAttribute("select", true);
        assertThat(shown(page)).as("six ships, and keys of two tables").isEqualTo(8);
        HtmlSelect unit = (HtmlSelect) page.getElementById("unit");
        unit.setSelectedAttribute(unit.getOption(3).getValueAttribute(), true);
        assertThat(shown(page)).isEqualTo(1);
        unit.setSelectedAttribute("", true);
        kind.setSelectedAttribute("", true);
        HtmlSelect table = (HtmlSelect) page.getElementById("table");
        table.setSelectedAttribute("visit", true);
        assertThat(shown(page)).isPositive().isLessThan(all);
        table.setSelectedAttribute("", true);
        HtmlInput text = (HtmlInput) page.getElementById("text");
        text.setValue("commit");
        text.fireEvent("input");
        assertThat(shown(page)).isEqualTo(7);
        assertThat(page.getElementById("shown").getTextContent()).isEqualTo("7 of " + all + " lines");
    }

    @Test
    void aTraceShowsKeysOnlyOnRequest() {
        store.run(work -> {
            work.find(Ship.class, 4711L);
            TracePage page = TracePage.of("one unit", work.trace());
            assertThat(page.html()).contains("find Ship").doesNotContain("4711");
            assertThat(page.withKeys().html()).contains("find Ship 4711");
        });
    }

    @Test
    void twoRecordingsAreCompared() throws IOException {
        addShips(store);
        Recording bad = Recording.of(store);
        oneByOne(bad.store());
        Recording mended = Recording.of(store);
        mended.store().run(work -> work.findAll(Ship.class, List.of(1L, 2L, 3L, 4L, 5L, 6L)));
        HtmlPage page =
                opened(mended.page("mended").since(bad.page("one by one")).html());
        assertThat(page.getElementById("compared").asNormalizedText())
                .contains("Compared with one by one")
                .contains("gone", "new", "6 ×, 6 rows", "1 ×, 6 rows");
    }

    @Test
    void aWholeProgramIsRecordedWithoutAChange() {
        String html;
        try (Recording recording = Recording.ofProgram()) {
            assertThatThrownBy(Recording::ofProgram).isInstanceOf(IllegalStateException.class);
            try (Store other = Store.open(MODEL, "jdbc:h2:mem:program" + System.nanoTime())) {
                other.schema().createMissing();
                addShips(other);
            }
            html = recording.page("program").html();
        }
        assertThat(html).contains("insert into ship");
        Recording.ofProgram().close();
    }

    @Test
    void nothingThatAnybodyHasNamedDoesAnything() throws IOException {
        String hostile =
                "</script><script>document.title='done'</script>\"><img src=x onerror=\"document.title='done'\">"
                        + "\u202e\u2066\u0007\u200b'`";
        List<Event> events = new ArrayList<>();
        for (int i = 0; i < 5; i++) {
            events.add(event(1, i, hostile, hostile, hostile));
        }
        String html = TracePage.of(hostile, events, 0)
                .since(TracePage.of(hostile + "2", events, 0))
                .html();
        HtmlPage page = opened(html);
        assertThat(page.getTitleText()).contains("<script>").isNotEqualTo("done");
        assertThat(page.querySelectorAll("img")).isEmpty();
        assertThat(page.querySelectorAll("script")).hasSize(2);
        assertThat(html).doesNotContain("\u202e", "\u2066", "\u0007", "\u200b", "<img");
        assertThat(page.getBody().asNormalizedText()).contains("\\u202E\\u2066\\u0007\\u200B");
        HtmlSelect table = (HtmlSelect) page.getElementById("table");
        assertThat(table.getOptions().get(1).getText()).contains("</script>");
    }

    @Test
    void thePageAsksNobodyForAnything() throws Exception {
        String html = TracePage.of("alone", List.of(event(1, 0, "select 1", "ask", "")), 0)
                .html();
        assertThat(html).contains("default-src 'none'").doesNotContain("http://", "https://", "style=", "onclick");
        for (String kind : List.of("style", "script")) {
            Matcher body = Pattern.compile("<" + kind + ">(.*?)</" + kind + ">", Pattern.DOTALL)
                    .matcher(html);
            assertThat(body.find()).isTrue();
            byte[] digest =
                    MessageDigest.getInstance("SHA-256").digest(body.group(1).getBytes(StandardCharsets.UTF_8));
            assertThat(html)
                    .contains(kind + "-src 'sha256-" + Base64.getEncoder().encodeToString(digest) + "'");
        }
    }

    @Test
    void statementsAreLaidOut() {
        assertThat(SqlLayout.of("select a, 'from' from t left join u on u.id = t.id where (a = 1 and b = 2) and c = ?"
                        + " order by a limit 5"))
                .isEqualTo(
                        "select a, 'from'\nfrom t\n  left join u on u.id = t.id\nwhere (a = 1 and b = 2)\n  and c = ?\n"
                                + "order by a\nlimit 5");
        assertThat(SqlLayout.of("update ship set name = ? where id = ?"))
                .isEqualTo("update ship\nset name = ?\nwhere id = ?");
        assertThat(SqlLayout.of("delete from \"a 'b\" where x between 1 and 2"))
                .isEqualTo("delete from \"a 'b\"\nwhere x between 1 and 2");
    }

    private static Event event(long unit, int at, String sql, String cause, String table) {
        return new Event(
                new Executed(
                        unit,
                        1,
                        at + 1,
                        1,
                        0,
                        Kind.STATEMENT,
                        null,
                        table,
                        sql,
                        null,
                        3,
                        Instant.parse("2026-04-01T06:30:00Z").plusMillis(at),
                        Duration.ofNanos(300_000),
                        "main",
                        cause,
                        "ask once"),
                cause,
                null);
    }

    // ---- where there is a browser

    private static final Path BROWSER = Path.of("/usr/bin/chromium");

    private Path many(int statements) {
        assumeThat(BROWSER).exists();
        List<Event> events = new ArrayList<>();
        for (int i = 0; i < statements; i++) {
            String sql = "select t.id, t.name from ship t where t.id = ? and t.number = " + i % 40;
            events.add(event(i / 100, i, sql, "find", ""));
        }
        Path file = folder.resolve("many.html");
        TracePage.of("many", events, 0).write(file);
        return file;
    }

    private String browse(Path page, String... options) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(
                List.of(BROWSER.toString(), "--headless=new", "--no-sandbox", "--disable-gpu", "--hide-scrollbars"));
        command.addAll(List.of(options));
        command.add(page.toUri().toString());
        Process browser = new ProcessBuilder(command)
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
        String said = new String(browser.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(browser.waitFor(60, TimeUnit.SECONDS)).isTrue();
        return said;
    }

    @Test
    void aBrowserShowsTenThousandStatementsInBothThemes() throws Exception {
        Path page = many(10_000);
        Path light = folder.resolve("light.png");
        Path dark = folder.resolve("dark.png");
        browse(page, "--screenshot=" + light, "--window-size=1280,800");
        browse(page, "--screenshot=" + dark, "--window-size=390,844", "--blink-settings=preferredColorScheme=0");
        assertThat(brightness(light)).as("on the light ground").isGreaterThan(200);
        assertThat(brightness(dark)).as("on the dark ground").isLessThan(60);
    }

    private static int brightness(Path picture) throws IOException {
        int point = ImageIO.read(picture.toFile()).getRGB(3, 3);
        return ((point >> 16 & 255) + (point >> 8 & 255) + (point & 255)) / 3;
    }

    @Test
    void aBrowserLetsTheScriptRunAndNothingElse() throws Exception {
        String dom = browse(many(10_000), "--dump-dom");
        assertThat(dom).contains(">10000 lines</output>").contains("id=\"l10000\"");
        Path page = folder.resolve("other.html");
        String html = TracePage.of("x", List.of(event(1, 0, "select 1", "ask", "")), 0)
                .html();
        Files.writeString(page, html.replace("</main>", "<script>document.title = 'done'</script></main>"));
        assertThat(browse(page, "--dump-dom"))
                .as("the policy knows our script alone")
                .contains("<title>x</title>");
    }

    @Test
    void aBrowserPrintsAllOfIt() throws Exception {
        Path print = folder.resolve("page.pdf");
        browse(many(1_000), "--print-to-pdf=" + print, "--no-pdf-header-footer");
        assertThat(Files.size(print)).as("dozens of sheets").isGreaterThan(100_000);
    }
}
