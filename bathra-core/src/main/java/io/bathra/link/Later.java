package io.bathra.link;

import io.bathra.access.Doors;
import io.bathra.access.LaterDoor;
import io.bathra.access.Tie;
import java.util.NoSuchElementException;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * One large value of an entity, as a final field of its owner:
 *
 * <pre>{@code
 * private final Later<byte[]> scan = Later.empty();
 * }</pre>
 *
 * <p>It lies in a column of the owner's table, but is not read with the row: it is read when it is asked for, together
 * with those of some dozens of the entities that the same query brought in. No copy is kept for comparison, so a change
 * is noticed when it is {@code set}; changing the inside of an array is not.
 *
 * <p>Equality is identity. {@code toString} reads nothing.
 *
 * @param <T> what the column keeps: a {@code byte[]}, a {@code String}, or any type that is declared {@code json()}
 */
public final class Later<T> implements Relation<T> {
    static {
        Doors.leave(new Door());
    }

    private @Nullable T value;
    private boolean read = true;
    private boolean changed;
    private @Nullable Tie tie;
    private int slot;

    private Later() {}

    /**
     * {@return no value yet}
     *
     * @param <T> the other entity
     */
    public static <T> Later<T> empty() {
        return new Later<>();
    }

    /**
     * {@return the value}
     *
     * @throws NoSuchElementException when there is none
     * @throws io.bathra.error.UnreadLinkException when it was never read and the unit of work is closed
     */
    public T get() {
        return find().orElseThrow(() -> new NoSuchElementException(
                (tie == null ? "this value" : tie.describe(slot)) + " is empty; use find() where that may be so"));
    }

    /** {@return the value, if there is one} */
    public Optional<T> find() {
        if (!read) {
            // An unread value comes from a unit of work alone, which tied the holder when it left it unread.
            Objects.requireNonNull(tie).read(slot);
        }
        return Optional.ofNullable(value);
    }

    /**
     * Gives it another value. The old one is not read.
     *
     * @param newValue the new value; null for none
     */
    public void set(T newValue) {
        put(Objects.requireNonNull(newValue, "to take the value away, use clear()"));
    }

    /** Takes the value away. */
    public void clear() {
        put(null);
    }

    /** Everything that changes what this holds comes by here first. */
    private void touch() {
        if (tie != null) {
            tie.touching(slot, this);
        }
    }

    private void put(@Nullable T newValue) {
        touch();
        value = newValue;
        read = true;
        changed = true;
    }

    /** Whether the value is here, so that asking for it reads nothing. */
    @Override
    public boolean isRead() {
        return read;
    }

    @Override
    public String toString() {
        return read ? value == null ? "Later(empty)" : "Later(read)" : "Later(unread)";
    }

    private static final class Door implements LaterDoor {
        @Override
        public void tie(Object later, Tie tie, int slot) {
            of(later).tie = tie;
            of(later).slot = slot;
        }

        @Override
        public @Nullable Object value(Object later) {
            return of(later).value;
        }

        @Override
        public boolean isRead(Object later) {
            return of(later).read;
        }

        @Override
        public boolean isChanged(Object later) {
            return of(later).changed;
        }

        @Override
        public void changed(Object later, boolean changed) {
            of(later).touch();
            of(later).changed = changed;
        }

        @Override
        public void fill(Object later, @Nullable Object value) {
            of(later).touch();
            of(later).value = value;
            of(later).read = true;
            of(later).changed = false;
        }

        @Override
        public void unread(Object later) {
            of(later).touch();
            of(later).value = null;
            of(later).read = false;
            of(later).changed = false;
        }

        @Override
        public Runnable memory(Object later) {
            Later<Object> own = of(later);
            Object value = own.value;
            boolean read = own.read;
            boolean changed = own.changed;
            return () -> {
                own.value = value;
                own.read = read;
                own.changed = changed;
            };
        }

        @SuppressWarnings("unchecked") // the model has checked the value's class
        private static Later<Object> of(Object later) {
            return (Later<Object>) later;
        }
    }
}
