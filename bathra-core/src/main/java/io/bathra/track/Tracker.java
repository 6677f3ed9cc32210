package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.error.BathraException;
import io.bathra.error.UnreadLinkException;
import io.bathra.model.Attribute;
import io.bathra.model.BackLinkAttribute;
import io.bathra.model.LinkAttribute;
import io.bathra.model.Model;
import io.bathra.model.ModelEntity;
import io.bathra.model.PartsAttribute;
import io.bathra.model.PivotAttribute;
import io.bathra.model.StoredAttribute;
import io.bathra.model.ToMany;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
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
    private final boolean readOnly;
    private final BothSides sides = new BothSides(this);
    private final Loader loader = new Loader(this, sides);
    private final Map<ModelEntity<?>, KeyIndex> byKey = new HashMap<>();
    private @Nullable ModelEntity<?> lastEntity;
    private KeyIndex lastKeys = new KeyIndex();
    private final ObjectIndex byObject = new ObjectIndex();

    /** Objects that were removed here; whoever still holds one holds nothing. */
    private final Set<Object> gone = Collections.newSetFromMap(new IdentityHashMap<>());

    private final List<Cohort> cohorts = new ArrayList<>();

    /** Whether any object has holders, which have to be told of the end. */
    private boolean holders;

    private final Reach reach = new Reach(this, sides);
    private final LooseRows loose = new LooseRows(this);
    private final Arrivals arrivals = new Arrivals(this, sides);
    private int numbers;

    /** Numbers of those that the user has added; others were merely reached from them. */
    private final BitSet added = new BitSet();

    private boolean closed;

    /**
     * @param readOnly whether nothing will ever be written, so that rows need not be remembered
     */
    public Tracker(Model model, RelationReader reader, boolean readOnly) {
        this.model = model;
        this.reader = reader;
        this.readOnly = readOnly;
    }

    /** A tracker behind which there is no database to read from. */
    public static Tracker alone(Model model) {
        return new Tracker(model, new NothingToRead(), false);
    }

    public boolean isReadOnly() {
        return readOnly;
    }

    public Model model() {
        return model;
    }

    Arrivals arrivals() {
        return arrivals;
    }

    /** What brings rows into objects. */
    public Loader loader() {
        return loader;
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
        return keysOf(entity).get(key);
    }

    boolean isAdded(Entry<?> entry) {
        return added.get(entry.number());
    }

    /** The live entries, oldest first. */
    public List<Entry<?>> entries() {
        return byObject.entries();
    }

    /** What a link to this object holds: the key of a row, the entry of a new object, or the object when unknown here. */
    Object targetValue(Object target) {
        Entry<?> entry = byObject.get(target);
        if (entry == null) {
            return new Stranger(target);
        }
        return entry.state == State.NEW ? entry : Objects.requireNonNull(entry.key);
    }

    /** What is to become of rows that have not been read. */
    public LooseRows loose() {
        return loose;
    }

    /** A cohort to which those that one query reads belong. */
    public Cohort newCohort() {
        Cohort cohort = new Cohort();
        cohorts.add(cohort);
        return cohort;
    }

    int nextNumber() {
        return ++numbers;
    }

    // ---- bringing in and taking away

    /** Begins to track a new object and everything new that it reaches; a removed one is taken back. */
    public void add(Object object) {
        Entry<?> entry = byObject.get(object);
        if (entry != null && entry.state == State.REMOVED) {
            takeBack(entry);
            return;
        }
        if (entry == null) {
            ModelEntity<?> entity = model.entity(object.getClass());
            if (!Reach.isNew(entity, object)) {
                throw new BathraException(
                        entity.describe(entity.drawnKeyOf(object)) + " has a key already, so it is not new, and"
                                + " this unit of work has not read it; read it here with require(" + entity.name()
                                + ".class, key) and change that object");
            }
            entry = reach.attach(object);
        }
        added.set(entry.number());
    }

    /** Removes an entity whose row is stored; taken back with what the log remembers. */
    public void remove(Entry<?> entry, UndoLog undo) {
        if (entry.state == State.STORED) {
            remove(entry.object());
            undo.add(() -> takeBack(entry));
        }
    }

    /** A removed entity is one like others again. */
    void takeBack(Entry<?> entry) {
        if (entry.state == State.REMOVED) {
            entry.state = State.STORED;
            sides.showInToManys(entry);
            sides.showInPivots(entry);
        }
    }

    /** The new objects that links inside parts lead to come along when the parts are looked at. */
    List<Object> targetsInParts(Entry<?> owner, PartsAttribute parts) {
        return reach.targetsInParts(owner, parts);
    }

    /** Tracks an object that has come into reach, unless it is known, or a row of somebody else's. */
    void attachNew(Object object, boolean cascades) {
        reach.attachNew(object, cascades);
    }

    ModelEntity<?> entityOf(Object object) {
        return model.entity(object.getClass());
    }

    <E> Entry<E> create(E object, State state) {
        return create(model.entity(classOf(object)), object, state);
    }

    <E> Entry<E> create(ModelEntity<E> entity, E object, State state) {
        Entry<E> entry = new Entry<>(this, entity, object, ++numbers, state);
        byObject.put(entry);
        if (!gone.isEmpty()) {
            gone.remove(object);
        }
        if (entity.hasHolders()) {
            holders = true;
            entry.tieHolders();
        }
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
        hideEverywhere(entry);
        if (entry.state == State.NEW) {
            forget(entry);
        } else {
            entry.state = State.REMOVED;
        }
    }

    /** A row has gone along with a removed one. */
    void takeAlong(Entry<?> entry) {
        hideEverywhere(entry);
        forget(entry);
    }

    /** What has gone along is there again. */
    void bringBack(List<Entry<?>> entries) {
        for (Entry<?> entry : entries) {
            comeBack(entry);
            entry.state = State.STORED;
        }
        entries.forEach(sides::showInToManys);
        for (int i = entries.size() - 1; i >= 0; i--) {
            sides.showInPivots(entries.get(i)); // each where it was when those before it had gone
        }
    }

    private void hideEverywhere(Entry<?> entry) {
        for (LinkAttribute link : entry.entity().links()) {
            Object target = sides.knownTarget(link, link.holder(entry.object()));
            if (target != null) {
                sides.hide(entry, link, target);
            }
        }
        sides.hideFromPivots(entry);
    }

    /** Stops to track an unchanged entity; whatever leads to it is unread again. */
    public void release(Entry<?> gone) {
        forget(gone);
        Object object = gone.object();
        this.gone.remove(object); // it is a stranger from now on
        for (Entry<?> entry : entries()) {
            for (LinkAttribute link : entry.entity().links()) {
                Object holder = link.holder(entry.object());
                if (Doors.link().target(holder) == object && gone.key != null) {
                    Doors.link().unread(holder, gone.key);
                }
            }
            for (BackLinkAttribute back : entry.entity().backLinks()) {
                Object holder = back.holder(entry.object());
                if (Doors.link().target(holder) == object && entry.state == State.STORED) {
                    Doors.link().unknown(holder);
                }
            }
            for (ToMany many : entry.entity().allToManys()) {
                Object holder = many.holder(entry.object());
                if (entry.state == State.STORED
                        && many.target() == gone.entity()
                        && Doors.links().present(holder).contains(object)) {
                    Doors.links().unread(holder);
                    if (many instanceof PivotAttribute pivot) {
                        entry.belongings().pairs().remove(pivot);
                    }
                }
            }
        }
    }

    /** Stops to track all entities, none of which has changes. */
    public void releaseAll() {
        for (Entry<?> entry : entries()) {
            entry.state = State.GONE;
        }
        cohorts.forEach(Cohort::letGo);
        cohorts.clear();
        byObject.clear();
        byKey.clear();
        lastEntity = null;
    }

    /** Begins to track an object that came from elsewhere as one with this row; its own values count as changes. */
    public <E> Entry<E> adopt(ModelEntity<E> entity, E object, @Nullable Object[] row) {
        Entry<E> entry = create(object, State.STORED);
        entry.key = Objects.requireNonNull(entity.keyIn(row));
        entry.snapshot = row;
        known(entry);
        for (LinkAttribute link : entity.links()) {
            Object holder = link.holder(object);
            Object target = Doors.link().target(holder);
            Object key = target == null || byObject.get(target) != null
                    ? null
                    : link.target().keyOf(target);
            if (key != null) {
                Doors.link().unread(holder, key);
            } else if (target != null) {
                attachNew(target, link.cascades());
            }
        }
        for (ToMany many : entity.allToManys()) {
            Doors.links().unread(many.holder(object));
        }
        for (BackLinkAttribute back : entity.backLinks()) {
            Doors.link().unknown(back.holder(object));
        }
        return entry;
    }

    /** Begins to track an object that came from elsewhere, of whose row the key and the version alone are known. */
    public <E> Entry<E> adoptUnread(ModelEntity<E> entity, E object, Object version) {
        @Nullable Object[] row = new Object[entity.stored().size()];
        Arrays.fill(row, Entry.UNKNOWN);
        for (StoredAttribute attribute : entity.keyAttributes()) {
            row[attribute.slot()] = attribute.get(object);
        }
        row[Objects.requireNonNull(entity.version()).slot()] = version;
        entity.laters().forEach(later -> row[later.slot()] = null);
        return adopt(entity, object, row);
    }

    void forget(Entry<?> entry) {
        entry.state = State.GONE;
        byObject.remove(entry.object());
        gone.add(entry.object());
        unknown(entry);
    }

    boolean isGone(Object object) {
        return gone.contains(object);
    }

    /** Rows of one entity come after one another, so its map is kept at hand. */
    private KeyIndex keysOf(ModelEntity<?> entity) {
        if (lastEntity != entity) {
            lastKeys = byKey.computeIfAbsent(entity, e -> new KeyIndex());
            lastEntity = entity;
        }
        return lastKeys;
    }

    /** Whether no row of an entity is known. */
    public boolean knowsNone(ModelEntity<?> entity) {
        return keysOf(entity).isEmpty();
    }

    /** The entry has a key that no other one has, so that nobody need look for one. */
    void knownAnew(Entry<?> entry) {
        keysOf(entry.entity()).append(entry);
    }

    /** The entry has a key from now on. */
    void known(Entry<?> entry) {
        keysOf(entry.entity()).put(entry);
    }

    /** The entry is not known by its key any more. */
    void unknown(Entry<?> entry) {
        if (entry.key != null) {
            keysOf(entry.entity()).remove(entry.key);
        }
    }

    /** An entry that had gone is live again. */
    void comeBack(Entry<?> entry) {
        byObject.putBack(entry);
        gone.remove(entry.object());
        known(entry);
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
            arrivals.await(owner, link, key);
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
        for (Entry<?> entry : holders ? entries() : List.<Entry<?>>of()) {
            keepKeys(entry);
        }
        cohorts.forEach(Cohort::letGo);
        cohorts.clear();
        byObject.clear();
        byKey.clear();
        lastEntity = null;
        loose.clear();
        arrivals.clear();
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
}
