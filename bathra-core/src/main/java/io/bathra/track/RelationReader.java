package io.bathra.track;

import io.bathra.model.LinkAttribute;
import io.bathra.model.LinksAttribute;

/** Reads the other end of an association for an entry and its cohort. */
public interface RelationReader {
    void read(Entry<?> entry, LinkAttribute link);

    void read(Entry<?> entry, LinksAttribute links);
}
