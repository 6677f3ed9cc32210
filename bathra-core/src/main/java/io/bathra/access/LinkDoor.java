package io.bathra.access;

import org.jspecify.annotations.Nullable;

/** What a unit of work may do to a {@link io.bathra.link.Link}, without the link telling it back. */
public interface LinkDoor {
    void tie(Object link, @Nullable Tie tie, int slot);

    boolean isRead(Object link);

    /** The target as far as it is here: null when empty or unread. */
    @Nullable
    Object target(Object link);

    /** The foreign key of an unread link, null otherwise. */
    @Nullable
    Object unreadKey(Object link);

    /** Makes the link a read one with this target. */
    void point(Object link, @Nullable Object target);

    /** Makes the link an unread one whose foreign key the other end holds. */
    void unknown(Object link);

    /** Makes the link an unread one with this foreign key. */
    void unread(Object link, Object key);

    /** What gives it back what it holds now. */
    Runnable memory(Object link);
}
