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

    /** Makes the links unread again; what was put in or taken out is forgotten. */
    void unread(Object links);

    /** Adds an element, unless it is there. */
    void include(Object links, Object element);

    /** Takes an element out, if it is there. */
    void exclude(Object links, Object element);
}
