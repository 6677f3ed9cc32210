package io.bathra.track;

import io.bathra.error.UnreadLinkException;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.StoredAttribute;

/** Where no database stands behind an object, nothing is read for it. */
final class NothingToRead implements RelationReader {
    @Override
    public void read(Entry<?> entry, Attribute association) {
        throw new UnreadLinkException(entry + "." + association.name());
    }

    @Override
    public void readLater(Entry<?> entry, StoredAttribute later) {
        read(entry, later);
    }
}
