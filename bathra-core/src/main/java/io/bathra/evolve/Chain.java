package io.bathra.evolve;

import io.bathra.history.Nearest;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** The order of files, each of which names the one that it comes after. */
final class Chain {
    private Chain() {}

    static List<Change> of(Collection<Change> changes) {
        Map<String, Change> byName = new LinkedHashMap<>();
        changes.forEach(change -> byName.put(change.name(), change));
        Map<String, Change> next = new LinkedHashMap<>();
        for (Change change : changes) {
            String after = change.after().orElse("");
            if (!after.isEmpty() && !byName.containsKey(after)) {
                throw new FaultyChange(
                        change.name(),
                        change.afterPlace(),
                        "comes after '" + after + "', which is not there"
                                + Nearest.to(after, byName.keySet())
                                        .map(one -> "; did you mean '" + one + "'?")
                                        .orElse("; get that file too"));
            }
            Change other = next.put(after, change);
            if (other != null) {
                throw new FaultyChange(
                        change.name(),
                        change.afterPlace(),
                        after.isEmpty()
                                ? "says not what it comes after, and neither does " + other.name()
                                        + "; one of them is the first, and the other one comes after something"
                                : "comes after '" + after + "', and so does " + other.name()
                                        + ", written elsewhere at the same time; put one behind the other: bathra change"
                                        + " reorder " + change.name());
            }
        }
        List<Change> ordered = new ArrayList<>();
        for (Change one = next.get(""); one != null; one = next.get(one.name())) {
            ordered.add(one);
        }
        if (ordered.size() < changes.size()) {
            Change lost = changes.stream()
                    .filter(one -> !ordered.contains(one))
                    .findFirst()
                    .orElseThrow();
            throw new FaultyChange(
                    lost.name(),
                    lost.afterPlace(),
                    "comes after '" + Objects.requireNonNull(lost.after().orElse(null))
                            + "', which in the end comes after it; one of them is the first");
        }
        return ordered;
    }
}
