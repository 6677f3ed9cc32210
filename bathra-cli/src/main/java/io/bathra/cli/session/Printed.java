package io.bathra.cli.session;

import java.util.ArrayList;
import java.util.List;

/** Lines for a person to read. Immutable. */
record Printed(List<Line> lines) {
    static final Printed NOTHING = new Printed(List.of());

    /** What a line is, for whoever shows it in colours. */
    enum Look {
        PLAIN,
        HEAD,
        FAINT,
        BAD,
        /** What should not be overlooked. */
        NOTE
    }

    record Line(String text, Look look) {}

    Printed {
        lines = List.copyOf(lines);
    }

    static Printed of(Look look, String text) {
        return new Printed(text.lines().map(line -> new Line(line, look)).toList());
    }

    static Printed plain(String text) {
        return of(Look.PLAIN, text);
    }

    Printed and(Printed more) {
        List<Line> all = new ArrayList<>(lines);
        all.addAll(more.lines);
        return new Printed(all);
    }

    boolean isEmpty() {
        return lines.isEmpty();
    }
}
