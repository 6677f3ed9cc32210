package io.bathra.access;

import java.util.List;

/** What a unit of work may do to a {@link io.bathra.link.Links}, without the links telling it back. */
public interface LinksDoor {
    void tie(Object links, Tie tie, int slot);

    boolean isRead(Object links);

    /** The elements as far as they are here: all of them when read, else those put in since. */
    List<Object> present(Object links);

    /** Makes the links read, with exactly these elements. */
    void fill(Object links, List<?> elements);

    /** Those that were taken out since the owner came from the database, while the links were unread. */
    List<Object> taken(Object links);

    /** What was put in and taken out of unread links has been written; when undone, it is to be done again. */
    void pending(Object links, List<?> present, List<?> taken);

    /** Forgets that an element was taken out. */
    void forgetTaken(Object links, Object element);

    /** Takes an element out without a note that it was taken out; tells where it was, or -1. */
    int drop(Object links, Object element);

    /** Makes the links unread again; what was put in or taken out is forgotten. */
    void unread(Object links);

    /** Adds an element, unless it is there. */
    void include(Object links, Object element);

    /** Puts an element where it was, or at the end, unless it is there. */
    void includeAt(Object links, int index, Object element);

    /** Takes an element out, if it is there. */
    void exclude(Object links, Object element);

    /** What gives it back what it holds now. */
    Runnable memory(Object links);
}
