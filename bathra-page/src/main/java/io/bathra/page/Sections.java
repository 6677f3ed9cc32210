package io.bathra.page;

import io.bathra.trace.Executed.Kind;
import io.bathra.trace.Repetition;
import io.bathra.trace.TraceLine;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.IntStream;

/** The parts of a page that sum up: totals, what repeats, the slowest, flushes, answers that needed no statement. */
final class Sections {
    private static final int FEW = 3;
    private static final int MOST_SLOW = 10;
    private static final int MOST_FLUSHES = 50;
    private static final int MOST_LINKS = 5;

    private final List<Event> events;
    private final Markup page;

    Sections(List<Event> events, Markup page) {
        this.events = events;
        this.page = page;
    }

    static String millis(double millis) {
        return millis < 1 && millis > 0
                ? String.format(Locale.ROOT, "%.2f ms", millis)
                : millis < 1000
                        ? String.format(Locale.ROOT, "%.1f ms", millis)
                        : String.format(Locale.ROOT, "%.2f s", millis / 1000);
    }

    void totals(int dropped) {
        long statements = events.stream().filter(Event::isStatement).count();
        long trips = events.stream()
                .filter(event -> event.what().trip() > 0 && event.what().part() <= 1)
                .count();
        long rows = events.stream()
                .filter(Event::isStatement)
                .mapToLong(event -> event.what().rows())
                .sum();
        double taken = events.stream().mapToDouble(Event::millis).sum();
        long units =
                events.stream().map(event -> event.what().unit()).distinct().count();
        long failed = events.stream().filter(event -> event.failure() != null).count();
        page.raw("<dl class=\"totals\">");
        total("statements", String.format(Locale.ROOT, "%,d", statements));
        total("round trips", String.format(Locale.ROOT, "%,d", trips));
        total("rows", String.format(Locale.ROOT, "%,d", rows));
        total("time in the database", millis(taken));
        total("units", String.format(Locale.ROOT, "%,d", units));
        total("commits", "" + count(Kind.COMMIT));
        total("rollbacks", "" + count(Kind.ROLLBACK));
        total("answers from memory", String.format(Locale.ROOT, "%,d", count(Kind.MEMORY)));
        if (failed > 0) {
            total("failed", "" + failed);
        }
        page.raw("</dl>\n");
        if (dropped > 0) {
            page.raw("<p class=\"dim\">").raw(dropped).raw(" earlier lines are not kept.</p>\n");
        }
    }

    private long count(Kind kind) {
        return events.stream().filter(event -> event.what().kind() == kind).count();
    }

    private void total(String name, String value) {
        page.raw("<div><dt>").text(name).raw("</dt><dd>").text(value).raw("</dd></div>");
    }

    static List<Repetition> repeated(List<Event> events) {
        List<TraceLine> lines = new ArrayList<>();
        for (int i = 0; i < events.size(); i++) {
            if (events.get(i).isStatement()) {
                lines.add(
                        new TraceLine(i + 1, events.get(i).what(), events.get(i).cause()));
            }
        }
        return Repetition.among(lines, FEW);
    }

    void repetitions() {
        List<Repetition> repeated = repeated(events);
        if (repeated.isEmpty()) {
            page.raw("<p class=\"dim\">No statement ran more than three times.</p>\n");
            return;
        }
        page.raw("<ul class=\"cards\">\n");
        for (Repetition one : repeated) {
            page.raw("<li><p><strong>")
                    .raw(one.times())
                    .raw(" times</strong>, ")
                    .raw(one.rows())
                    .raw(" rows, ")
                    .text(millis(one.nanos() / 1e6))
                    .raw(", for ")
                    .text(String.join("; ", one.causes()))
                    .raw("</p><pre>")
                    .text(SqlLayout.of(one.sql()))
                    .raw("</pre><p class=\"cure\"><strong>Cure:</strong> ")
                    .text(one.fix())
                    .raw("</p></li>\n");
        }
        page.raw("</ul>\n");
    }

    void slowest() {
        List<Integer> slow = IntStream.range(0, events.size())
                .filter(i -> events.get(i).isStatement())
                .boxed()
                .sorted(Comparator.comparingDouble((Integer i) -> -events.get(i).millis()))
                .limit(MOST_SLOW)
                .toList();
        page.raw(
                "<table><thead><tr><th scope=\"col\">Line</th><th scope=\"col\" class=\"number\">Time</th><th scope=\"col\" class=\"number\">Rows</th>"
                        + "<th scope=\"col\">For</th><th scope=\"col\">Statement</th></tr></thead><tbody>\n");
        for (int i : slow) {
            Event event = events.get(i);
            page.raw("<tr><td>");
            link(i + 1);
            page.raw("</td><td class=\"number\">")
                    .text(millis(event.millis()))
                    .raw("</td><td class=\"number\">")
                    .raw(event.what().rows())
                    .raw("</td><td>")
                    .text(event.cause())
                    .raw("</td><td><code>")
                    .text(event.what().sql())
                    .raw("</code></td></tr>\n");
        }
        page.raw("</tbody></table>\n");
    }

    void flushes() {
        List<FlushShown> flushes = FlushShown.among(events);
        if (flushes.isEmpty()) {
            page.raw("<p class=\"dim\">Nothing was flushed.</p>\n");
            return;
        }
        for (FlushShown flush : flushes.subList(0, Math.min(MOST_FLUSHES, flushes.size()))) {
            page.raw("<details><summary>unit ")
                    .raw(flush.unit())
                    .raw(", transaction ")
                    .raw(flush.transaction())
                    .raw(": ")
                    .raw(flush.steps().size())
                    .raw(flush.steps().size() == 1 ? " step" : " steps")
                    .raw(", ")
                    .raw(flush.steps().stream().mapToLong(FlushShown.Step::rows).sum())
                    .raw(" rows</summary>\n<table><thead><tr><th scope=\"col\">Step</th><th scope=\"col\">Does</th>"
                            + "<th scope=\"col\">Table</th><th scope=\"col\" class=\"number\">Rows</th><th scope=\"col\">Carried out by</th>"
                            + "</tr></thead><tbody>\n");
            flush.steps().forEach(this::step);
            page.raw("</tbody></table></details>\n");
        }
        if (flushes.size() > MOST_FLUSHES) {
            page.raw("<p class=\"dim\">")
                    .raw(flushes.size() - MOST_FLUSHES)
                    .raw(" more flushes are in the list.</p>\n");
        }
    }

    private void step(FlushShown.Step step) {
        page.raw("<tr><td>")
                .raw(step.number())
                .raw("</td><td>")
                .text(step.operation())
                .raw("</td><td>")
                .text(step.table())
                .raw("</td><td class=\"number\">")
                .raw(step.rows())
                .raw("</td><td>");
        for (int line :
                step.lines().subList(0, Math.min(MOST_LINKS, step.lines().size()))) {
            link(line);
            page.raw(" ");
        }
        if (step.lines().size() > MOST_LINKS) {
            page.raw("and ").raw(step.lines().size() - MOST_LINKS).raw(" more");
        }
        page.raw("</td></tr>\n");
    }

    private void link(int line) {
        page.raw("<a href=\"#l").raw(line).raw("\">").raw(line).raw("</a>");
    }

    /** What the identity map answered, by the call. */
    void memory() {
        Map<String, Integer> answers = new LinkedHashMap<>();
        for (Event event : events) {
            if (event.what().kind() == Kind.MEMORY) {
                answers.merge(event.cause(), 1, Integer::sum);
            }
        }
        if (answers.isEmpty()) {
            page.raw("<p class=\"dim\">None.</p>\n");
            return;
        }
        page.raw("<table><thead><tr><th scope=\"col\">Call</th><th scope=\"col\">Times</th></tr></thead><tbody>\n");
        answers.entrySet().stream()
                .sorted(Map.Entry.<String, Integer>comparingByValue().reversed())
                .limit(MOST_FLUSHES)
                .forEach(answer -> page.raw("<tr><td>")
                        .text(answer.getKey())
                        .raw("</td><td class=\"number\">")
                        .raw(answer.getValue())
                        .raw("</td></tr>\n"));
        page.raw("</tbody></table>\n");
    }
}
