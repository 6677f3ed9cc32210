package io.bathra.track;

import io.bathra.mapping.LinkAttribute;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * Links that were pointed to rows which are not here yet, so that the other side shows them from the moment it comes.
 */
final class Arrivals {

    private record Pointing(Entry<?> owner, LinkAttribute link) {}

    private final Tracker tracker;
    private final BothSides sides;
    private final Map<RowKey, List<Pointing>> awaited = new HashMap<>();

    Arrivals(Tracker tracker, BothSides sides) {
        this.tracker = tracker;
        this.sides = sides;
    }

    /** A link has been pointed to a row that is not here. */
    void await(Entry<?> owner, LinkAttribute link, Object key) {
        if (link.otherSide() != null && !tracker.isClosed()) {
            awaited.computeIfAbsent(new RowKey(link.target(), key), a -> new ArrayList<>())
                    .add(new Pointing(owner, link));
        }
    }

    /** The object of a row has come. */
    void arrived(Entry<?> target) {
        if (awaited.isEmpty()) {
            return;
        }
        Object key = Objects.requireNonNull(target.key());
        RowKey row = new RowKey(target.entity(), key);
        List<Pointing> waiting = awaited.remove(row);
        if (waiting != null) {
            tracker.journal().add(() -> awaited.put(row, waiting));
        }
        for (Pointing pointing : waiting == null ? List.<Pointing>of() : waiting) {
            Entry<?> owner = pointing.owner();
            boolean shown = tracker.entryOf(owner.object()) == owner && owner.state() != Entry.State.REMOVED;
            if (shown && key.equals(owner.now(pointing.link()))) {
                sides.show(owner, pointing.link(), target.object());
            }
        }
    }

    void clear() {
        awaited.clear();
    }
}
