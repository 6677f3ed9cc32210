package io.bathra.junit;

import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import io.bathra.trace.Executed;
import io.bathra.trace.StatementListener;
import io.bathra.trace.TraceLine;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** Collects what a store executes. */
final class Heard implements StatementListener {
    private final List<TraceLine> lines = new ArrayList<>();
    private final Set<String> tables;

    Heard(Model model) {
        tables = model.tables().stream().map(EntityOutline::table).collect(Collectors.toUnmodifiableSet());
    }

    @Override
    public Ending started(Executed statement) {
        return (ended, failure) -> {
            if (failure == null) {
                add(ended);
            }
        };
    }

    private synchronized void add(Executed ended) {
        lines.add(new TraceLine(lines.size() + 1, ended, ended.purpose()));
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
