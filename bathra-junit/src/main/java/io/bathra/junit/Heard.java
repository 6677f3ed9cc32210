package io.bathra.junit;

import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import io.bathra.trace.TraceLine;
import io.bathra.trace.TraceListener;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** Collects what a store executes. */
final class Heard implements TraceListener {
    private final List<TraceLine> lines = new ArrayList<>();
    private final Set<String> tables;

    Heard(Model model) {
        tables = model.tables().stream().map(EntityOutline::table).collect(Collectors.toUnmodifiableSet());
    }

    @Override
    public synchronized void executed(TraceLine line) {
        lines.add(line);
    }

    synchronized void clear() {
        lines.clear();
    }

    /** Forgets what came after some. */
    synchronized void backTo(int size) {
        lines.subList(size, lines.size()).clear();
    }

    synchronized int size() {
        return lines.size();
    }

    synchronized Statements since(int place) {
        return new Statements(List.copyOf(lines.subList(Math.min(place, lines.size()), lines.size())), tables);
    }
}
