package io.bathra.track;

import io.bathra.mapping.Attribute;
import io.bathra.mapping.StoredAttribute;

/** Reads what an association leads to, or a value that was left for later, for an entry and its cohort. */
public interface RelationReader {
    /** Reads an association that is not here. */
    void read(Entry<?> entry, Attribute association);

    /** Reads a value that was left for later. */
    void readLater(Entry<?> entry, StoredAttribute later);
}
