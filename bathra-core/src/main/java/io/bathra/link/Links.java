package io.bathra.link;

import io.bathra.access.Doors;
import io.bathra.access.IdentityList;
import io.bathra.access.LinksDoor;
import io.bathra.access.Tie;
import io.bathra.error.UnreadLinkException;
import java.io.InvalidObjectException;
import java.io.ObjectStreamException;
import java.io.Serializable;
import java.util.AbstractCollection;
import java.util.Collection;
import java.util.Collections;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * An association to many entities, as a final field of its owner:
 *
 * <pre>{@code
 * private final Links<Movement> movements = Links.empty();
 * }</pre>
 *
 * <p>Links that came with their owner from the database are read when they are first visited, in one statement for all
 * entities that the same query brought in. {@code add} and {@code remove} on unread links read nothing.
 *
 * <p>Each element is in it once; elements are compared by identity, so hash codes of entities play no part. From the
 * moment the owner is added to a unit of work, or was read by one, the other side is kept consistent: an element put in
 * here points back to the owner. Before that, the links are a plain collection.
 *
 * <p>Equality is identity. {@code toString} and the fields read nothing, so a debugger that shows either is harmless.
 * Serialized, the links take no entity along: what comes out at the other end belongs to no unit of work and cannot be
 * read.
 */
public final class Links<T> extends AbstractCollection<T> implements Relation<T>, Serializable {
    private static final long serialVersionUID = 1;

    static {
        Doors.leave(new Door());
    }

    /** All elements when {@code read}, else those put in since the owner came from the database. */
    private transient IdentityList<T> elements = new IdentityList<>();

    /** While unread, those taken out since the owner came from the database. */
    private transient IdentityList<T> taken = new IdentityList<>();

    private transient boolean read = true;
    private transient @Nullable Tie tie;
    private transient int slot;

    private Links() {}

    /**
     * Links to nothing yet.
     *
     * @param <T> the other entity
     * @return an association to nothing yet
     */
    public static <T> Links<T> empty() {
        return new Links<>();
    }

    @Override
    public boolean isRead() {
        return read;
    }

    /** Puts an element in, unless it is there. Reads nothing. */
    @Override
    public boolean add(T element) {
        boolean added = put(Objects.requireNonNull(element, "links hold entities, not null"));
        if (added && tie != null) {
            tie.included(slot, element);
        }
        return added;
    }

    private boolean put(T element) {
        touch();
        boolean back = taken.remove(element);
        return elements.add(element) || back;
    }

    /** Takes an element out. On unread links nothing is read, and the answer is true for whatever is taken out. */
    @Override
    public boolean remove(@Nullable Object element) {
        if (element == null) {
            return false;
        }
        @SuppressWarnings("unchecked") // what is no T is in no list of them
        boolean removed = take((T) element);
        if (removed && tie != null) {
            tie.excluded(slot, element);
        }
        return removed;
    }

    private boolean take(T element) {
        touch();
        boolean removed = elements.remove(element);
        return read ? removed : taken.add(element) || removed;
    }

    /**
     * Makes these the elements, in their order. What is there already stays, so that the difference alone is written.
     *
     * @param newElements the elements from now on
     */
    public void replaceAll(Collection<? extends T> newElements) {
        List<T> wanted = List.copyOf(newElements);
        IdentityList<T> kept = new IdentityList<>();
        wanted.forEach(kept::add);
        for (T element : all().copy()) {
            if (!kept.contains(element)) {
                remove(element);
            }
        }
        wanted.forEach(this::add);
        touch();
        elements.arrange(kept);
    }

    /**
     * Puts an element in at a place, counted from 0. Only where the association keeps an order.
     *
     * @param index the place, from 0
     * @param element the element
     * @throws UnsupportedOperationException when it keeps none
     * @throws IllegalArgumentException when the element is there already
     */
    public void insert(int index, T element) {
        checkOrder();
        Objects.checkIndex(index, all().size() + 1);
        if (!add(element)) {
            throw new IllegalArgumentException(
                    "the element is there already, and each is there once; use move(element, index)");
        }
        touch();
        elements.move(element, index);
    }

    /**
     * Moves an element to a place, counted from 0. Only where the association keeps an order.
     *
     * @param element the element
     * @param index the place, from 0
     * @throws UnsupportedOperationException when it keeps none
     * @throws java.util.NoSuchElementException when the element is not there
     */
    public void move(T element, int index) {
        checkOrder();
        Objects.checkIndex(index, all().size());
        if (!elements.contains(element)) {
            throw new NoSuchElementException(
                    "the element is not there, so it cannot be moved; use insert(index, element)");
        }
        touch();
        elements.move(element, index);
    }

    private void checkOrder() {
        if (tie != null && !tie.keepsOrder(slot)) {
            throw new UnsupportedOperationException(
                    tie.describe(slot) + " keeps no order; declare the pivot ordered(), or use add(element)");
        }
    }

    /** {@return the elements as they are now, in a list of its own that cannot be changed} */
    public List<T> asList() {
        return Collections.unmodifiableList(all().copy());
    }

    @Override
    public boolean contains(@Nullable Object element) {
        return all().contains(element);
    }

    @Override
    public int size() {
        return all().size();
    }

    @Override
    public void clear() {
        for (T element : all().copy()) {
            remove(element);
        }
    }

    /** Walks the elements as they are now: changes made during the walk do not disturb it. */
    @Override
    public Iterator<T> iterator() {
        Iterator<T> copy = all().copy().iterator();
        return new Iterator<>() {
            private @Nullable T last;

            @Override
            public boolean hasNext() {
                return copy.hasNext();
            }

            @Override
            public T next() {
                if (!copy.hasNext()) {
                    throw new NoSuchElementException();
                }
                last = copy.next();
                return last;
            }

            @Override
            public void remove() {
                if (last == null) {
                    throw new IllegalStateException("next() comes before remove()");
                }
                Links.this.remove(last);
                last = null;
            }
        };
    }

    /** Everything that changes what this holds comes by here first. */
    private void touch() {
        if (tie != null) {
            tie.touching(slot, this);
        }
    }

    private IdentityList<T> all() {
        if (!read) {
            if (tie == null) {
                throw new UnreadLinkException("these links");
            }
            tie.read(slot);
        }
        return elements;
    }

    @Override
    public boolean equals(@Nullable Object other) {
        return this == other;
    }

    @Override
    public int hashCode() {
        return System.identityHashCode(this);
    }

    @Override
    public String toString() {
        return read ? "Links(" + elements.size() + ")" : "Links(unread)";
    }

    /**
     * Written without elements: one entity that is sent away must not take all others along.
     *
     * @return what is written
     * @throws java.io.ObjectStreamException when that fails
     */
    private Object writeReplace() throws ObjectStreamException {
        for (T element : elements) {
            boolean stored = tie != null && (!tie.isOpen() || tie.keyOf(element) != null);
            if (!stored) {
                throw new InvalidObjectException(
                        "links to a new " + element.getClass().getSimpleName()
                                + " cannot be serialized, since elements are left behind; store the object first");
            }
        }
        return new Traveller(read && elements.size() == 0);
    }

    /** What came out at the other end belongs to no unit of work: it is empty, or unread and cannot be read. */
    private record Traveller(boolean empty) implements Serializable {
        private Object readResolve() {
            Links<?> links = new Links<>();
            links.read = empty;
            return links;
        }
    }

    private static final class Door implements LinksDoor {
        @Override
        public void tie(Object links, Tie tie, int slot) {
            of(links).tie = tie;
            of(links).slot = slot;
        }

        @Override
        public boolean isRead(Object links) {
            return of(links).read;
        }

        @Override
        public List<Object> present(Object links) {
            return of(links).elements.copy();
        }

        @Override
        public void fill(Object links, List<?> elements) {
            Links<Object> all = of(links);
            all.touch();
            all.elements = new IdentityList<>();
            elements.forEach(all.elements::add);
            all.taken = new IdentityList<>();
            all.read = true;
        }

        @Override
        public List<Object> taken(Object links) {
            return of(links).taken.copy();
        }

        @Override
        public void pending(Object links, List<?> present, List<?> taken) {
            Links<Object> all = of(links);
            all.touch();
            all.elements = new IdentityList<>();
            present.forEach(all.elements::add);
            all.taken = new IdentityList<>();
            taken.forEach(all.taken::add);
        }

        @Override
        public void forgetTaken(Object links, Object element) {
            of(links).touch();
            of(links).taken.remove(element);
        }

        @Override
        public int drop(Object links, Object element) {
            IdentityList<Object> elements = of(links).elements;
            of(links).touch();
            int index = elements.contains(element) ? elements.indexOf(element) : -1;
            elements.remove(element);
            return index;
        }

        @Override
        public void unread(Object links) {
            of(links).touch();
            of(links).elements = new IdentityList<>();
            of(links).taken = new IdentityList<>();
            of(links).read = false;
        }

        @Override
        public void include(Object links, Object element) {
            of(links).put(element);
        }

        @Override
        public void includeAt(Object links, int index, Object element) {
            IdentityList<Object> elements = of(links).elements;
            of(links).touch();
            of(links).taken.remove(element);
            if (elements.add(element) && index < elements.size()) {
                elements.move(element, index);
            }
        }

        @Override
        public void exclude(Object links, Object element) {
            of(links).take(element);
        }

        @Override
        public Runnable memory(Object links) {
            Links<Object> own = of(links);
            List<Object> elements = own.elements.copy();
            List<Object> taken = own.taken.copy();
            boolean read = own.read;
            return () -> {
                own.elements = new IdentityList<>();
                elements.forEach(own.elements::add);
                own.taken = new IdentityList<>();
                taken.forEach(own.taken::add);
                own.read = read;
            };
        }

        @SuppressWarnings("unchecked") // the model has checked the elements' class
        private static Links<Object> of(Object links) {
            return (Links<Object>) links;
        }
    }
}
