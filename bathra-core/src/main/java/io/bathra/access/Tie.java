package io.bathra.access;

import org.jspecify.annotations.Nullable;

/**
 * What a holder asks of the unit of work that its owner belongs to. A holder knows its {@code slot}: its place among
 * the associations of the owner's entity.
 */
public interface Tie {
    /**
     * Makes the holder at this slot read, together with those of the whole cohort.
     *
     * @throws io.bathra.error.UnreadLinkException when the unit is closed
     */
    void read(int slot);

    /** The holder at this slot is about to change, by whomever; what it holds now may have to be given back to it. */
    void touching(int slot, Object holder);

    /** The link at this slot has been pointed elsewhere by the user. {@code before} is null when unknown or empty. */
    void pointed(int slot, @Nullable Object before, @Nullable Object beforeKey, @Nullable Object after);

    /** The user has pointed the link at this slot to the row with a key, without reading it. */
    void pointedToKey(int slot, @Nullable Object before, @Nullable Object beforeKey, Object key);

    /** Whether the links at this slot keep an order. */
    boolean keepsOrder(int slot);

    /** The user has put an element into the links at this slot. */
    void included(int slot, Object element);

    /** The user has taken an element out of the links at this slot. */
    void excluded(int slot, Object element);

    /** The key of an object that the same unit of work knows, or null. */
    @Nullable
    Object keyOf(Object target);

    /** Whether the unit of work is still open. */
    boolean isOpen();

    /** Owner and association in words: {@code PortCall 17.vessel}. */
    String describe(int slot);
}
