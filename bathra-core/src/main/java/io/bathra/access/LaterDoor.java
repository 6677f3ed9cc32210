package io.bathra.access;

import org.jspecify.annotations.Nullable;

/** What a unit of work may do to a {@link io.bathra.link.Later}, without it telling the unit back. */
public interface LaterDoor {
    void tie(Object later, Tie tie, int slot);

    /** The value as far as it is here: null when there is none, or when it is unread. */
    @Nullable
    Object value(Object later);

    boolean isRead(Object later);

    /** Whether the user has set it since it was last in step with the row. */
    boolean isChanged(Object later);

    void changed(Object later, boolean changed);

    /** Gives it the value that the row has. */
    void fill(Object later, @Nullable Object value);

    /** Makes it unread. */
    void unread(Object later);

    /** What gives it back what it holds now. */
    Runnable memory(Object later);
}
