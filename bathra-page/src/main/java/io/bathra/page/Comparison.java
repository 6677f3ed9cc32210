package io.bathra.page;

import io.bathra.trace.Repetition;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Two recordings side by side: statements of one shape that were executed for the same, and what has become of them. */
final class Comparison {
    /** Numbers and keys in a cause differ from one run to the next. */
    private static final Pattern NUMBERS = Pattern.compile("\\d+");

    /** So much slower is no accident, if it is a matter of milliseconds. */
    private static final double SLOWER = 1.5;

    private static final double LEAST_MILLIS = 1;

    /** A shape and what it was executed for. */
    private record Shape(String sql, String cause) {}

    /** How often, with how many rows, in how much time. */
    private static final class Sum {
        private int times;
        private long rows;
        private double millis;
    }

    private final Map<Shape, Sum> before;
    private final Map<Shape, Sum> after;

    Comparison(List<Event> before, List<Event> after) {
        this.before = sums(before);
        this.after = sums(after);
    }

    private static Map<Shape, Sum> sums(List<Event> events) {
        Map<Shape, Sum> sums = new LinkedHashMap<>();
        for (Event event : events) {
            if (event.isStatement()) {
                String sql = Repetition.shapeOf(event.what().sql());
                String cause = NUMBERS.matcher(event.cause()).replaceAll("#");
                Sum sum = sums.computeIfAbsent(new Shape(sql, cause), shape -> new Sum());
                sum.times++;
                sum.rows += event.what().rows();
                sum.millis += event.millis();
            }
        }
        return sums;
    }

    void into(Markup page, String first, String second) {
        Set<Shape> all = new LinkedHashSet<>(before.keySet());
        all.addAll(after.keySet());
        List<Shape> sorted = new ArrayList<>(all);
        sorted.sort((one, other) -> Integer.compare(rank(one), rank(other)));
        page.raw("<table class=\"compared\"><thead><tr><th scope=\"col\">What</th><th scope=\"col\">Statement</th>"
                        + "<th scope=\"col\">")
                .text(first)
                .raw("</th><th scope=\"col\">")
                .text(second)
                .raw("</th></tr></thead><tbody>\n");
        page.raw("<tr><td><strong>in all</strong></td><td></td>");
        cell(page, total(before));
        cell(page, total(after));
        page.raw("</tr>\n");
        for (Shape shape : sorted) {
            page.raw("<tr><td><span class=\"verdict ")
                    .raw(verdict(shape).replace(' ', '-'))
                    .raw("\">")
                    .text(verdict(shape))
                    .raw("</span></td><td><code>")
                    .text(shape.sql())
                    .raw("</code><small>")
                    .text(shape.cause())
                    .raw("</small></td>");
            cell(page, before.get(shape));
            cell(page, after.get(shape));
            page.raw("</tr>\n");
        }
        page.raw("</tbody></table>\n");
    }

    private static Sum total(Map<Shape, Sum> sums) {
        Sum all = new Sum();
        for (Sum sum : sums.values()) {
            all.times += sum.times;
            all.rows += sum.rows;
            all.millis += sum.millis;
        }
        return all;
    }

    private static void cell(Markup page, @Nullable Sum sum) {
        page.raw("<td class=\"number\">");
        if (sum == null) {
            page.raw("–");
        } else {
            page.text(String.format(
                    Locale.ROOT, "%,d ×, %,d rows, %s", sum.times, sum.rows, Sections.millis(sum.millis)));
        }
        page.raw("</td>");
    }

    private int rank(Shape shape) {
        return List.of("gone", "new", "more often", "less often", "slower", "the same")
                .indexOf(verdict(shape));
    }

    private String verdict(Shape shape) {
        Sum one = before.get(shape);
        Sum other = after.get(shape);
        if (one == null) {
            return "new";
        } else if (other == null) {
            return "gone";
        } else if (one.times != other.times) {
            return other.times > one.times ? "more often" : "less often";
        }
        boolean slower =
                Objects.requireNonNull(other).millis > SLOWER * one.millis && other.millis - one.millis > LEAST_MILLIS;
        return slower ? "slower" : "the same";
    }
}
