package io.bathra.bulk;

import io.bathra.error.BathraException;
import io.bathra.jdbc.Copying;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.mapping.Years;
import io.bathra.sql.WriteForm;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * One bulk call: takes rows portion by portion, completes and checks them, and has them written.
 *
 * @param <E> the entity
 * @param <R> what rows are given as
 */
final class BulkRun<E, R> {
    private final BulkJob<E> job;
    private final ModelEntity<E> entity;
    private final Bulk.Options options;
    private final Transaction transaction;
    private final Rejects rejects;
    private final NaturalKeys naturals;
    private final PortionLoop loop;
    private final Tally tally = new Tally();

    /** The keys of the rows in their order, where they are wanted. */
    private final List<@Nullable Object> rowKeys = new ArrayList<>();

    /**
     * The entities that are to be given their keys, beside those, when all is done: if the call fails, they get none.
     */
    private final List<@Nullable Object> waiting = new ArrayList<>();

    BulkRun(BulkJob<E> job) {
        this.job = job;
        this.entity = job.entity();
        this.options = job.options();
        this.transaction = job.transaction();
        this.rejects = job.rejects();
        this.naturals = new NaturalKeys(transaction, job.cause());
        this.loop = new PortionLoop("row", options, rejects);
    }

    BulkResult all(Iterator<? extends R> rows, RowReading.Maker<R> maker, BulkJob.WayMaker ways) {
        return result(loop.<R>run(rows, first -> {
            RowReading<R> reading = maker.of(first);
            List<StoredAttribute> written = written(reading.given());
            Way way = ways.of(job, reading.given(), written);
            WriteForm streaming = comeAsTheyAre(reading.given(), written) ? way.streaming() : null;
            return streaming == null
                    ? new InPortions(reading, written, way)
                    : new Streaming(reading, written, way, streaming);
        }));
    }

    /**
     * Whether nothing has to be looked up for rows and nobody takes those that are bad, so that they can be sent one by
     * one.
     */
    private boolean comeAsTheyAre(List<StoredAttribute> given, List<StoredAttribute> written) {
        return job.place().isAlone()
                && !rejects.areTaken()
                && entity.links().stream().noneMatch(given::contains)
                && !written.contains(entity.stored().get(0));
    }

    /** Writes rows portion by portion. */
    private final class InPortions implements PortionLoop.Taker<R> {
        private final RowReading<R> reading;
        private final List<StoredAttribute> written;
        private final Way way;
        private final List<LinkAttribute> links;
        private final RowCheck check;
        private final Portions portions;
        private final List<BulkRow> portion = new ArrayList<>();

        InPortions(RowReading<R> reading, List<StoredAttribute> written, Way way) {
            this.reading = reading;
            this.written = written;
            this.way = way;
            this.links =
                    entity.links().stream().filter(reading.given()::contains).toList();
            this.check = check(reading, written, way);
            this.portions = new Portions(entity, transaction, job.cause(), rejects, way::write);
        }

        @Override
        public int take(long number, R row) {
            portion.add(read(number, row, reading));
            return portion.size();
        }

        @Override
        public void end() {
            write(portion, check, written, links, way, portions);
            portion.clear();
        }
    }

    /**
     * Sends rows as they come, so that the database works on them while the next ones are made. Nothing has to be
     * looked up for them, and no keys are drawn.
     */
    private final class Streaming implements PortionLoop.Taker<R> {
        private final RowReading<R> reading;
        private final RowCheck check;
        private final WriteForm form;
        private final Copying copying;
        private Consumer<BulkRow> completion = completion();
        private int size;

        Streaming(RowReading<R> reading, List<StoredAttribute> written, Way way, WriteForm form) {
            this.reading = reading;
            this.check = check(reading, written, way);
            this.form = form;
            this.copying = transaction.copying(job.cause(), form);
        }

        @Override
        public int take(long number, R row) {
            BulkRow made = read(number, row, reading);
            completion.accept(made);
            check.look(made);
            if (!made.isRejected()) {
                copying.write(made.values);
            }
            return ++size;
        }

        @Override
        public void end() {
            rejects.refuse();
            completion = completion();
            size = 0;
        }

        @Override
        public void finish() {
            tally.inserted += copying.end();
            tally.paths.add(form.binding().toString());
        }

        @Override
        public void close() {
            copying.close();
        }
    }

    private BulkResult result(long number) {
        List<@Nullable Object> ordered = giveKeys();
        return new BulkResult(
                number,
                tally.inserted,
                tally.updated,
                tally.unchanged,
                tally.skipped,
                rejects.count(),
                0,
                ordered,
                loop.elapsed(),
                tally.paths);
    }

    private BulkRow read(long number, R row, RowReading<R> reading) {
        List<Runnable> faults = new ArrayList<>(0);
        BulkRow[] made = new BulkRow[1];
        @Nullable
        Object[] values = reading.read(
                row,
                (attribute, label, value, flaw) -> faults.add(() -> {
                    made[0].flawed(attribute);
                    rejects.add(made[0], label, value, flaw);
                }));
        made[0] = new BulkRow(number, row, values);
        faults.forEach(Runnable::run);
        return made[0];
    }

    /** What a new row is given: what rows give, and what the library or the database's default adds. */
    private List<StoredAttribute> written(List<StoredAttribute> given) {
        Set<StoredAttribute> written = new LinkedHashSet<>();
        for (StoredAttribute attribute : entity.stored()) {
            boolean managed = attribute == entity.version()
                    || (attribute instanceof ColumnAttribute column
                            && (entity.insertStamps().contains(column)
                                    || entity.updateStamps().contains(column)));
            boolean drawn = attribute.isKey() && entity.keySource().isDrawn() && drawsBeforehand();
            if (given.contains(attribute) || managed || drawn) {
                written.add(attribute);
            } else if (!job.updates()
                    && attribute.required()
                    && attribute.databaseMade() == null
                    && !(attribute.isKey() && entity.keySource().isDrawn())) {
                throw new BathraException(attribute + " is required, but the rows give no value for it; give it");
            }
        }
        return List.copyOf(written);
    }

    /** Keys that the database draws by itself are left to it, unless somebody wants to know them. */
    private boolean drawsBeforehand() {
        return !entity.keySource().equals(KeySource.GENERATED) || options.withKeys();
    }

    private void write(
            List<BulkRow> portion,
            RowCheck check,
            List<StoredAttribute> written,
            List<LinkAttribute> links,
            Way way,
            Portions portions) {
        naturals.resolve(portion, links, (row, link, natural) -> {
            row.flawed(link);
            rejects.add(row, link.name() + "." + natural.by().name(), natural.shown(), natural.noSuchRow(link));
        });
        portion.forEach(completion());
        portion.forEach(check::look);
        rejects.refuse();
        List<BulkRow> good = new ArrayList<>(portion.size());
        for (BulkRow row : portion) {
            if (!row.isRejected()) {
                good.add(row);
            }
        }
        drawKeys(good, written, way);
        portions.write(good, tally);
        rejects.refuse();
        if (options.withKeys()) {
            keep(portion, way);
        }
    }

    private RowCheck check(RowReading<R> reading, List<StoredAttribute> written, Way way) {
        Years years = transaction.database().dialect().abilities().years();
        return new RowCheck(entity, reading, written, way, years, rejects);
    }

    /** Sets stamps and versions, with the time of now. */
    private Consumer<BulkRow> completion() {
        Map<StoredAttribute, Object> kept = new LinkedHashMap<>();
        Instant now = job.place().clock().instant();
        Set<ColumnAttribute> stamps = new LinkedHashSet<>(entity.insertStamps());
        stamps.addAll(entity.updateStamps());
        stamps.forEach(
                stamp -> kept.put(stamp, stamp.timeAt(now, job.place().clock().getZone())));
        ColumnAttribute version = entity.version();
        if (version != null) {
            kept.put(version, version.number(0));
        }
        return row -> kept.forEach((attribute, value) -> row.values[attribute.slot()] = value);
    }

    private void drawKeys(List<BulkRow> rows, List<StoredAttribute> written, Way way) {
        boolean draws = entity.keySource().isDrawn()
                && (way.needsKeys() || (written.contains(entity.stored().get(0)) && drawsBeforehand()));
        List<BulkRow> without =
                draws ? rows.stream().filter(row -> row.values[0] == null).toList() : List.of();
        if (!without.isEmpty()) {
            List<Object> drawn = job.keys().draw(entity, without.size());
            for (int i = 0; i < drawn.size(); i++) {
                without.get(i).values[0] = drawn.get(i);
                without.get(i).keyDrawn = true;
            }
        }
    }

    /** Remembers the keys of a portion: those of rows that were there before have to be looked up. */
    private void keep(List<BulkRow> portion, Way way) {
        List<BulkRow> stored = portion.stream().filter(row -> !row.isRejected()).toList();
        UniqueKey identity = way.lookedUpBy();
        Map<Object, @Nullable Object[]> there = identity == null ? Map.of() : way.there(identity, stored, "");
        for (BulkRow row : portion) {
            Object key = null;
            if (!row.isRejected()) {
                Object value = identity == null ? null : Way.value(identity, row.values);
                @Nullable Object[] found = value == null ? null : there.get(value);
                key = entity.keyIn(found == null ? row.values : found);
            }
            rowKeys.add(key);
            waiting.add(entity.type().isInstance(row.source) ? row.source : null);
        }
    }

    /** Gives the keys to the entities that rows were given as. */
    private List<@Nullable Object> giveKeys() {
        for (int i = 0; i < rowKeys.size(); i++) {
            Object key = rowKeys.get(i);
            Object object = waiting.get(i);
            if (key != null && object != null && entity.keySource().isDrawn()) {
                entity.stored().get(0).set(object, key);
            }
        }
        return rowKeys;
    }
}
