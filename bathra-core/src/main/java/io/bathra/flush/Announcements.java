package io.bathra.flush;

import io.bathra.attr.ChangedAttribute;
import io.bathra.attr.Event;
import io.bathra.error.BathraException;
import io.bathra.mapping.Listener;
import io.bathra.mapping.Listener.Moment;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Change;
import io.bathra.track.Changes;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;

/** Tells the listeners of entities what a flush is about to do, what it has done, and that it is committed. */
final class Announcements {
    /** Listeners that make work for one another without end would never let a flush begin. */
    private static final int MOST_ROUNDS = 100;

    /** One thing that has happened to one entity. */
    private record Happened(Event event, Entry<?> entry, List<ChangedAttribute> changes) {
        void tell(Moment moment) {
            for (Listener listener : entry.entity().listeners(event, moment)) {
                listener.action().accept(entry.object(), changes);
            }
        }
    }

    private Map<Event, Set<Entry<?>>> told = Map.of(); // most entities are listened to by nobody
    private final List<Happened> happened = new ArrayList<>(0);

    /**
     * Tells everybody who wants to know before, until nothing more is changed by that.
     *
     * @param telling false to tell nobody
     * @param collect finds all changes
     * @return the changes, those by listeners among them
     */
    Changes before(boolean telling, Supplier<Changes> collect) {
        for (int round = 0; round < MOST_ROUNDS; round++) {
            Changes changes = collect.get();
            if (!telling) {
                return changes;
            }
            boolean news = false;
            List<Change.Insert> inserts = changes.inserts();
            for (int i = 0; i < inserts.size(); i++) { // no iterators: this is done for each flush
                news |= tell(Event.INSERT, inserts.get(i).entry(), List.of());
            }
            List<Change.Update> updates = changes.updates();
            for (int i = 0; i < updates.size(); i++) {
                Change.Update update = updates.get(i);
                boolean own = update.entry().entity().isHeard(Event.UPDATE);
                news |= own && tell(Event.UPDATE, update.entry(), changes(update));
            }
            List<Change.Delete> deletes = changes.deletes();
            for (int i = 0; i < deletes.size(); i++) {
                news |= tell(Event.REMOVE, deletes.get(i).entry(), List.of());
            }
            if (!news) {
                forgetOthers(changes);
                return changes;
            }
        }
        throw new BathraException("after " + MOST_ROUNDS + " rounds, the listeners still add and change entities that"
                + " others have to be told of; nothing was written. Make them come to an end");
    }

    /** Whether there is nobody to tell of what has happened. */
    boolean areNone() {
        return happened.isEmpty();
    }

    /** What a listener has undone does not happen. */
    private void forgetOthers(Changes changes) {
        if (happened.isEmpty()) {
            return;
        }
        Set<Entry<?>> changing = Collections.newSetFromMap(new IdentityHashMap<>());
        changes.inserts().forEach(insert -> changing.add(insert.entry()));
        changes.updates().forEach(update -> changing.add(update.entry()));
        Set<Entry<?>> leaving = Collections.newSetFromMap(new IdentityHashMap<>());
        changes.deletes().forEach(delete -> leaving.add(delete.entry()));
        happened.removeIf(one -> !(one.event() == Event.REMOVE ? leaving : changing).contains(one.entry()));
    }

    private boolean tell(Event event, Entry<?> entry, List<ChangedAttribute> changes) {
        if (!entry.entity().isHeard(event)) {
            return false;
        }
        told = told.isEmpty() ? new EnumMap<>(Event.class) : told;
        boolean first = entry.state() != Entry.State.LOOSE // it is not there, as the statement will show
                && told.computeIfAbsent(event, e -> Collections.newSetFromMap(new IdentityHashMap<>()))
                        .add(entry);
        if (first) {
            Happened one = new Happened(event, entry, changes);
            happened.add(one);
            one.tell(Moment.BEFORE);
        }
        return first && !entry.entity().listeners(event, Moment.BEFORE).isEmpty();
    }

    private static List<ChangedAttribute> changes(Change.Update update) {
        Entry<?> entry = update.entry();
        List<ChangedAttribute> changes = new ArrayList<>();
        for (StoredAttribute attribute : entry.entity().stored()) {
            boolean own = attribute == entry.entity().version()
                    || entry.entity().updateStamps().contains(attribute);
            if (update.changed().get(attribute.slot()) && !own) {
                changes.add(new ChangedAttribute(
                        attribute.name(),
                        attribute.shown(entry.before(attribute)),
                        attribute.shown(update.values()[attribute.slot()])));
            }
        }
        return changes;
    }

    /** Tells everybody who wants to know when everything is written. */
    void after() {
        happened.forEach(one -> one.tell(Moment.AFTER));
    }

    /** What is to be told when the transaction is committed. */
    List<Runnable> afterCommit() {
        return happened.isEmpty()
                ? List.of()
                : happened.stream()
                        .filter(one -> !one.entry()
                                .entity()
                                .listeners(one.event(), Moment.AFTER_COMMIT)
                                .isEmpty())
                        .<Runnable>map(one -> () -> one.tell(Moment.AFTER_COMMIT))
                        .toList();
    }
}
