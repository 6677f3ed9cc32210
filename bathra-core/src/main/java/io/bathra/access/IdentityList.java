package io.bathra.access;

import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** A list that holds each object once. Objects are compared by identity, so their own {@code equals} plays no part. */
public final class IdentityList<T> implements Iterable<T> {
    /** Up to this size, walking the list is cheaper than an index. */
    private static final int WALK = 16;

    private final List<T> elements = new ArrayList<>();
    private @Nullable Set<T> index;

    /** Appends the element unless it is there; tells whether it was appended. */
    public boolean add(T element) {
        if (contains(element)) {
            return false;
        }
        elements.add(element);
        if (index != null) {
            index.add(element);
        } else if (elements.size() > WALK) {
            index = Collections.newSetFromMap(new IdentityHashMap<>(2 * elements.size()));
            index.addAll(elements);
        }
        return true;
    }

    public boolean remove(Object element) {
        if (index != null && !index.remove(element)) {
            return false;
        }
        int at = indexOf(element);
        if (at < 0) {
            return false;
        }
        elements.remove(at);
        return true;
    }

    /** Moves an element that is there to another place. */
    public void move(T element, int index) {
        elements.remove(indexOf(element));
        elements.add(index, element);
    }

    /** Puts the elements into the order of another list, which holds the same ones. */
    public void arrange(IdentityList<T> order) {
        elements.clear();
        elements.addAll(order.elements);
    }

    public boolean contains(@Nullable Object element) {
        return index != null ? index.contains(element) : indexOf(element) >= 0;
    }

    /** The place of an element; -1 when it is not there. */
    public int indexOf(@Nullable Object element) {
        for (int i = 0; i < elements.size(); i++) {
            if (elements.get(i) == element) {
                return i;
            }
        }
        return -1;
    }

    public int size() {
        return elements.size();
    }

    /** A copy of the elements as they are now. */
    public List<T> copy() {
        return new ArrayList<>(elements);
    }

    /** Walks the elements; {@code remove} is not supported. */
    @Override
    public Iterator<T> iterator() {
        return Collections.unmodifiableList(elements).iterator();
    }
}
