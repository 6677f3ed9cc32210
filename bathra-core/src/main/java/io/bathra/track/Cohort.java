package io.bathra.track;

import java.util.ArrayList;
import java.util.List;

/** The entities that one query brought in together; an unread link is read for all of them at once. */
public final class Cohort {
    private final List<Entry<?>> members = new ArrayList<>();

    public void add(Entry<?> entry) {
        members.add(entry);
        entry.cohort = this;
    }

    /** Adds those that one query has read; the list is copied. */
    public void addAll(List<? extends Entry<?>> entries) {
        members.addAll(entries);
        for (int i = 0; i < entries.size(); i++) {
            entries.get(i).cohort = this;
        }
    }

    public List<Entry<?>> members() {
        return members;
    }
}
