package io.bathra.link;

import io.bathra.access.Doors;
import io.bathra.access.IdentityList;
import io.bathra.access.LinksDoor;
import io.bathra.access.Tie;
import java.util.AbstractCollection;
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
 * <p>Equality is identity. {@code toString} reads nothing.
 */
public final class Links<T> extends AbstractCollection<T> implements Relation<T> {
    static {
        Doors.leave(new Door());
    }

    /** All elements when {@code read}, else those put in since the owner came from the database. */
    private IdentityList<T> elements = new IdentityList<>();

    private boolean read = true;
    private @Nullable Tie tie;
    private int slot;

    private Links() {}

    /** Links to nothing yet. */
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
        boolean added = elements.add(Objects.requireNonNull(element, "links hold entities, not null"));
        if (added && tie != null) {
            tie.included(slot, element);
        }
        return added;
    }

    /** Takes an element out. On unread links nothing is read, and the answer is true for whatever is taken out. */
    @Override
    public boolean remove(@Nullable Object element) {
        if (element == null) {
            return false;
        }
        boolean removed = elements.remove(element) || !read;
        if (removed && tie != null) {
            tie.excluded(slot, element);
        }
        return removed;
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

    private IdentityList<T> all() {
        if (!read) {
            Objects.requireNonNull(tie).read(slot);
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
            all.elements = new IdentityList<>();
            elements.forEach(all.elements::add);
            all.read = true;
        }

        @Override
        public void unread(Object links) {
            of(links).elements = new IdentityList<>();
            of(links).read = false;
        }

        @Override
        public void include(Object links, Object element) {
            of(links).elements.add(element);
        }

        @Override
        public void exclude(Object links, Object element) {
            of(links).elements.remove(element);
        }

        @SuppressWarnings("unchecked") // the model has checked the elements' class
        private static Links<Object> of(Object links) {
            return (Links<Object>) links;
        }
    }
}
