package io.bathra.bulk;

import io.bathra.attr.Attr;
import io.bathra.error.BathraException;
import io.bathra.jdbc.BulkPlace;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Pairs of a many-to-many association in any number, for many owners in one call; neither side is read as objects.
 * Immutable.
 *
 * <pre>{@code
 * store.bulk(PortCall.class).pairs(PortCall::pilots)
 *     .others(Pilot::badge)
 *     .add(List.of(Pair.of(17L, "P-004"), Pair.of(17L, "P-007")));
 * }</pre>
 *
 * @param <E> the owners' entity
 * @param <F> the entity of the others
 */
public final class Pairs<E, F> {
    private final BulkPlace place;
    private final PivotAttribute pivot;
    private final Bulk.Options options;
    private final @Nullable StoredAttribute ownerBy;
    private final @Nullable StoredAttribute otherBy;
    private final boolean texts;

    private Pairs(
            BulkPlace place,
            PivotAttribute pivot,
            Bulk.Options options,
            @Nullable StoredAttribute ownerBy,
            @Nullable StoredAttribute otherBy,
            boolean texts) {
        this.texts = texts;
        this.place = place;
        this.pivot = pivot;
        this.options = options;
        this.ownerBy = ownerBy;
        this.otherBy = otherBy;
    }

    static <E, F> Pairs<E, F> of(BulkPlace place, Attribute attribute, Bulk.Options options) {
        if (!(attribute instanceof PivotAttribute pivot)) {
            throw new BathraException(
                    attribute + " is no pivot: its rows have the foreign key themselves; store them with that link");
        }
        return new Pairs<>(place, pivot, options, null, null, false);
    }

    /**
     * Owners are told by an attribute that is unique.
     *
     * @param by what tells the rows
     * @return a call like this one, with that
     */
    public Pairs<E, F> owners(Attr<? super E, ?> by) {
        return owners(On.<E>on(by));
    }

    /**
     * Owners are told by an attribute that is unique.
     *
     * @param by what tells the rows
     * @return a call like this one, with that
     */
    public Pairs<E, F> owners(On<? super E> by) {
        return new Pairs<>(place, pivot, options, by.single(pivot.near().target()), otherBy, texts);
    }

    /**
     * {@return the others are told by an attribute that is unique}
     *
     * @param by what tells the rows
     */
    public Pairs<E, F> others(Attr<? super F, ?> by) {
        return others(On.<F>on(by));
    }

    /**
     * {@return the others are told by an attribute that is unique}
     *
     * @param by what tells the rows
     */
    public Pairs<E, F> others(On<? super F> by) {
        return new Pairs<>(place, pivot, options, ownerBy, by.single(pivot.far().target()), texts);
    }

    /**
     * Both ends are told by texts, which become what the columns keep: lines of a file.
     *
     * @return a call like this one, with that
     */
    public Pairs<E, F> texts() {
        return new Pairs<>(place, pivot, options, ownerBy, otherBy, true);
    }

    /**
     * Adds pairs; those that are there are counted as skipped. In an order that is kept, they come last.
     *
     * @param pairs the pairs
     * @return what became of the rows
     */
    public BulkResult add(Iterable<Pair> pairs) {
        return run("bulk add of pairs", run -> run.add(pairs.iterator()));
    }

    /**
     * Adds the pairs of a stream, which is closed.
     *
     * @param pairs the pairs
     * @return what became of the rows
     */
    public BulkResult add(Stream<Pair> pairs) {
        try (pairs) {
            return add(Bulk.once(pairs));
        }
    }

    /**
     * Takes pairs apart; those that are not there are counted as skipped.
     *
     * @param pairs the pairs
     * @return what became of the rows
     */
    public BulkResult remove(Iterable<Pair> pairs) {
        return run("bulk removal of pairs", run -> run.remove(pairs.iterator()));
    }

    /**
     * Takes the pairs of a stream, which is closed, apart.
     *
     * @param pairs the pairs
     * @return what became of the rows
     */
    public BulkResult remove(Stream<Pair> pairs) {
        try (pairs) {
            return remove(Bulk.once(pairs));
        }
    }

    /**
     * Gives each of these owners exactly these others, in their order where it is kept; only the difference is written.
     *
     * @param othersByOwner for each owner, those at the other end
     * @return what became of the rows
     */
    public BulkResult replace(Map<?, ? extends Collection<?>> othersByOwner) {
        Objects.requireNonNull(othersByOwner, "othersByOwner");
        List<Map.Entry<?, ? extends Collection<?>>> entries = new ArrayList<>(othersByOwner.entrySet());
        return run("bulk replacement of pairs", run -> run.replace(entries.iterator()));
    }

    private interface Call {
        BulkResult with(PairRun run);
    }

    private BulkResult run(String cause, Call call) {
        Set<ModelEntity<?>> touched = new LinkedHashSet<>(
                List.of(pivot.pivot().rows(), pivot.near().target(), pivot.far().target()));
        return place.run(
                touched,
                (transaction, keys) -> call.with(
                        new PairRun(pivot, options, transaction, cause + " in " + pivot, ownerBy, otherBy, texts)));
    }
}
