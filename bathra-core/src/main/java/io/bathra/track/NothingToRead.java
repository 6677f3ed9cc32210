package io.bathra.track;

import io.bathra.error.UnreadLinkException;
import io.bathra.model.BackLinkAttribute;
import io.bathra.model.LinkAttribute;
import io.bathra.model.StoredAttribute;
import io.bathra.model.ToMany;

/** Where no database stands behind an object, nothing is read for it. */
final class NothingToRead implements RelationReader {
    @Override
    public void read(Entry<?> entry, LinkAttribute link) {
        throw new UnreadLinkException(entry + "." + link.name());
    }

    @Override
    public void read(Entry<?> entry, BackLinkAttribute link) {
        throw new UnreadLinkException(entry + "." + link.name());
    }

    @Override
    public void read(Entry<?> entry, ToMany links) {
        throw new UnreadLinkException(entry + "." + links.name());
    }

    @Override
    public void readLater(Entry<?> entry, StoredAttribute later) {
        throw new UnreadLinkException(entry + "." + later.name());
    }
}
