package io.bathra.track;

import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;

/** Reads what an association leads to, or a value that was left for later, for an entry and its cohort. */
public interface RelationReader {
    void read(Entry<?> entry, LinkAttribute link);

    void read(Entry<?> entry, InverseAttribute link);

    void read(Entry<?> entry, ToMany links);

    void readLater(Entry<?> entry, StoredAttribute later);
}
