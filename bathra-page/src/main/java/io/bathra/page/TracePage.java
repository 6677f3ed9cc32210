package io.bathra.page;

import io.bathra.trace.Trace;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What was executed, as one HTML file that needs nothing else and asks nobody for anything. Immutable.
 *
 * <pre>{@code
 * TracePage.of("The call is delayed", work.trace()).write(Path.of("delay.html"));
 * }</pre>
 *
 * <p>Values that were bound are not in it; keys that were asked for only on request.
 */
public final class TracePage {
    private final String title;
    private final List<Event> events;
    private final int dropped;

    /** The same with keys; null where nobody knows them. */
    private final @Nullable List<Event> withKeys;

    private final @Nullable TracePage other;

    private TracePage(
            String title, List<Event> events, int dropped, @Nullable List<Event> withKeys, @Nullable TracePage other) {
        this.title = Objects.requireNonNull(title, "title");
        this.events = List.copyOf(events);
        this.dropped = dropped;
        this.withKeys = withKeys;
        this.other = other;
    }

    static TracePage of(String title, List<Event> events, int dropped) {
        return new TracePage(title, events, dropped, null, null);
    }

    /**
     * {@return what a unit of work has executed}
     *
     * @param title what stands above the page
     * @param trace what was executed
     */
    public static TracePage of(String title, Trace trace) {
        List<Event> events = new ArrayList<>();
        List<Event> withKeys = new ArrayList<>();
        trace.lines().forEach(line -> {
            events.add(new Event(line.executed(), line.executed().purpose(), null));
            withKeys.add(new Event(line.executed(), line.cause(), null));
        });
        return new TracePage(title, events, trace.dropped(), withKeys, null);
    }

    /** {@return the same with the keys that were asked for, which the trace of a unit knows: {@code find Vessel 7}} */
    public TracePage withKeys() {
        return withKeys == null ? this : new TracePage(title, withKeys, dropped, withKeys, other);
    }

    /**
     * {@return the same beside what was executed at another time: what is new since then, gone, slower, or more often}
     *
     * @param before what was executed before
     */
    public TracePage since(TracePage before) {
        return new TracePage(title, events, dropped, withKeys, Objects.requireNonNull(before, "before"));
    }

    /**
     * Writes the page.
     *
     * @param file the file
     */
    public void write(Path file) {
        try {
            Path folder = file.toAbsolutePath().getParent();
            if (folder != null) {
                Files.createDirectories(folder);
            }
            Files.writeString(file, html());
        } catch (IOException e) {
            throw new UncheckedIOException("the page cannot be written to " + file, e);
        }
    }

    /** {@return the page} */
    public String html() {
        String style = resource("page.css");
        String script = resource("page.js");
        Markup page = new Markup();
        page.raw("<!doctype html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n"
                        + "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n"
                        + "<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; style-src 'sha256-"
                        + hash(style) + "'; script-src 'sha256-" + hash(script) + "'\">\n<title>")
                .text(title)
                .raw("</title>\n<style>")
                .raw(style)
                .raw("</style>\n</head>\n<body>\n<header><h1>")
                .text(title)
                .raw("</h1></header>\n");
        content(page);
        page.raw("<script>").raw(script).raw("</script>\n</body>\n</html>\n");
        return page.toString();
    }

    private void content(Markup page) {
        Sections sections = new Sections(events, page);
        sections.totals(dropped);
        page.raw("<nav aria-label=\"Parts of the page\">");
        if (other != null) {
            page.raw("<a href=\"#compared\">Compared</a> ");
        }
        page.raw(
                "<a href=\"#timeline\">Timeline</a> <a href=\"#repeated\">Repeated</a> <a href=\"#slowest\">Slowest</a>"
                        + " <a href=\"#flushes\">Flushes</a> <a href=\"#memory\">From memory</a> <a href=\"#order\">In order</a>"
                        + " <a href=\"#texts\">Statements</a></nav>\n<main>\n");
        if (events.isEmpty()) {
            page.raw("<p>Nothing was executed.</p>\n</main>\n");
            return;
        }
        if (other != null) {
            section(page, "compared", "Compared with ", other.title);
            new Comparison(other.events, events).into(page, other.title, title);
            page.raw("</section>\n");
        }
        section(page, "timeline", "Timeline", "");
        new Timeline(events).into(page);
        page.raw("</section>\n");
        section(page, "repeated", "Repeated", "");
        sections.repetitions();
        page.raw("</section>\n");
        section(page, "slowest", "Slowest", "");
        sections.slowest();
        page.raw("</section>\n");
        section(page, "flushes", "Flushes", "");
        sections.flushes();
        page.raw("</section>\n");
        section(page, "memory", "Answered from memory", "");
        sections.memory();
        page.raw("</section>\n");
        section(page, "order", "In order", "");
        page.raw(
                "<form class=\"filters\" hidden><label>Unit <select id=\"unit\"><option value=\"\">all</option></select>"
                        + "</label><label>What <select id=\"kind\"><option value=\"\">all</option></select></label>"
                        + "<label>Table <select id=\"table\"><option value=\"\">all</option></select></label>"
                        + "<label>Text <input id=\"text\" type=\"search\"></label>"
                        + "<output id=\"shown\"></output></form>\n");
        StatementList list = new StatementList(events, page);
        list.rows();
        page.raw("</section>\n");
        section(page, "texts", "Statements", "");
        list.texts();
        page.raw("</section>\n</main>\n");
        list.data();
    }

    private static void section(Markup page, String id, String heading, String rest) {
        page.raw("<section id=\"" + id + "\" aria-labelledby=\"h-" + id + "\"><h2 id=\"h-" + id + "\">")
                .text(heading + rest)
                .raw("</h2>\n");
    }

    private static String resource(String name) {
        try (InputStream in = Objects.requireNonNull(TracePage.class.getResourceAsStream(name), name)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static String hash(String text) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
            return Base64.getEncoder().encodeToString(digest);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
