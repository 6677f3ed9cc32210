package io.bathra.track;

import java.util.ArrayList;
import java.util.List;

/** The entities that one query brought in together; an unread link is read for all of them at once. */
public final class Cohort {
    private List<Entry<?>> members = new ArrayList<>(2); // most queries of small units bring in one or two

    Cohort() {}

    public void add(Entry<?> entry) {
        members.add(entry);
        entry.cohort = this;
    }

    public List<Entry<?>> members() {
        return members;
    }

    /** One member that is kept must not keep the others. */
    void letGo() {
        members = List.of();
    }
}
