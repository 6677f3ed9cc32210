package io.bathra.page;

import io.bathra.trace.Executed;
import io.bathra.trace.Executed.Kind;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Draws what each unit did when: its transactions as bands, its statements as bars on them. */
final class Timeline {
    private static final int WIDTH = 1000;
    private static final int LANE = 26;
    private static final int MOST_LANES = 60;

    private final List<Event> events;
    private final long all;

    Timeline(List<Event> events) {
        this.events = events;
        long last = 1;
        for (Event event : events) {
            last = Math.max(last, end(event));
        }
        this.all = last;
    }

    private long begin(Event event) {
        return event.nanosAfter(events.get(0).what());
    }

    private long end(Event event) {
        return begin(event) + event.what().time().toNanos();
    }

    private double x(long nanos) {
        return Math.round(nanos * 10.0 * WIDTH / all) / 10.0;
    }

    void into(Markup page) {
        page.raw("<p class=\"legend\"><span class=\"of-read\">reads</span> <span class=\"of-write\">writes</span>"
                + " <span class=\"of-bad\">failed</span> <span class=\"of-tx\">transaction</span>"
                + " <span class=\"of-back\">rolled back</span></p>\n");
        Map<Long, List<Event>> units = new LinkedHashMap<>();
        events.forEach(event -> units.computeIfAbsent(event.what().unit(), unit -> new ArrayList<>())
                .add(event));
        page.raw("<div class=\"lanes\" role=\"list\">\n");
        units.entrySet().stream().limit(MOST_LANES).forEach(lane -> lane(page, lane.getKey(), lane.getValue()));
        page.raw("</div>\n<p class=\"dim scale\"><span>0</span><span>")
                .text(Sections.millis(all / 1e6))
                .raw("</span></p>\n");
        if (units.size() > MOST_LANES) {
            page.raw("<p class=\"dim\">")
                    .raw(units.size() - MOST_LANES)
                    .raw(" more units are in the list alone.</p>\n");
        }
    }

    private void lane(Markup page, long unit, List<Event> own) {
        long statements = own.stream().filter(Event::isStatement).count();
        Executed first = own.get(0).what();
        double taken = own.stream().mapToDouble(Event::millis).sum();
        page.raw("<div class=\"lane\" role=\"listitem\"><span class=\"who\">unit ")
                .raw(unit)
                .raw(" <small>")
                .text(first.thread())
                .raw("</small></span>\n<svg viewBox=\"0 0 " + WIDTH + " " + LANE
                        + "\" preserveAspectRatio=\"none\" role=\"img\" aria-label=\"unit ")
                .raw(unit)
                .raw(": ")
                .raw(statements)
                .raw(" statements in ")
                .quoted(Sections.millis(taken))
                .raw("\">");
        transactions(page, own);
        bars(page, own);
        page.raw("</svg><span class=\"much\">")
                .raw(statements)
                .raw(" · ")
                .text(Sections.millis(taken))
                .raw("</span></div>\n");
    }

    private void transactions(Markup page, List<Event> own) {
        long begun = -1;
        for (Event event : own) {
            Kind kind = event.what().kind();
            begun = kind == Kind.BEGIN || begun < 0 ? begin(event) : begun;
            if (kind == Kind.COMMIT || kind == Kind.ROLLBACK) {
                rect(page, kind == Kind.COMMIT ? "tx" : "tx back", begun, end(event), 2, LANE - 4);
                begun = -1;
            }
        }
    }

    /** What would lie on one point of the screen is one bar. */
    private void bars(Markup page, List<Event> own) {
        long from = -1;
        long to = -1;
        String style = "";
        for (Event event : own) {
            if (!event.isStatement()) {
                continue;
            }
            String wanted = event.failure() != null ? "bar bad" : event.isWriting() ? "bar write" : "bar";
            boolean joins = from >= 0 && wanted.equals(style) && x(begin(event)) - x(to) < 1;
            if (!joins && from >= 0) {
                rect(page, style, from, to, 7, LANE - 14);
                from = -1;
            }
            from = from < 0 ? begin(event) : from;
            to = joins ? Math.max(to, end(event)) : end(event);
            style = wanted;
        }
        if (from >= 0) {
            rect(page, style, from, to, 7, LANE - 14);
        }
    }

    private void rect(Markup page, String style, long from, long to, int y, int height) {
        page.raw("<rect class=\"" + style + "\" x=\"" + x(from) + "\" y=\"" + y + "\" width=\""
                + Math.max(1.5, x(to) - x(from)) + "\" height=\"" + height + "\"/>");
    }
}
