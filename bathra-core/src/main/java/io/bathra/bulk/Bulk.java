package io.bathra.bulk;

import io.bathra.access.Accessor;
import io.bathra.attr.Attr;
import io.bathra.attr.Event;
import io.bathra.error.BathraException;
import io.bathra.jdbc.BulkPlace;
import io.bathra.link.Links;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Stores rows of one entity in any number, without tracking them: in portions, with memory for one portion, by the
 * fastest way that the database has. Immutable; each option gives another one.
 *
 * <pre>{@code
 * BulkResult result = store.bulk(Container.class)
 *     .rejectTo(System.out::println)
 *     .upsert(containers, on(Container::serial), overwrite(Container::grossKilos));
 * }</pre>
 *
 * <p>Rows are entities, or {@linkplain #records records} or {@linkplain #maps maps} whose values go by the names of
 * attributes. Stamps, versions, converters and the checks of the model hold as in a unit of work. Parts, pairs and
 * collections lie in other tables: rows with parts or pairs are refused, pairs have {@linkplain #pairs a way of their
 * own}, and the elements of other collections are rows of their own.
 *
 * <p>A call is stored as a whole or not at all, but for rows that {@link #rejectTo} takes. Begun from a store, it has a
 * transaction of its own; begun from a unit of work, it is a part of the unit's, what is pending for its tables is
 * flushed before, and tracked objects of its table are brought up to date.
 *
 * @param <E> the entity
 * @param <R> what rows are given as
 */
public final class Bulk<E, R> {
    static {
        Door.leave();
    }

    private final BulkPlace place;
    private final Class<E> type;
    private final RowReading.@Nullable Maker<R> maker;
    private final Options options;

    /**
     * What was asked for.
     *
     * @param portion how many rows are written at once; 0 for what suits
     * @param rejects takes rows that cannot be stored; null where that is an error
     */
    record Options(
            int portion,
            boolean withKeys,
            boolean bypassesListeners,
            Consumer<? super BulkProgress> progress,
            @Nullable Consumer<? super Rejection> rejects) {
        /** A refused portion is divided and written again, so it is better small. */
        private static final int WITH_REJECTS = 1_000;

        private static final int WITHOUT = 10_000;

        int rowsOfPortion() {
            return portion > 0 ? portion : rejects == null ? WITHOUT : WITH_REJECTS;
        }
    }

    private Bulk(BulkPlace place, Class<E> type, RowReading.@Nullable Maker<R> maker, Options options) {
        this.place = place;
        this.type = type;
        this.maker = maker;
        this.options = options;
    }

    /** Begun by stores and units of work. */
    static <E> Bulk<E, E> of(BulkPlace place, Class<E> type) {
        return new Bulk<>(place, type, null, new Options(0, false, false, progress -> {}, null));
    }

    // ---- options

    /**
     * {@return rows are records, whose components have the names of attributes; see {@link #maps} for what else they
     * may name}
     *
     * @param <T> the other entity
     * @param record a record whose components are named like attributes
     */
    public <T extends Record> Bulk<E, T> records(Class<T> record) {
        Objects.requireNonNull(record, "record");
        return new Bulk<>(place, type, first -> RowReading.ofRecords(entity(), record), options);
    }

    /**
     * {@return rows are maps by the names of attributes, all with the same keys} A column of an inlined value is named
     * {@code dimensions.length}; a link is given as an entity or its key by its own name, {@code vessel} or {@code
     * vesselId}, or by what is unique in its target, {@code vessel.imo} or {@code vesselImo}. The names of columns will
     * do as well.
     */
    public Bulk<E, Map<String, ?>> maps() {
        return new Bulk<>(place, type, first -> RowReading.ofMaps(entity(), first), options);
    }

    /**
     * {@return rows are maps of texts by the names of attributes, as {@link #maps} has them: lines of a file} A text
     * becomes what its column keeps: {@code 42}, {@code 12.5}, {@code true}, {@code 2026-04-01T06:30}, the name of an
     * enum's constant, a code where one is stored. An empty text is no value.
     */
    public Bulk<E, Map<String, @Nullable String>> texts() {
        return new Bulk<>(place, type, first -> RowReading.ofTexts(entity(), first), options);
    }

    /**
     * {@return so many rows are read, checked and written at once}
     *
     * @param rows how many rows
     * @throws IllegalArgumentException when it is less than 1
     */
    public Bulk<E, R> portion(int rows) {
        if (rows < 1) {
            throw new IllegalArgumentException("a portion has at least one row, not " + rows);
        }
        return with(new Options(rows, options.withKeys, options.bypassesListeners, options.progress, options.rejects));
    }

    /**
     * {@return the result has the keys of all rows in their order, and rows that are entities are given theirs; so
     * all are held until the end}
     */
    public Bulk<E, R> withKeys() {
        return with(new Options(options.portion, true, options.bypassesListeners, options.progress, options.rejects));
    }

    /**
     * Tells how far the call has come, after each portion.
     *
     * @param progress is told how far it has come
     * @return a call like this one, with that
     */
    public Bulk<E, R> onProgress(Consumer<? super BulkProgress> progress) {
        return with(new Options(
                options.portion,
                options.withKeys,
                options.bypassesListeners,
                Objects.requireNonNull(progress, "progress"),
                options.rejects));
    }

    /**
     * {@return rows that cannot be stored are handed over with the reason, and the others are stored all the same}
     * What else goes wrong, a lost connection or rows that throw, still ends the call.
     *
     * @param rejects is told of each row that is not stored
     */
    public Bulk<E, R> rejectTo(Consumer<? super Rejection> rejects) {
        return with(new Options(
                options.portion,
                options.withKeys,
                options.bypassesListeners,
                options.progress,
                Objects.requireNonNull(rejects, "rejects")));
    }

    /**
     * Listeners of the entity hear nothing of rows in bulk; without this, a call that they would have to hear of is
     * refused.
     *
     * @return a call like this one, with that
     */
    public Bulk<E, R> bypassListeners() {
        return with(new Options(options.portion, options.withKeys, true, options.progress, options.rejects));
    }

    private Bulk<E, R> with(Options other) {
        return new Bulk<>(place, type, maker, other);
    }

    // ---- calls

    /**
     * Inserts rows.
     *
     * @param rows the rows
     * @return what became of the rows
     * @throws io.bathra.error.InvalidChangesException with the problems of a portion, when rows cannot be stored
     * @throws io.bathra.error.UniqueViolation when a row is there already
     */
    public BulkResult insert(Iterable<? extends R> rows) {
        return run(rows, "bulk insert", null, false, (job, given, written) -> new Way.Insert(job, written));
    }

    /**
     * Inserts the rows of a stream, which is closed.
     *
     * @param rows the rows
     * @return what became of the rows
     */
    public BulkResult insert(Stream<? extends R> rows) {
        try (rows) {
            return insert(once(rows));
        }
    }

    /**
     * Inserts rows unless another row has their unique values, by whatever constraint; of rows with the same, the first
     * counts.
     *
     * @param rows the rows
     * @return what became of the rows
     */
    public BulkResult insertMissing(Iterable<? extends R> rows) {
        return insertMissing(rows, null);
    }

    /**
     * Inserts those rows of a stream, which is closed, whose unique values no other row has.
     *
     * @param rows the rows
     * @return what became of the rows
     */
    public BulkResult insertMissing(Stream<? extends R> rows) {
        try (rows) {
            return insertMissing(once(rows));
        }
    }

    /**
     * Inserts rows unless another row has the same values of some unique attributes; that it has those of others
     * remains an error.
     *
     * @param rows the rows
     * @param on what tells a row
     * @return what became of the rows
     * @throws BathraException when no unique constraint is on exactly these attributes
     */
    public BulkResult insertMissing(Iterable<? extends R> rows, @Nullable On<? super E> on) {
        return run(
                rows,
                "bulk insert of what is missing",
                on,
                false,
                (job, given, written) -> new Way.InsertMissing(job, written));
    }

    /**
     * Inserts those rows of a stream, which is closed, whose values of some unique attributes no other row has.
     *
     * @param rows the rows
     * @param on what tells a row
     * @return what became of the rows
     */
    public BulkResult insertMissing(Stream<? extends R> rows, On<? super E> on) {
        try (rows) {
            return insertMissing(once(rows), on);
        }
    }

    /**
     * Inserts rows, or writes all that they give over the rows that have their unique values.
     *
     * @param rows the rows
     * @param on what tells a row
     * @return what became of the rows
     */
    public BulkResult upsert(Iterable<? extends R> rows, On<? super E> on) {
        return upsert(rows, on, Overwrite.<E>overwriteAll());
    }

    /**
     * Inserts the rows of a stream, which is closed, or writes all that they give over the rows that have their unique
     * values.
     *
     * @param rows the rows
     * @param on what tells a row
     * @return what became of the rows
     */
    public BulkResult upsert(Stream<? extends R> rows, On<? super E> on) {
        try (rows) {
            return upsert(once(rows), on);
        }
    }

    /**
     * Inserts rows, or writes some of their attributes over the rows that have their unique values; where none of these
     * differs, the row is left as it is. Of rows with the same unique values, the last counts; the others of the same
     * portion are counted as skipped. Required attributes that are not overwritten may be missing in rows that are
     * there.
     *
     * @param rows the rows
     * @param on what tells a row
     * @param overwrite which attributes are written over
     * @return what became of the rows
     * @throws BathraException when no unique constraint is on exactly the attributes of {@code on}
     */
    public BulkResult upsert(Iterable<? extends R> rows, On<? super E> on, Overwrite<? super E> overwrite) {
        Objects.requireNonNull(on, "on");
        return run(rows, "bulk upsert", on, true, (job, given, written) -> {
            List<StoredAttribute> telling = Objects.requireNonNull(job.unique()).attributes();
            if (!given.containsAll(telling)) {
                throw new BathraException(
                        On.names(telling) + " tells which row is meant, but the rows do not give it; give it");
            }
            return new Upserting(job, written, overwrite.among(job.entity(), given, telling));
        });
    }

    /**
     * {@return the same for the rows of a stream, which is closed}
     *
     * @param rows the rows
     * @param on what tells a row
     * @param overwrite which attributes are written over
     */
    public BulkResult upsert(Stream<? extends R> rows, On<? super E> on, Overwrite<? super E> overwrite) {
        try (rows) {
            return upsert(once(rows), on, overwrite);
        }
    }

    /**
     * {@return the pairs of a many-to-many association, for any number of owners} Keeps the portion, the progress and
     * who takes rejected rows; their numbers are those of the pairs.
     *
     * @param <F> the other entity
     * @param pivot the many-to-many association
     * @throws BathraException when the attribute is no pivot
     */
    public <F> Pairs<E, F> pairs(Attr<? super E, Links<F>> pivot) {
        return Pairs.of(place, entity().attribute(Accessor.of(pivot)), options);
    }

    /**
     * {@return the same for tools, which learn names at run time}
     *
     * @param pivot the many-to-many association
     * @throws BathraException when the name is that of no pivot
     */
    public Pairs<E, Object> pairs(String pivot) {
        return Pairs.of(place, entity().attribute(pivot), options);
    }

    static <T> Iterable<T> once(Stream<T> rows) {
        return rows::iterator;
    }

    private BulkResult run(
            Iterable<? extends R> rows,
            String cause,
            @Nullable On<? super E> on,
            boolean updates,
            BulkJob.WayMaker ways) {
        Objects.requireNonNull(rows, "rows");
        ModelEntity<E> entity = entity();
        if (entity.isView()) {
            throw new BathraException(
                    entity.name() + " comes from a view, which is only read; store the rows behind it");
        }
        boolean heard = entity.isHeard(Event.INSERT) || (updates && entity.isHeard(Event.UPDATE));
        if (heard && !options.bypassesListeners) {
            throw new BathraException(cause + " would store rows of " + entity.name()
                    + " without a word to the listeners there; add the entities in a unit of work, or say"
                    + " bypassListeners()");
        }
        UniqueKey key = on == null ? null : on.keyOf(entity);
        Set<ModelEntity<?>> touched = new LinkedHashSet<>(List.of(entity));
        entity.links().stream().map(LinkAttribute::target).forEach(touched::add);
        String words = cause + " of " + entity.name();
        return place.run(touched, (transaction, keys) -> {
            Rejects rejects = new Rejects(entity.name(), options.rejects());
            BulkJob<E> job = new BulkJob<>(entity, key, options, place, transaction, keys, updates, rejects, words);
            return new BulkRun<E, R>(job).all(rows.iterator(), reading(entity, key), ways);
        });
    }

    /** The key of an entity is of interest only where it tells which row is meant. */
    @SuppressWarnings("unchecked") // without another reading, rows are entities
    private RowReading.Maker<R> reading(ModelEntity<E> entity, @Nullable UniqueKey key) {
        if (maker != null) {
            return maker;
        }
        boolean keyed = key != null && key.primary();
        RowReading<R> reading = (RowReading<R>) RowReading.ofEntities(entity, keyed);
        return first -> reading;
    }

    private ModelEntity<E> entity() {
        return place.model().entity(type);
    }
}
