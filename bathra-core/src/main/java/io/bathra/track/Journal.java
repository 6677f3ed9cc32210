package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.link.Later;
import io.bathra.link.Link;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Set;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/**
 * What a unit of work knew before, so that going back is exact. It is kept from the moment the transaction is about to
 * write, or a place is marked; until then nothing is remembered and nothing costs.
 *
 * <p>Whatever changes what is known passes here first: an entry, before it becomes another state, key or row; a holder,
 * before it is pointed, filled or emptied, by the user or by the library; the tracker, before it knows one more or one
 * less. They cannot be changed in another way, so nobody who learns something in a new way can forget the journal.
 *
 * <p>The values of fields are not remembered: when the rows are known as they were, they follow from these, and from
 * what was asked for since.
 */
public final class Journal {
    /**
     * A point to go back to.
     *
     * @param known how much had been remembered
     * @param holders how many holders had been remembered
     * @param asked how much the user had asked for
     * @param read how many entries had been read since the journal was begun
     * @param released how many entries the user had let go
     * @param numbers how many objects had come so far
     */
    public record Mark(int known, int holders, int asked, int read, int released, int numbers) {}

    /** What a holder held. */
    record Held(Entry<?> owner, Runnable memory) {}

    private final Tracker tracker;

    // Empty in units that only read, so made when the first entry comes.
    private List<Runnable> known = List.of();
    private List<Held> holders = List.of();
    private List<Request> asked = List.of();
    private List<Entry<?>> read = List.of();
    private List<Entry<?>> released = List.of();

    /** Holders that have been remembered since the last mark; null for none, as in most units. */
    private @Nullable Set<Object> touched;

    private boolean on;
    private Mark begun = new Mark(0, 0, 0, 0, 0, 0);

    /** How many objects had come at the last mark: those that came since are let go as a whole. */
    private int older;

    Journal(Tracker tracker) {
        this.tracker = tracker;
    }

    /** Whether anything is remembered. */
    public boolean isOn() {
        return on;
    }

    /** Begins to remember, unless it has begun. */
    public void begin() {
        if (!on) {
            on = true;
            older = tracker.numbers();
            begun = new Mark(0, 0, 0, 0, 0, older);
        }
    }

    /** Where it began. */
    public Mark begun() {
        return begun;
    }

    /** A point to go back to, from now on. */
    public Mark mark() {
        begin();
        older = tracker.numbers();
        touched = null;
        return new Mark(known.size(), holders.size(), asked.size(), read.size(), released.size(), older);
    }

    /** There is nothing left to go back to. */
    public void end() {
        known = List.of();
        holders = List.of();
        asked = List.of();
        read = List.of();
        released = List.of();
        touched = null;
        on = false;
    }

    private static <T> List<T> with(List<T> some, T more) {
        List<T> all = some.isEmpty() ? new ArrayList<>(4) : some;
        all.add(more);
        return all;
    }

    // ---- what passes here

    /** An entry is about to change. */
    void entry(Entry<?> entry) {
        if (on && isOlder(entry)) {
            known = with(known, entry.memory());
        }
    }

    /** A holder of an entry's object is about to change. */
    void holder(Entry<?> owner, Object holder) {
        if (on && isOlder(owner) && touch(holder)) {
            remember(owner, holder);
        }
    }

    /** All holders of an object are about to change that comes from elsewhere, maybe from this unit. */
    void holders(Entry<?> owner) {
        if (!on) {
            return;
        }
        Object object = owner.object();
        List<Object> all = new ArrayList<>();
        owner.entity().links().forEach(link -> all.add(link.holder(object)));
        owner.entity().inverses().forEach(back -> all.add(back.holder(object)));
        owner.entity().allToManys().forEach(many -> all.add(many.holder(object)));
        owner.entity().laters().forEach(later -> all.add(later.later(object)));
        all.stream().filter(this::touch).forEach(holder -> remember(owner, holder));
    }

    /** Whether a holder has not been remembered since the last mark; it is now. */
    private boolean touch(Object holder) {
        Set<Object> all = touched;
        if (all == null) {
            all = Collections.newSetFromMap(new IdentityHashMap<>());
            touched = all;
        }
        return all.add(holder);
    }

    private void remember(Entry<?> owner, Object holder) {
        Runnable memory = holder instanceof Link<?>
                ? Doors.link().memory(holder)
                : holder instanceof Later<?>
                        ? Doors.later().memory(holder)
                        : Doors.links().memory(holder);
        holders = with(holders, new Held(owner, memory));
    }

    /** Whether an entry was known at the last mark; those of parts are numbered by the flush that makes them. */
    private boolean isOlder(Entry<?> entry) {
        return entry.number() <= older || entry.isHidden();
    }

    /** Something else is about to change, or has changed, which this takes back. */
    void add(Runnable back) {
        if (on) {
            known = with(known, back);
        }
    }

    /** An entry has been read, maybe as this transaction has made it. */
    void read(Entry<?> entry) {
        if (on) {
            read = with(read, entry);
        }
    }

    /** The user has let an entry go. */
    void released(Entry<?> entry) {
        if (on) {
            released = with(released, entry);
        }
    }

    /** The user has asked for something, which is about to be written. */
    void asked(Request one) {
        if (on) {
            asked = with(asked, one);
        }
    }

    // ---- going back

    /** What the user has asked for since a mark, in order. */
    List<Request> askedSince(Mark mark) {
        return asked.subList(mark.asked(), asked.size());
    }

    /** The entries that were read since a mark. */
    List<Entry<?>> readSince(Mark mark) {
        return read.subList(mark.read(), read.size());
    }

    /** The entries that the user has let go since a mark. */
    List<Entry<?>> releasedSince(Mark mark) {
        return released.subList(mark.released(), released.size());
    }

    /**
     * Makes everything known again that was known at a mark, and nothing else.
     *
     * @param restores whether what the holders of an entry's object held is given back to them
     * @return the entries that have changed since
     */
    Set<Entry<?>> back(Mark mark, Predicate<Entry<?>> restores) {
        on = false; // what is given back is no news
        Set<Entry<?>> changed = Collections.newSetFromMap(new IdentityHashMap<>());
        for (int i = known.size() - 1; i >= mark.known(); i--) {
            Runnable memory = known.remove(i);
            memory.run();
            if (memory instanceof Entry.Memory<?> one) {
                changed.add(one.entry());
            }
        }
        for (int i = holders.size() - 1; i >= mark.holders(); i--) {
            Held held = holders.remove(i);
            if (restores.test(held.owner())) {
                held.memory().run();
                changed.add(held.owner());
            }
        }
        forget(asked, mark.asked());
        forget(read, mark.read());
        forget(released, mark.released());
        touched = null;
        older = mark.numbers();
        return changed;
    }

    private static void forget(List<?> some, int from) {
        if (from < some.size()) {
            some.subList(from, some.size()).clear();
        }
    }

    /** Nobody knows whether what was written is there: it is not tracked any more, nor is what was read since. */
    public void outcomeUnknown() {
        Set<Entry<?>> uncertain = Collections.newSetFromMap(new IdentityHashMap<>());
        uncertain.addAll(read);
        asked.forEach(one -> uncertain.add(one.entry()));
        for (Runnable memory : known) {
            if (memory instanceof Entry.Memory<?> one && !one.entry().isHidden()) {
                uncertain.add(one.entry());
            }
        }
        end();
        for (Entry<?> entry : uncertain) {
            if (tracker.entryOf(entry.object()) == entry) {
                tracker.release(entry);
            }
        }
    }

    /** Goes on to remember after having gone back to a mark. */
    void goOn() {
        on = true;
    }
}
