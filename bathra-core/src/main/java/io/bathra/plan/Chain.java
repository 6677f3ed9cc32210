package io.bathra.plan;

import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/**
 * A way along which the removal of rows concerns others: from the table of the removed ones down, over links that lead
 * up.
 *
 * @param links one or more; each leads to the table of the one before, the first to that of the removed rows
 */
public record Chain(List<LinkAttribute> links) {
    public Chain {
        links = List.copyOf(links);
    }

    /** The same way, and one link further down. */
    Chain and(LinkAttribute link) {
        List<LinkAttribute> longer = new ArrayList<>(links);
        longer.add(link);
        return new Chain(longer);
    }

    /** Whose rows are removed. */
    public ModelEntity<?> root() {
        return links.get(0).target();
    }

    public LinkAttribute last() {
        return links.get(links.size() - 1);
    }

    /** Whose rows are concerned. */
    public ModelEntity<?> end() {
        return last().entity();
    }

    /** {@code PortCall.vessel, Movement.call}. */
    @Override
    public String toString() {
        return links.stream().map(LinkAttribute::toString).collect(Collectors.joining(", "));
    }
}
