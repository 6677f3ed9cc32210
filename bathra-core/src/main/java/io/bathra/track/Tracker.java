package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.error.BathraException;
import io.bathra.error.UnreadLinkException;
import io.bathra.model.Attribute;
import io.bathra.model.BackLinkAttribute;
import io.bathra.model.HiddenRow;
import io.bathra.model.LinkAttribute;
import io.bathra.model.LinksAttribute;
import io.bathra.model.Model;
import io.bathra.model.ModelEntity;
import io.bathra.model.PartsAttribute;
import io.bathra.model.PivotAttribute;
import io.bathra.model.StoredAttribute;
import io.bathra.model.ToMany;
import io.bathra.track.Belongings.HiddenFrom;
import io.bathra.track.Entry.State;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
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

    /** How many objects have come so far. */
    int numbers() {
        return numbers;
    }

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
            sides.showInPivots(entry);
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
                    attachNeighbour(target, link.cascades(), open);
                    sides.show(entry, link, target);
                }
            }
            for (BackLinkAttribute back : entry.entity().backLinks()) {
                Object target = Doors.link().target(back.holder(entry.object()));
                if (target != null) {
                    attachNeighbour(target, true, open);
                    sides.pointBack(entry, back, target);
                }
            }
            for (LinksAttribute many : entry.entity().toManys()) {
                for (Object element : Doors.links().present(many.holder(entry.object()))) {
                    attachNeighbour(element, many.cascades(), open);
                    sides.pointBack(entry, many, element);
                }
            }
            for (PivotAttribute pivot : entry.entity().pivots()) {
                for (Object element : Doors.links().present(pivot.holder(entry.object()))) {
                    attachNeighbour(element, pivot.cascades(), open);
                    sides.showPair(entry, pivot, element);
                }
            }
            for (PartsAttribute parts : entry.entity().parts()) {
                for (Object target : targetsOf(parts, entry.object())) {
                    attachNeighbour(target, true, open);
                }
            }
        }
        return first;
    }

    /** The new objects that links inside parts lead to come along when the parts are looked at. */
    List<Object> targetsInParts(Entry<?> owner, PartsAttribute parts) {
        List<Object> targets = targetsOf(parts, owner.object());
        targets.forEach(target -> attachNew(target, true));
        return targets;
    }

    private static List<Object> targetsOf(PartsAttribute parts, Object owner) {
        List<LinkAttribute> links = parts.parts().memberLinks();
        List<Object> targets = new ArrayList<>();
        if (links.isEmpty()) {
            return targets;
        }
        for (Object part : parts.now(owner)) {
            HiddenRow row = parts.row(owner, part, null);
            for (LinkAttribute link : links) {
                Object holder = link.get(row);
                Object target = holder == null ? null : Doors.link().target(holder);
                if (target != null) {
                    targets.add(target);
                }
            }
        }
        return targets;
    }

    private void attachNeighbour(Object object, boolean cascades, Deque<Entry<?>> open) {
        if (cascades && byObject.get(object) == null && isNew(model.entity(object.getClass()), object)) {
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
        sides.hideFromPivots(entry);
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
            entity.withRow().forEach(attribute -> write(entry, attribute, row[attribute.slot()]));
        } catch (RuntimeException e) {
            forget(entry); // a value that cannot be converted must not leave half an object behind
            throw e;
        }
        for (ToMany many : entity.allToManys()) {
            Doors.links().unread(many.holder(object));
        }
        for (BackLinkAttribute back : entity.backLinks()) {
            Doors.link().unknown(back.holder(object));
        }
        for (StoredAttribute later : entity.laters()) {
            Doors.later().unread(later.later(object));
        }
        entry.snapshot = row;
        return entry;
    }

    /** Takes the rows of an owner's parts as they were read, in their order. */
    public List<Entry<HiddenRow>> parts(Entry<?> owner, PartsAttribute attribute, List<@Nullable Object[]> rows) {
        List<Entry<HiddenRow>> before = Objects.requireNonNullElse(owner.parts(attribute), List.of());
        boolean same = before.size() == rows.size();
        for (int i = 0; same && i < rows.size(); i++) {
            same = PartsDifference.sameRow(before.get(i), rows.get(i));
        }
        if (same && !before.isEmpty()) {
            return before; // the collection holds them already, and whoever has taken an element keeps it
        }
        List<Entry<HiddenRow>> entries = new ArrayList<>(rows.size());
        for (int i = 0; i < rows.size(); i++) {
            entries.add(part(owner, attribute, rows.get(i), i));
        }
        owner.belongings().parts.put(attribute, entries);
        attribute.fill(owner.object(), entries.stream().map(Entry::object).toList());
        return entries;
    }

    private Entry<HiddenRow> part(Entry<?> owner, PartsAttribute attribute, @Nullable Object[] row, int index) {
        ModelEntity<HiddenRow> rows = attribute.parts().rows();
        Entry<HiddenRow> entry = new Entry<>(this, rows, rows.instantiate(), numbers, State.STORED);
        entry.key = Objects.requireNonNull(rows.keyIn(row));
        for (StoredAttribute stored : rows.stored()) {
            if (stored == attribute.parts().owner()) {
                attribute.setOwner(entry.object(), owner.object());
            } else {
                write(entry, stored, row[stored.slot()]);
            }
        }
        entry.snapshot = row;
        entry.place = () -> owner + "." + attribute.name() + "[" + index + "]";
        entry.tieHolders();
        return entry;
    }

    /** Whether an object may be brought up to date with its row, since nothing would be lost. */
    private static boolean isClean(Entry<?> entry) {
        return entry.state == State.STORED && !entry.isDirty();
    }

    /** Brings a known, unchanged object up to date with its row; one with changes is left alone. Tells which it was. */
    public boolean refresh(Entry<?> entry, @Nullable Object[] row) {
        if (!isClean(entry)) {
            return false;
        }
        @Nullable Object[] before = Objects.requireNonNull(entry.snapshot);
        try {
            bringUpToDate(entry, before, row);
        } catch (RuntimeException e) {
            bringUpToDate(entry, row, before); // a value that cannot be converted leaves the object as it was
            throw e;
        }
        entry.snapshot = row;
        for (StoredAttribute later : entry.entity().laters()) {
            Doors.later().unread(later.later(entry.object()));
        }
        return true;
    }

    private void bringUpToDate(Entry<?> entry, @Nullable Object[] from, @Nullable Object[] to) {
        for (StoredAttribute attribute : entry.entity().withRow()) {
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

    /** Fills a pivot's links with the entries that were read for it, corrected by what this unit has changed since. */
    public void fill(Entry<?> owner, PivotAttribute pivot, Map<Entry<?>, @Nullable Long> read) {
        Object holder = pivot.holder(owner.object());
        Map<Object, @Nullable Long> pairs = new LinkedHashMap<>();
        List<Object> elements = new ArrayList<>();
        List<Object> taken = Doors.links().taken(holder);
        Set<Object> without = Collections.newSetFromMap(new IdentityHashMap<>());
        without.addAll(taken);
        read.forEach((element, position) -> {
            if (element.state == State.STORED) {
                pairs.put(Objects.requireNonNull(element.key), position);
                if (!without.contains(element.object())) {
                    elements.add(element.object());
                }
            } else if (element.state == State.REMOVED) {
                element.belongings().hiddenFrom.add(new HiddenFrom(owner, pivot, true, position));
            }
        });
        elements.addAll(Doors.links().present(holder));
        settleOtherSides(owner, pivot, pairs, taken);
        Doors.links().fill(holder, elements);
        owner.belongings().pairs.put(pivot, pairs);
    }

    /** What this reading has shown to be there, or not to be there, the other sides need not do any more. */
    private void settleOtherSides(
            Entry<?> owner, PivotAttribute pivot, Map<Object, @Nullable Long> pairs, List<Object> taken) {
        PivotAttribute otherSide = pivot.otherSide();
        if (otherSide == null) {
            return;
        }
        for (Object element : taken) {
            Entry<?> target = byObject.get(element);
            if (target != null && target.key != null && !pairs.containsKey(target.key)) {
                Doors.links().forgetTaken(otherSide.holder(element), owner.object());
            }
        }
        for (Object element : Doors.links().present(pivot.holder(owner.object()))) {
            Entry<?> target = byObject.get(element);
            Object holder = otherSide.holder(element);
            if (target != null
                    && target.key != null
                    && pairs.containsKey(target.key)
                    && !Doors.links().isRead(holder)) {
                Doors.links().drop(holder, owner.object());
            }
        }
    }

    /** Fills the side of a one-to-one association without the foreign key, as far as it is not known better since. */
    public void fill(Entry<?> owner, BackLinkAttribute back, @Nullable Entry<?> read) {
        Object holder = back.holder(owner.object());
        boolean leadsHere = read != null
                && read.state == State.STORED
                && sides.knownTarget(back.otherEnd(), back.otherEnd().holder(read.object())) == owner.object();
        Doors.link().point(holder, leadsHere ? read.object() : null);
        if (leadsHere) {
            Doors.link().point(back.otherEnd().holder(read.object()), owner.object());
        }
    }

    // ---- both sides of an association

    void pointed(
            Entry<?> owner,
            Attribute association,
            @Nullable Object before,
            @Nullable Object beforeKey,
            @Nullable Object after) {
        if (closed) {
            return;
        }
        if (association instanceof LinkAttribute link) {
            sides.pointed(owner, link, before, beforeKey, after);
        } else if (association instanceof BackLinkAttribute back) {
            sides.backPointed(owner, back, before, after);
        }
    }

    /** A link is pointed to a row of which the key alone is known; the object is taken where it is here. */
    void pointedToKey(
            Entry<?> owner, LinkAttribute link, @Nullable Object before, @Nullable Object beforeKey, Object key) {
        Entry<?> target = closed ? null : entry(link.target(), key);
        Object holder = link.holder(owner.object());
        if (target == null) {
            Doors.link().unread(holder, key);
        } else {
            Doors.link().point(holder, target.object());
        }
        pointed(owner, link, before, beforeKey, target == null ? null : target.object());
    }

    void included(Entry<?> owner, ToMany many, Object element) {
        if (!closed) {
            sides.included(owner, many, element);
        }
    }

    void excluded(Entry<?> owner, ToMany many, Object element) {
        if (!closed) {
            sides.excluded(owner, many, element);
        }
    }

    /** Tracks an object that has come into reach, unless it is known, or a row of somebody else's. */
    void attachNew(Object object, boolean cascades) {
        if (cascades && byObject.get(object) == null && isNew(model.entity(object.getClass()), object)) {
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
        } else if (association instanceof BackLinkAttribute back) {
            reader.read(entry, back);
        } else if (association instanceof ToMany many) {
            reader.read(entry, many);
        } else if (association instanceof StoredAttribute later) {
            reader.readLater(entry, later);
        }
    }

    boolean isClosed() {
        return closed;
    }

    /** The key of an object, null while it has none. */
    @Nullable
    Object keyOf(Object object) {
        Entry<?> entry = byObject.get(object);
        return entry == null ? null : entry.key;
    }

    /** Lets go of everything, so that one entity that is kept does not keep the others. */
    public void close() {
        for (Entry<?> entry : entries) {
            entry.cohort = null;
            keepKeys(entry);
        }
        entries.clear();
        byObject.clear();
        byKey.clear();
        closed = true;
    }

    /** A link that has been read tells its key beyond the end of the unit. */
    private void keepKeys(Entry<?> entry) {
        for (LinkAttribute link : entry.entity().links()) {
            Object holder = link.holder(entry.object());
            Object target = Doors.link().target(holder);
            Object key = target == null ? null : keyOf(target);
            if (key != null) {
                Doors.link().tie(holder, new ClosedTie(link, target, key), link.slot());
            }
        }
    }

    // ---- after a flush, and back again

    /** What an entry was before a flush. */
    record Memento(
            Entry<?> entry,
            State state,
            @Nullable Object key,
            @Nullable Object @Nullable [] snapshot,
            List<StoredAttribute> changedLaters) {
        static Memento of(Entry<?> entry) {
            List<StoredAttribute> changed = entry.entity().laters().stream()
                    .filter(later -> Doors.later().isChanged(later.later(entry.object())))
                    .toList();
            return new Memento(entry, entry.state, entry.key, entry.snapshot, changed);
        }
    }

    /** The row of a new object has been written. */
    void inserted(Entry<?> entry, @Nullable Object[] row) {
        entry.state = State.STORED;
        entry.key = Objects.requireNonNull(entry.entity().keyIn(row));
        entry.snapshot = row;
        if (!isHidden(entry)) {
            byKey.computeIfAbsent(entry.entity(), e -> new HashMap<>()).put(entry.key, entry);
        }
        takeOver(entry, row);
    }

    /** Rows of parts and pivots are known to their owners alone. */
    private static boolean isHidden(Entry<?> entry) {
        return entry.place != null;
    }

    /** The row of a changed object has been written. */
    void updated(Entry<?> entry, @Nullable Object[] row) {
        entry.snapshot = row;
        takeOver(entry, row);
    }

    /** The row of a removed object has been deleted. */
    void deleted(Entry<?> entry) {
        if (!isHidden(entry)) {
            forget(entry);
        }
    }

    /** The object holds what the row holds: its key, and times and decimals as the column keeps them. */
    private void takeOver(Entry<?> entry, @Nullable Object[] row) {
        boolean replaced = false;
        for (StoredAttribute attribute : entry.entity().stored()) {
            if (!(attribute instanceof LinkAttribute)
                    && !Objects.deepEquals(row[attribute.slot()], attribute.get(entry.object()))) {
                attribute.set(entry.object(), attribute.shape().kept(row[attribute.slot()]));
                replaced = true;
            }
        }
        if (replaced && entry.entity().kind() == ModelEntity.Kind.PARTS) {
            // A part that was made anew, since the row keeps less than was given, has empty links.
            for (LinkAttribute link : entry.entity().links()) {
                if (Doors.link().target(link.holder(entry.object())) == null) {
                    write(entry, link, row[link.slot()]);
                }
            }
            entry.tieHolders();
        }
        for (StoredAttribute later : entry.entity().laters()) {
            row[later.slot()] = null; // the row is kept for comparison, and no copy of a large value with it
            Doors.later().changed(later.later(entry.object()), false);
        }
    }

    /** Takes back what a flush did. What the user has asked for since, a removal say, is still to be done. */
    void restore(Memento memento) {
        Entry<?> entry = memento.entry();
        memento.changedLaters().forEach(later -> Doors.later().changed(later.later(entry.object()), true));
        if (isHidden(entry)) {
            entry.state = memento.state();
            entry.key = memento.key();
            entry.snapshot = memento.snapshot();
            return;
        }
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
