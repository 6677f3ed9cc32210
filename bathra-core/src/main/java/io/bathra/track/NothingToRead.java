package io.bathra.track;

import io.bathra.error.UnreadLinkException;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;

/** Where no database stands behind an object, nothing is read for it. */
final class NothingToRead implements RelationReader {
    @Override
    public void read(Entry<?> entry, LinkAttribute link) {
        throw new UnreadLinkException(entry + "." + link.name());
    }

    @Override
    public void read(Entry<?> entry, InverseAttribute link) {
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
