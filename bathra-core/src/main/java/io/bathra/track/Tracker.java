package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.error.BathraException;
import io.bathra.error.UnreadLinkException;
import io.bathra.model.Attribute;
import io.bathra.model.LinkAttribute;
import io.bathra.model.LinksAttribute;
import io.bathra.model.Model;
import io.bathra.model.ModelEntity;
import io.bathra.model.StoredAttribute;
import io.bathra.track.Entry.State;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The objects of one unit of work: one object per row, what each row held, and both sides of every association in step.
 */
public final class Tracker {
    private final Model model;
    private final RelationReader reader;
    private final BothSides sides = new BothSides(this);
    private final Map<ModelEntity<?>, Map<Object, Entry<?>>> byKey = new HashMap<>();
    private final Map<Object, Entry<?>> byObject = new IdentityHashMap<>();
    /** In the order in which the objects came, so that what is made of them is always the same. */
    private List<Entry<?>> entries = new ArrayList<>();

    /** Whether {@code entries} has to be made anew, since entries have gone or come back. */
    private boolean stale;

    private int numbers;
    private boolean closed;

    public Tracker(Model model, RelationReader reader) {
        this.model = model;
        this.reader = reader;
    }

    // ---- what is known

    public @Nullable Entry<?> entryOf(Object object) {
        return byObject.get(object);
    }

    public @Nullable Entry<?> entry(ModelEntity<?> entity, Object key) {
        Map<Object, Entry<?>> keys = byKey.get(entity);
        return keys == null ? null : keys.get(key);
    }

    /** The live entries, oldest first. */
    public List<Entry<?>> entries() {
        if (stale) {
            entries = new ArrayList<>(byObject.values());
            entries.sort(Comparator.comparingInt(Entry::number));
            stale = false;
        }
        return entries;
    }

    /** What a link to this object holds: the key of a row, the entry of a new object, or the object when unknown here. */
    Object targetValue(Object target) {
        Entry<?> entry = byObject.get(target);
        if (entry == null) {
            return new Stranger(target);
        }
        return entry.state == State.NEW ? entry : Objects.requireNonNull(entry.key);
    }

    // ---- bringing in and taking away

    /** Begins to track a new object and everything new that it reaches; a removed one is taken back. */
    public void add(Object object) {
        Entry<?> entry = byObject.get(object);
        if (entry != null && entry.state == State.REMOVED) {
            entry.state = State.STORED;
            sides.showInToManys(entry);
            return;
        }
        if (entry == null) {
            ModelEntity<?> entity = model.entity(object.getClass());
            if (!isNew(entity, object)) {
                throw new BathraException(
                        entity.describe(entity.drawnKeyOf(object)) + " has a key already, so it is not new, and"
                                + " this unit of work has not read it; read it here with require(" + entity.name()
                                + ".class, key) and change that object");
            }
            entry = attach(object);
        }
        entry.added = true;
    }

    private static boolean isNew(ModelEntity<?> entity, Object object) {
        return !entity.keySource().isDrawn() || entity.drawnKeyOf(object) == null;
    }

    /** Tracks an object and all new ones that can be reached from it. Walks with a queue: graphs can be deep. */
    private Entry<?> attach(Object root) {
        Entry<?> first = create(root, State.NEW);
        Deque<Entry<?>> open = new ArrayDeque<>(List.of(first));
        while (!open.isEmpty()) {
            Entry<?> entry = open.poll();
            for (LinkAttribute link : entry.entity().links()) {
                Object target = Doors.link().target(link.holder(entry.object()));
                if (target != null) {
                    attachNeighbour(target, open);
                    sides.show(entry, link, target);
                }
            }
            for (LinksAttribute many : entry.entity().toManys()) {
                for (Object element : Doors.links().present(many.holder(entry.object()))) {
                    attachNeighbour(element, open);
                    sides.pointBack(entry, many, element);
                }
            }
        }
        return first;
    }

    private void attachNeighbour(Object object, Deque<Entry<?>> open) {
        if (byObject.get(object) == null && isNew(model.entity(object.getClass()), object)) {
            open.add(create(object, State.NEW));
        }
    }

    private <E> Entry<E> create(E object, State state) {
        ModelEntity<E> entity = model.entity(classOf(object));
        Entry<E> entry = new Entry<>(this, entity, object, ++numbers, state);
        byObject.put(object, entry);
        entries.add(entry);
        entry.tieHolders();
        return entry;
    }

    @SuppressWarnings("unchecked") // an object's class is a class of its type
    private static <E> Class<? extends E> classOf(E object) {
        return (Class<? extends E>) object.getClass();
    }

    /** Marks a row for removal; an object that is not stored yet is forgotten. */
    public void remove(Object object) {
        Entry<?> entry = byObject.get(object);
        if (entry == null) {
            throw new BathraException("an object of " + object.getClass().getSimpleName()
                    + " cannot be removed, because this unit of work does not know it; read it here first");
        }
        if (entry.state == State.REMOVED) {
            return;
        }
        for (LinkAttribute link : entry.entity().links()) {
            Object target = sides.knownTarget(link, link.holder(object));
            if (target != null) {
                sides.hide(entry, link, target);
            }
        }
        if (entry.state == State.NEW) {
            forget(entry);
        } else {
            entry.state = State.REMOVED;
        }
    }

    private void forget(Entry<?> entry) {
        entry.state = State.GONE;
        stale = true;
        byObject.remove(entry.object());
        if (entry.key != null) {
            byKey.getOrDefault(entry.entity(), new HashMap<>()).remove(entry.key);
        }
    }

    // ---- rows that were read

    /** Takes a row that was read and is not known here into the map, as the object given for it. */
    public <E> Entry<E> stored(ModelEntity<E> entity, E object, @Nullable Object[] row) {
        Entry<E> entry = create(object, State.STORED);
        entry.key = Objects.requireNonNull(entry.entity().keyIn(row));
        byKey.computeIfAbsent(entity, e -> new HashMap<>()).put(entry.key, entry);
        try {
            entity.stored().forEach(attribute -> write(entry, attribute, row[attribute.slot()]));
        } catch (RuntimeException e) {
            forget(entry); // a value that cannot be converted must not leave half an object behind
            throw e;
        }
        for (LinksAttribute many : entity.toManys()) {
            Doors.links().unread(many.holder(object));
        }
        entry.snapshot = row;
        return entry;
    }

    /** Brings a known, unchanged object up to date with its row; one with changes is left alone. */
    public void refresh(Entry<?> entry, @Nullable Object[] row) {
        if (entry.state != State.STORED || entry.isDirty()) {
            return;
        }
        @Nullable Object[] before = Objects.requireNonNull(entry.snapshot);
        try {
            bringUpToDate(entry, before, row);
        } catch (RuntimeException e) {
            bringUpToDate(entry, row, before); // a value that cannot be converted leaves the object as it was
            throw e;
        }
        entry.snapshot = row;
    }

    private void bringUpToDate(Entry<?> entry, @Nullable Object[] from, @Nullable Object[] to) {
        for (StoredAttribute attribute : entry.entity().stored()) {
            Object before = from[attribute.slot()];
            Object after = to[attribute.slot()];
            if (attribute instanceof LinkAttribute link && !Objects.equals(before, after)) {
                repoint(entry, link, after);
            } else if (!(attribute instanceof LinkAttribute)
                    && !attribute.shape().same(before, after)) {
                attribute.set(entry.object(), attribute.shape().kept(after));
            }
        }
    }

    private void repoint(Entry<?> entry, LinkAttribute link, @Nullable Object key) {
        Object old = sides.knownTarget(link, link.holder(entry.object()));
        if (old != null) {
            sides.hide(entry, link, old);
        }
        write(entry, link, key);
        Entry<?> target = key == null ? null : entry(link.target(), key);
        if (target != null) {
            sides.show(entry, link, target.object());
        }
    }

    private void write(Entry<?> entry, StoredAttribute attribute, @Nullable Object value) {
        if (attribute instanceof LinkAttribute link) {
            Object holder = link.holder(entry.object());
            if (value == null) {
                Doors.link().point(holder, null);
            } else {
                Doors.link().unread(holder, value);
            }
        } else {
            attribute.set(entry.object(), attribute.shape().kept(value));
        }
    }

    /** Fills a to-many with the entries that were read for it, corrected by what this unit has changed since. */
    public void fill(Entry<?> owner, LinksAttribute many, List<Entry<?>> read) {
        Object holder = many.holder(owner.object());
        LinkAttribute back = many.otherEnd();
        List<Object> elements = new ArrayList<>();
        for (Entry<?> child : read) {
            Object childHolder = back.holder(child.object());
            if (child.state == State.STORED && sides.knownTarget(back, childHolder) == owner.object()) {
                Doors.link().point(childHolder, owner.object());
                elements.add(child.object());
            }
        }
        elements.addAll(Doors.links().present(holder));
        Doors.links().fill(holder, elements);
    }

    // ---- both sides of an association

    void pointed(
            Entry<?> owner,
            LinkAttribute link,
            @Nullable Object before,
            @Nullable Object beforeKey,
            @Nullable Object after) {
        if (!closed) {
            sides.pointed(owner, link, before, beforeKey, after);
        }
    }

    void included(Entry<?> owner, LinksAttribute many, Object element) {
        if (!closed) {
            sides.included(owner, many, element);
        }
    }

    void excluded(Entry<?> owner, LinksAttribute many, Object element) {
        if (!closed) {
            sides.excluded(owner, many, element);
        }
    }

    /** Tracks an object that has come into reach, unless it is known, or a row of somebody else's. */
    void attachNew(Object object) {
        if (byObject.get(object) == null && isNew(model.entity(object.getClass()), object)) {
            attach(object);
        }
    }

    // ---- reading on demand

    void read(Entry<?> entry, Attribute association) {
        if (closed) {
            throw new UnreadLinkException(entry.toString(), entry.entity().name(), association.name());
        }
        if (association instanceof LinkAttribute link) {
            reader.read(entry, link);
        } else if (association instanceof LinksAttribute many) {
            reader.read(entry, many);
        }
    }

    /** Lets go of everything, so that one entity that is kept does not keep the others. */
    public void close() {
        for (Entry<?> entry : entries) {
            entry.cohort = null;
        }
        entries.clear();
        byObject.clear();
        byKey.clear();
        closed = true;
    }

    // ---- after a flush, and back again

    /** What an entry was before a flush. */
    record Memento(
            Entry<?> entry,
            State state,
            @Nullable Object key,
            @Nullable Object @Nullable [] snapshot) {
        static Memento of(Entry<?> entry) {
            return new Memento(entry, entry.state, entry.key, entry.snapshot);
        }
    }

    /** The row of a new object has been written. */
    void inserted(Entry<?> entry, @Nullable Object[] row) {
        entry.state = State.STORED;
        entry.key = Objects.requireNonNull(entry.entity().keyIn(row));
        entry.snapshot = row;
        byKey.computeIfAbsent(entry.entity(), e -> new HashMap<>()).put(entry.key, entry);
        takeOver(entry, row);
    }

    /** The row of a changed object has been written. */
    void updated(Entry<?> entry, @Nullable Object[] row) {
        entry.snapshot = row;
        takeOver(entry, row);
    }

    /** The row of a removed object has been deleted. */
    void deleted(Entry<?> entry) {
        forget(entry);
    }

    /** The object holds what the row holds: its key, and times and decimals as the column keeps them. */
    private static void takeOver(Entry<?> entry, @Nullable Object[] row) {
        for (StoredAttribute attribute : entry.entity().stored()) {
            if (!(attribute instanceof LinkAttribute)
                    && !Objects.deepEquals(row[attribute.slot()], attribute.get(entry.object()))) {
                attribute.set(entry.object(), attribute.shape().kept(row[attribute.slot()]));
            }
        }
    }

    /** Takes back what a flush did. What the user has asked for since, a removal say, is still to be done. */
    void restore(Memento memento) {
        Entry<?> entry = memento.entry();
        if (memento.state() == State.NEW && entry.key != null) {
            byKey.getOrDefault(entry.entity(), new HashMap<>()).remove(entry.key);
            if (entry.entity().keySource().isDrawn()) {
                entry.entity().clearKey(entry.object());
            }
        }
        if (entry.state == State.GONE) {
            byObject.put(entry.object(), entry);
            stale = true;
            byKey.computeIfAbsent(entry.entity(), e -> new HashMap<>())
                    .put(Objects.requireNonNull(memento.key()), entry);
        }
        boolean removedSince = entry.state == State.REMOVED;
        entry.state = removedSince && memento.state() == State.STORED ? State.REMOVED : memento.state();
        entry.key = memento.key();
        entry.snapshot = memento.snapshot();
        if (removedSince && memento.state() == State.NEW) {
            forget(entry); // the user has added and removed it: neither is left to do
        }
    }
}
