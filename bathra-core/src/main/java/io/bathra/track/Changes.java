package io.bathra.track;

import java.util.List;

/** Everything that a flush would write, each list in the order in which the objects came to the unit of work. */
public record Changes(List<Change.Insert> inserts, List<Change.Update> updates, List<Change.Delete> deletes) {
    public Changes {
        inserts = List.copyOf(inserts);
        updates = List.copyOf(updates);
        deletes = List.copyOf(deletes);
    }

    public boolean isEmpty() {
        return inserts.isEmpty() && updates.isEmpty() && deletes.isEmpty();
    }
}
