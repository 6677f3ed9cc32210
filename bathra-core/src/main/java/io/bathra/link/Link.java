package io.bathra.link;

import io.bathra.access.Doors;
import io.bathra.access.LinkDoor;
import io.bathra.access.Tie;
import io.bathra.error.UnreadLinkException;
import java.io.InvalidObjectException;
import java.io.ObjectStreamException;
import java.io.Serializable;
import java.util.NoSuchElementException;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * An association to one entity, as a final field of its owner:
 *
 * <pre>{@code
 * private final Link<Vessel> vessel = Link.empty();
 * }</pre>
 *
 * <p>A link that came with its owner from the database holds only the foreign key until it is visited. Then it is read,
 * in one statement for all entities that the same query brought in.
 *
 * <p>From the moment its owner is added to a unit of work, or was read by one, the other side is kept consistent:
 * {@code movement.call().set(call)} shows in {@code call.movements()}. Before that a link is a plain reference.
 *
 * <p>Equality is identity. {@code toString} reads nothing. A link is serialized as its key: what comes out at the other
 * end belongs to no unit of work, so it has a key and cannot be read.
 */
public final class Link<T> implements Relation<T>, Serializable {
    private static final long serialVersionUID = 1;

    static {
        Doors.leave(new Door());
    }

    private transient @Nullable T target;
    private transient @Nullable Object unreadKey;
    private transient @Nullable Tie tie;
    private transient int slot;

    /** Unread, and the other end holds the foreign key. */
    private transient boolean unknown;

    private Link() {}

    /**
     * {@return a link to nothing yet}
     *
     * @param <T> the other entity
     */
    public static <T> Link<T> empty() {
        return new Link<>();
    }

    /**
     * {@return a link to this target}
     *
     * @param <T> the other entity
     * @param target where it leads
     */
    public static <T> Link<T> to(T target) {
        Link<T> link = new Link<>();
        link.target = Objects.requireNonNull(target, "a link to nothing is Link.empty()");
        return link;
    }

    /**
     * {@return the entity at the other end}
     *
     * @throws NoSuchElementException when the link is empty
     * @throws io.bathra.error.UnreadLinkException when it was never read and the unit of work is closed
     */
    public T get() {
        read();
        if (target == null) {
            throw new NoSuchElementException(
                    (tie == null ? "this link" : tie.describe(slot)) + " is empty; ask isEmpty() first, or use find()");
        }
        return target;
    }

    /** {@return the entity at the other end, if there is one} */
    public Optional<T> find() {
        read();
        return Optional.ofNullable(target);
    }

    /**
     * {@return whether the link leads nowhere} Reads nothing, except where the other end of a one-to-one association
     * holds the foreign key.
     */
    public boolean isEmpty() {
        if (unknown) {
            read();
        }
        return target == null && unreadKey == null;
    }

    /**
     * The foreign key, without reading the target.
     *
     * @return null when the link is empty, when the target has no key yet, while the owner is unknown to a unit of
     * work, and
     *     while the link is unread where the other end holds the foreign key
     */
    public @Nullable Object key() {
        if (target != null) {
            return tie == null ? null : tie.keyOf(target);
        }
        return unreadKey;
    }

    @Override
    public boolean isRead() {
        return unreadKey == null && !unknown;
    }

    /**
     * Points the link to another entity.
     *
     * @param newTarget where it leads from now on
     */
    public void set(T newTarget) {
        move(Objects.requireNonNull(newTarget, "to empty a link, use clear()"));
    }

    /** Makes the link lead nowhere. */
    public void clear() {
        move(null);
    }

    /**
     * Points the link to the row with this key, which is not read before the link is visited. A row that is not there
     * is an error of the flush.
     *
     * @param key a key of several attributes is the list of their values
     * @throws UnsupportedOperationException when the other end holds the foreign key
     */
    public void toKey(Object key) {
        Objects.requireNonNull(key, "to empty a link, use clear()");
        T before = target;
        Object beforeKey = unreadKey;
        if (key.equals(beforeKey)) {
            return;
        }
        if (tie != null) {
            tie.pointedToKey(slot, before, beforeKey, key);
        } else {
            target = null;
            unreadKey = key;
        }
    }

    private void move(@Nullable T newTarget) {
        if (unknown) {
            read(); // whoever leads here now has to let go
        }
        if (newTarget == target && unreadKey == null) {
            return;
        }
        T before = target;
        Object beforeKey = unreadKey;
        touch();
        target = newTarget;
        unreadKey = null;
        if (tie != null) {
            tie.pointed(slot, before, beforeKey, newTarget);
        }
    }

    /** Everything that changes what this holds comes by here first. */
    private void touch() {
        if (tie != null) {
            tie.touching(slot, this);
        }
    }

    private void read() {
        if (unreadKey != null || unknown) {
            if (tie == null) {
                throw new UnreadLinkException("this link");
            }
            tie.read(slot);
        }
    }

    /**
     * Written as the key that it leads to: one entity that is sent away must not take all others along.
     *
     * @return what is written
     * @throws java.io.ObjectStreamException when that fails
     */
    private Object writeReplace() throws ObjectStreamException {
        Object key = key();
        if (target != null && key == null) {
            throw new InvalidObjectException(
                    "a link to a new " + target.getClass().getSimpleName()
                            + " cannot be serialized, since it is written as a key; store the object first");
        }
        return new KeyForm(key, unknown);
    }

    private record KeyForm(@Nullable Object key, boolean unknown) implements Serializable {
        private Object readResolve() {
            Link<?> link = new Link<>();
            link.unreadKey = key;
            link.unknown = unknown;
            return link;
        }
    }

    @Override
    public String toString() {
        if (target != null) {
            return "Link(" + target.getClass().getSimpleName() + ")";
        }
        return unknown ? "Link(unread)" : unreadKey == null ? "Link(empty)" : "Link(key " + unreadKey + ", unread)";
    }

    private static final class Door implements LinkDoor {
        @Override
        public void tie(Object link, @Nullable Tie tie, int slot) {
            of(link).tie = tie;
            of(link).slot = slot;
        }

        @Override
        public boolean isRead(Object link) {
            return of(link).isRead();
        }

        @Override
        public @Nullable Object target(Object link) {
            return of(link).target;
        }

        @Override
        public @Nullable Object unreadKey(Object link) {
            return of(link).unreadKey;
        }

        @Override
        public void point(Object link, @Nullable Object target) {
            of(link).touch();
            of(link).target = target;
            of(link).unreadKey = null;
            of(link).unknown = false;
        }

        @Override
        public void unknown(Object link) {
            of(link).touch();
            of(link).target = null;
            of(link).unreadKey = null;
            of(link).unknown = true;
        }

        @Override
        public void unread(Object link, Object key) {
            of(link).touch();
            of(link).target = null;
            of(link).unreadKey = key;
            of(link).unknown = false;
        }

        @Override
        public Runnable memory(Object link) {
            Link<Object> own = of(link);
            Object target = own.target;
            Object key = own.unreadKey;
            boolean unknown = own.unknown;
            return () -> {
                own.target = target;
                own.unreadKey = key;
                own.unknown = unknown;
            };
        }

        @SuppressWarnings("unchecked") // the model has checked the target's class
        private static Link<Object> of(Object link) {
            return (Link<Object>) link;
        }
    }
}
