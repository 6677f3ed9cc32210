package io.bathra.track;

import io.bathra.error.BathraException;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The objects of one unit of work: one object per row, what each row held, and both sides of every association in step.
 */
public final class Tracker {
    private final Mapping model;
    private final boolean forgetful;
    private final BothSides sides = new BothSides(this);
    private final Loader loader = new Loader(this, sides);
    private final Journal journal = new Journal(this);
    private final IdentityMap known = new IdentityMap(journal);
    private final List<Cohort> cohorts = new ArrayList<>(2);

    /** Whether any object has holders, which have to be told of the end. */
    private boolean holders;

    private final Reach reach = new Reach(this, sides);
    private final LooseRows loose = new LooseRows(this);
    private final Arrivals arrivals = new Arrivals(this, sides);
    private final Borders borders = new Borders(this);
    private final HolderEvents holderEvents;
    private int numbers;

    /** Those that are removed for the sake of others, and not by the user. */
    private final BitSet along = new BitSet(); // by their numbers

    /** Numbers of those that the user has added; others were merely reached from them. */
    private final BitSet added = new BitSet();

    private boolean closed;

    /**
     * @param forgetful whether rows need not be remembered, since nothing will ever be written
     */
    public Tracker(Mapping model, RelationReader reader, boolean forgetful) {
        this.model = model;
        this.holderEvents = new HolderEvents(this, sides, reader);
        this.forgetful = forgetful;
    }

    /** A tracker behind which there is no database to read from. */
    public static Tracker alone(Mapping model) {
        return new Tracker(model, new NothingToRead(), false);
    }

    public boolean isForgetful() {
        return forgetful;
    }

    public Mapping model() {
        return model;
    }

    /** What was known before. */
    public Journal journal() {
        return journal;
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
        return known.get(object);
    }

    public @Nullable Entry<?> entry(ModelEntity<?> entity, Object key) {
        return known.get(entity, key);
    }

    boolean isAdded(Entry<?> entry) {
        return added.get(entry.number());
    }

    /** Stops to track an unchanged entity; whatever leads to it is unread again. */
    public void release(Entry<?> entry) {
        borders.release(entry);
    }

    /** Brings in objects that came from elsewhere. */
    public Borders borders() {
        return borders;
    }

    /** The live entries, oldest first. */
    public List<Entry<?>> entries() {
        return known.entries();
    }

    /** What a link to an object holds: the key of a row, the entry of a new object, or the object when unknown here. */
    Object targetValue(Object target) {
        Entry<?> entry = known.get(target);
        if (entry == null) {
            return new Stranger(target);
        }
        return entry.state() == State.NEW ? entry : Objects.requireNonNull(entry.key());
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
        Entry<?> entry = known.get(object);
        if (entry != null && entry.state() == State.REMOVED) {
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
        addedBy(entry);
    }

    /** The user has added an object. */
    void addedBy(Entry<?> entry) {
        if (!isAdded(entry)) {
            if (journal.isOn()) {
                journal.add(() -> added.clear(entry.number()));
            }
            added.set(entry.number());
        }
    }

    /** Removes an entity whose row is stored, for the sake of others: nobody has asked for it. */
    public void removeAlong(Entry<?> entry) {
        if (entry.state() == State.STORED) {
            remove(entry.object());
            along.set(entry.number());
            journal.add(() -> along.clear(entry.number()));
        }
    }

    /** Whether an entity is removed for the sake of others alone. */
    boolean isAlong(Entry<?> entry) {
        return along.get(entry.number());
    }

    /** A removed entity is one like others again. */
    void takeBack(Entry<?> entry) {
        if (entry.state() == State.REMOVED) {
            entry.become(State.STORED);
            if (along.get(entry.number())) {
                along.clear(entry.number());
                journal.add(() -> along.set(entry.number()));
            }
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
        boolean wasGone = known.arrived(entry);
        if (journal.isOn()) { // this is done for each row
            journal.add(() -> neverCame(entry, wasGone));
        }
        if (entity.hasHolders()) {
            if (state == State.NEW) {
                sides.isRead();
            }
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
        Entry<?> entry = known.get(object);
        if (entry == null) {
            throw new BathraException("an object of " + object.getClass().getSimpleName()
                    + " cannot be removed, because this unit of work does not know it; read it here first");
        }
        if (entry.state() == State.REMOVED) {
            return;
        }
        sides.hideEverywhere(entry);
        if (entry.state() == State.NEW) {
            forget(entry);
        } else {
            entry.become(State.REMOVED);
        }
    }

    /** A row has gone along with a removed one. */
    void takeAlong(Entry<?> entry) {
        sides.hideEverywhere(entry);
        forget(entry);
    }

    /** Takes the memory of a transaction that is over to its beginning; what the user wants is still to be done. */
    public WayBack rolledBack() {
        return WayBack.keepingWishes(this, sides, journal.begun(), true);
    }

    /** Takes back what has come since a mark; what the user wants is still to be done. */
    public WayBack backTo(Journal.Mark mark) {
        return WayBack.keepingWishes(this, sides, mark, false);
    }

    /** Goes back to a place: what the user has asked for since is taken back too. */
    public WayBack backToPlace(Journal.Mark mark) {
        return WayBack.toPlace(this, sides, mark);
    }

    /** These changes are written, and about to be settled. */
    public void askedFor(Changes changes) {
        if (journal.isOn()) {
            Request.of(this, changes).forEach(journal::asked);
        }
    }

    /** The transaction is committed: nobody goes back any more. */
    public void settled() {
        journal.end();
        along.clear();
    }

    /** An object whose row will never have been is new again. */
    void renew(Entry<?> entry, boolean wasAdded) {
        entry.stand(State.NEW, null, null);
        known.comeBack(entry, false);
        if (wasAdded) {
            added.set(entry.number());
        }
    }

    /** An object that had gone stands for a row again. */
    void readmit(Entry<?> entry, Object key, @Nullable Object[] row) {
        journal.read(entry);
        journal.add(() -> neverCame(entry, true));
        entry.stand(State.STORED, key, row);
        known.comeBack(entry, true);
    }

    /** The journal has gone back beyond the moment at which an object came. */
    private void neverCame(Entry<?> entry, boolean wasGone) {
        known.neverCame(entry, wasGone);
        added.clear(entry.number());
        along.clear(entry.number());
    }

    /** Stops to track all entities, none of which has changes. */
    public void releaseAll() {
        if (journal.isOn()) {
            for (Entry<?> entry : List.copyOf(entries())) {
                forget(entry);
                isStranger(entry.object());
                journal.released(entry);
            }
        } else { // the same, but nobody will ask what was known
            entries().forEach(entry -> entry.become(State.GONE));
            known.clear();
        }
        cohorts.forEach(Cohort::letGo);
        cohorts.clear();
    }

    void forget(Entry<?> entry) {
        known.forget(entry);
    }

    /** A removed object is a stranger from now on, like any other. */
    void isStranger(Object object) {
        known.isStranger(object);
    }

    boolean isGone(Object object) {
        return known.isGone(object);
    }

    /** Whether nothing is known that could be written. */
    public boolean knowsNothing() {
        return known.entries().isEmpty() && loose.areNone();
    }

    /** Whether no row of an entity is known. */
    public boolean knowsNone(ModelEntity<?> entity) {
        return known.knowsNone(entity);
    }

    /** The entry has a key that no other one has, so that nobody need look for one. */
    void knownAnew(Entry<?> entry) {
        known.knownAnew(entry);
    }

    /** The entry has a key from now on. */
    void known(Entry<?> entry) {
        known.known(entry);
    }

    /** What happens when a holder is pointed, filled, or asked for what is not here. */
    HolderEvents holderEvents() {
        return holderEvents;
    }

    boolean isClosed() {
        return closed;
    }

    /** The key of an object, null while it has none. */
    @Nullable
    Object keyOf(Object object) {
        Entry<?> entry = known.get(object);
        return entry == null ? null : entry.key();
    }

    /** Lets go of everything, so that one entity that is kept does not keep the others. */
    public void close() {
        for (Entry<?> entry : holders ? entries() : List.<Entry<?>>of()) {
            ClosedTie.keepKeys(entry);
        }
        cohorts.forEach(Cohort::letGo);
        cohorts.clear();
        known.clear();
        loose.clear();
        arrivals.clear();
        closed = true;
    }
}
