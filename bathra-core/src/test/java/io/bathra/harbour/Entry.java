package io.bathra.harbour;

/** What all entities of the harbour office have; the key's type is left to them. */
public abstract class Entry<K> {
    private K id;

    public K id() {
        return id;
    }

    protected void assignId(K key) {
        id = key;
    }
}
