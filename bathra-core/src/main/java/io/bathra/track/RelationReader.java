package io.bathra.track;

import io.bathra.model.BackLinkAttribute;
import io.bathra.model.LinkAttribute;
import io.bathra.model.StoredAttribute;
import io.bathra.model.ToMany;

/** Reads what an association leads to, or a value that was left for later, for an entry and its cohort. */
public interface RelationReader {
    void read(Entry<?> entry, LinkAttribute link);

    void read(Entry<?> entry, BackLinkAttribute link);

    void read(Entry<?> entry, ToMany links);

    void readLater(Entry<?> entry, StoredAttribute later);
}
