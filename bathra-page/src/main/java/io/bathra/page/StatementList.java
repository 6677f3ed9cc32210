package io.bathra.page;

import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Everything in order. Rows stand in blocks of fifty, of which a browser lays out those that are on the screen: a table
 * of ten thousand takes it seconds. The text of each statement stands once, laid out, behind the list.
 */
final class StatementList {
    private static final int BLOCK = 50;

    /** The first table that a statement names. */
    private static final Pattern TABLE =
            Pattern.compile("\\b(?:from|into|update|table)\\s+([\\w.\"`$]+)", Pattern.CASE_INSENSITIVE);

    private final List<Event> events;
    private final Markup page;

    /** The number of each text. */
    private final Map<String, Integer> texts = new LinkedHashMap<>();

    StatementList(List<Event> events, Markup page) {
        this.events = events;
        this.page = page;
    }

    void rows() {
        page.raw("<div class=\"list\" role=\"table\" aria-label=\"Everything in order\" aria-rowcount=\"")
                .raw(events.size())
                .raw("\"><div class=\"row head\" role=\"row\"><span role=\"columnheader\">Line</span>"
                        + "<span role=\"columnheader\">Unit</span><span role=\"columnheader\">What</span>"
                        + "<span role=\"columnheader\">Statement</span><span role=\"columnheader\" class=\"number\">Rows</span>"
                        + "<span role=\"columnheader\" class=\"number\">Time</span></div>\n");
        for (int from = 0; from < events.size(); from += BLOCK) {
            page.raw("<div class=\"block\" role=\"rowgroup\">\n");
            for (int i = from; i < Math.min(events.size(), from + BLOCK); i++) {
                row(i + 1, events.get(i));
            }
            page.raw("</div>\n");
        }
        page.raw("</div>\n");
    }

    private void row(int number, Event event) {
        Executed what = event.what();
        boolean statement = event.isStatement();
        int text = statement ? texts.computeIfAbsent(what.sql(), sql -> texts.size() + 1) : 0;
        page.raw("<div class=\"row ")
                .raw(event.failure() != null ? "bad" : what.kind().name().toLowerCase(Locale.ROOT))
                .raw("\" role=\"row\" id=\"l")
                .raw(number)
                .raw("\"><span role=\"cell\">")
                .raw(number)
                .raw("</span><span role=\"cell\">")
                .raw(what.unit())
                .raw("</span><span role=\"cell\">")
                .text(kind(what))
                .raw("</span><span role=\"cell\" class=\"said\">");
        if (statement) {
            page.raw("<a href=\"#t").raw(text).raw("\"><code>").text(what.sql()).raw("</code></a>");
        } else {
            page.text(what.sql());
        }
        page.raw("<small>").text(event.cause()).text(way(what));
        if (event.failure() != null) {
            page.raw(" <strong>failed: ").text(event.failure()).raw("</strong>");
        }
        page.raw("</small></span><span role=\"cell\" class=\"number\">");
        if (statement) {
            page.raw(what.rows());
        }
        page.raw("</span><span role=\"cell\" class=\"number\">");
        if (!what.time().isZero()) {
            page.text(Sections.millis(event.millis()));
        } else if (what.part() > 1) {
            page.raw("same trip");
        }
        page.raw("</span></div>\n");
    }

    private static String kind(Executed what) {
        return what.operation() != null
                ? what.operation().toString()
                : what.kind() == Kind.STATEMENT
                        ? first(what.sql())
                        : what.kind().name().toLowerCase(Locale.ROOT);
    }

    private static String first(String sql) {
        int end = sql.indexOf(' ');
        return (end < 0 ? sql : sql.substring(0, end)).toLowerCase(Locale.ROOT);
    }

    private static String way(Executed what) {
        StringBuilder way = new StringBuilder();
        if (what.step() > 0) {
            way.append(", step ").append(what.step());
        }
        if (what.trip() > 0) {
            way.append(", trip ").append(what.trip());
        }
        return way.append(what.path() == null ? "" : ", by " + what.path()).toString();
    }

    private static String table(Executed what) {
        if (what.table() != null) {
            return what.table();
        }
        Matcher found = TABLE.matcher(what.sql());
        return what.kind() == Kind.STATEMENT && found.find() ? found.group(1) : "";
    }

    /** Each statement once, laid out. */
    void texts() {
        page.raw("<ol class=\"texts\">\n");
        texts.forEach((sql, number) -> page.raw("<li id=\"t")
                .raw(number)
                .raw("\"><pre>")
                .text(SqlLayout.of(sql))
                .raw("</pre></li>\n"));
        page.raw("</ol>\n");
    }

    /** What the script filters by: for each row its unit, kind and table, each word once. */
    void data() {
        Map<String, Integer> words = new LinkedHashMap<>();
        page.raw("<script type=\"application/json\" id=\"data\">{\"rows\":[");
        for (int i = 0; i < events.size(); i++) {
            Executed what = events.get(i).what();
            page.raw(i == 0 ? "[" : ",[")
                    .raw(what.unit())
                    .raw(",")
                    .raw(number(kind(what), words))
                    .raw(",")
                    .raw(number(table(what), words))
                    .raw("]");
        }
        page.raw("],\"words\":[");
        String comma = "";
        for (String word : words.keySet()) {
            page.raw(comma).json(word);
            comma = ",";
        }
        page.raw("]}</script>\n");
    }

    private static int number(String word, Map<String, Integer> words) {
        return Objects.requireNonNull(words.computeIfAbsent(word, one -> words.size()));
    }
}
