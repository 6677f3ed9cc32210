package io.bathra.cli.measure;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.bulk.On;
import io.bathra.bulk.Overwrite;
import io.bathra.cli.measure.Way.Group;
import io.bathra.error.BathraException;
import io.bathra.form.EndField;
import io.bathra.form.FormField;
import io.bathra.form.LinkField;
import io.bathra.form.PartsField;
import io.bathra.link.Link;
import io.bathra.model.EntityOutline;
import java.lang.reflect.Field;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.NoSuchElementException;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;

/** The ways that make sense for an entity, and why the others do not. */
final class Ways {
    private static final int PORTION = 1_000;

    /** So many rows are made before a stream of them begins: while more are made, the server would work unmeasured. */
    private static final int AHEAD = 100_000;

    private static final int PARENTS = 100;
    private static final int CHILDREN = 4;

    private final Class<Object> type;
    private final RowMaker maker;
    private @Nullable RowMaker children;
    private final List<Way> ways = new ArrayList<>();
    private final Map<String, String> without = new LinkedHashMap<>();

    /**
     * @param store on the place where it is measured
     * @param rows how many there will be at the most
     */
    @SuppressWarnings("unchecked") // an entity's objects are objects
    Ways(Store store, RowMaker maker, long rows) {
        this.type = (Class<Object>) maker.entity().type();
        this.maker = maker;
        maker.prepare(store);
        plain(store);
        storing();
        upserting();
        parents(store, rows);
        reading(store);
        units();
    }

    List<Way> all() {
        return ways;
    }

    /** What is not measured, and why. */
    Map<String, String> without() {
        return without;
    }

    private void way(String words, Group group, boolean filled, Way.Body body) {
        ways.add(new Way(words, group, filled, body));
    }

    /** Takes all rows away, and stores what new ones will lead to. */
    void prepare(Store store) {
        store.schema().empty(store.model().name());
        maker.prepare(store);
        if (children != null) {
            children.prepare(store);
        }
    }

    /** Fills the table for as long as a meter goes on that nobody reads. */
    void fill(Store store, Meter meter) {
        store.bulk(type).insert(rows(meter, 0));
    }

    // ---- storing

    private void plain(Store scratch) {
        PlainInsert plain;
        try {
            plain = new PlainInsert(scratch, maker, maker.make(0, 0));
        } catch (BathraException e) {
            without.put("plain SQL", String.valueOf(e.getMessage()));
            return;
        }
        way("one by one, a commit each", Group.STORING, false, (store, meter) -> {
            while (meter.goesOn()) {
                for (Map<String, @Nullable Object> row : values(meter, plain)) {
                    if (meter.goesOn()) {
                        store.sql(plain.sql()).with(row).execute();
                        meter.did(1);
                    }
                }
            }
        });
        way(
                "one by one, one transaction",
                Group.STORING,
                false,
                (store, meter) -> store.transaction(tx -> {
                    while (meter.goesOn()) {
                        for (Map<String, @Nullable Object> row : values(meter, plain)) {
                            if (meter.goesOn()) {
                                tx.sql(plain.sql()).with(row).execute();
                                meter.did(1);
                            }
                        }
                    }
                    return true;
                }));
        way(
                "in batches of 1,000",
                Group.STORING,
                false,
                (store, meter) -> store.transaction(tx -> {
                    while (meter.goesOn()) {
                        List<Map<String, @Nullable Object>> batch = values(meter, plain);
                        tx.sql(plain.sql()).executeAll(batch);
                        meter.did(batch.size());
                    }
                    return true;
                }));
    }

    private void storing() {
        way("units of work of 1,000", Group.STORING, false, (store, meter) -> {
            while (meter.goesOn()) {
                List<Object> made = made(meter, meter.portion(PORTION), 0);
                store.run(work -> made.forEach(work::add));
                meter.did(made.size());
            }
        });
        way(
                "bulk insert",
                Group.STORING,
                false,
                (store, meter) -> store.bulk(type).insert(rows(meter, 0)));
    }

    /** The next objects; making them is nobody's time. */
    private List<Object> made(Meter meter, int many, int variant) {
        return meter.apart(() -> {
            List<Object> made = new ArrayList<>(many);
            for (int i = 0; i < many; i++) {
                made.add(maker.make(meter.rows() + i, variant));
            }
            return made;
        });
    }

    private List<Map<String, @Nullable Object>> values(Meter meter, PlainInsert plain) {
        List<Object> made = made(meter, meter.portion(PORTION), 0);
        return meter.apart(() -> made.stream().map(plain::values).toList());
    }

    private void upserting() {
        List<String> telling = maker.telling();
        if (telling.isEmpty()) {
            without.put(
                    "upserts", "nothing tells a row of " + maker.entity().name() + " but the key that is drawn for it");
            return;
        }
        On<Object> on = On.named(telling);
        way(
                "upsert, all new",
                Group.STORING,
                false,
                (store, meter) -> store.bulk(type).upsert(rows(meter, 0), on, Overwrite.overwriteAll()));
        way(
                "upsert, none changed",
                Group.STORING,
                true,
                (store, meter) -> store.bulk(type).upsert(rows(meter, 0), on, Overwrite.overwriteAll()));
        way(
                "upsert, all changed",
                Group.STORING,
                true,
                (store, meter) -> store.bulk(type).upsert(rows(meter, 1), on, Overwrite.overwriteAll()));
    }

    /** Rows for as long as the meter goes on. */
    private Stream<Object> rows(Meter meter, int variant) {
        Iterator<Object> rows = new Iterator<>() {
            private List<Object> made = List.of();
            private int next;

            @Override
            public boolean hasNext() {
                return meter.goesOn();
            }

            @Override
            public Object next() {
                if (!hasNext()) {
                    throw new NoSuchElementException();
                }
                if (next == made.size()) {
                    made = made(meter, meter.portion(AHEAD), variant);
                    next = 0;
                }
                meter.did(1);
                return made.get(next++);
            }
        };
        Iterable<Object> all = () -> rows;
        return StreamSupport.stream(all.spliterator(), false);
    }

    private void parents(Store store, long rows) {
        boolean parts = maker.form().fields().stream().anyMatch(PartsField.class::isInstance);
        EndField end = childrenEnd();
        if (!parts && end == null) {
            without.put("parents with children", maker.entity().name() + " has neither parts nor children");
            return;
        }
        if (end != null) {
            EntityOutline child = store.model().entity(end.target());
            children = RowMaker.ofChildren(store.model(), child, rows * CHILDREN, String.valueOf(end.wayBack()));
        }
        RowMaker made = children;
        String what = parts && end != null ? "with parts and children" : parts ? "with parts" : "with children";
        way("units of 100, " + what, Group.STORING, false, (measured, meter) -> {
            while (meter.goesOn()) {
                Family family = meter.apart(() -> family(meter, end, made));
                measured.run(work -> family.parents().forEach(work::add));
                meter.did(family.rows());
            }
        });
    }

    /** Parents that are not stored, and how many rows they are with what belongs to them. */
    private record Family(List<Object> parents, int rows) {}

    private Family family(Meter meter, @Nullable EndField end, @Nullable RowMaker made) {
        List<Object> parents = new ArrayList<>();
        int rows = 0;
        for (int i = 0; i < PARENTS && rows < meter.portion(Integer.MAX_VALUE); i++) {
            Object parent = maker.make(meter.rows() + i, 0);
            rows += 1 + maker.addParts(parent, meter.rows() + i);
            if (made != null && end != null) {
                made.addChildren(maker, end, parent, meter.rows() + i, CHILDREN);
                rows += CHILDREN;
            }
            parents.add(parent);
        }
        return new Family(parents, rows);
    }

    private @Nullable EndField childrenEnd() {
        for (FormField field : maker.form().fields()) {
            if (field instanceof EndField end && end.isToMany() && end.isSettable() && isHeldByALink(end)) {
                return end;
            }
        }
        return null;
    }

    /** Children hold a link to their parent; pairs of a pivot do not. */
    private boolean isHeldByALink(EndField end) {
        return maker.entity().toManys().stream()
                .anyMatch(many -> many.attribute().equals(end.name()));
    }

    // ---- reading

    private void reading(Store store) {
        way("each by its key", Group.READING, true, (measured, meter) -> {
            List<Object> keys = meter.apart(() -> keys(measured));
            measured.run(Terms.reading(), work -> {
                for (Object key : keys) {
                    if (!meter.goesOn()) {
                        return;
                    }
                    work.require(type, key);
                    meter.did(1);
                }
            });
        });
        way("all of their keys at once", Group.READING, true, (measured, meter) -> {
            List<Object> keys = meter.apart(() -> keys(measured));
            measured.run(Terms.reading(), work -> {
                while (meter.goesOn()) {
                    int from = (int) meter.rows();
                    int to = from + meter.portion(PORTION);
                    meter.did(work.findAll(type, keys.subList(from, to)).size());
                }
            });
        });
        way(
                "a list",
                Group.READING,
                true,
                (measured, meter) -> measured.run(Terms.reading(), work -> {
                    try (Stream<Object> all = work.from(type).untracked().stream()) {
                        Iterator<Object> rows = all.iterator();
                        while (meter.goesOn() && rows.hasNext()) {
                            rows.next();
                            meter.did(1);
                        }
                    }
                }));
        LinkField link = maker.link();
        if (link == null) {
            without.put("lists with links", maker.entity().name() + " has no link to rows that could be made up");
            return;
        }
        if (store.model().entity(link.target()).key().size() > 1 || holder(maker.make(0, 0), link) == null) {
            without.put("lists with links", link.name() + " has a key of several attributes, or no field of its name");
            return;
        }
        way("a list, each " + link.name() + " looked up", Group.READING, true, (measured, meter) -> {
            List<Object> rows =
                    measured.call(Terms.reading(), work -> work.from(type).list());
            for (Object row : rows) {
                Object key = link.in(row);
                if (!meter.goesOn()) {
                    return;
                }
                if (key != null) {
                    measured.run(Terms.reading(), own -> own.require(link.target(), key));
                }
                meter.did(1);
            }
        });
        way(
                "a list, " + link.name() + " read for all",
                Group.READING,
                true,
                (measured, meter) -> measured.run(Terms.reading(), work -> {
                    for (Object row : work.from(type).list()) {
                        if (!meter.goesOn()) {
                            return;
                        }
                        Link<?> holder = holder(row, link);
                        if (holder != null && !holder.isEmpty()) {
                            holder.get(); // the first one reads those of all rows
                        }
                        meter.did(1);
                    }
                }));
    }

    /** What the accessor of a link gives: there is no other way to it for somebody who does not know the class. */
    private static @Nullable Link<?> holder(Object row, LinkField link) {
        for (Class<?> type = row.getClass(); type != null; type = type.getSuperclass()) {
            try {
                Field field = type.getDeclaredField(link.name());
                field.setAccessible(true);
                return field.get(row) instanceof Link<?> found ? found : null;
            } catch (NoSuchFieldException e) {
                // looked for in the class above
            } catch (IllegalAccessException e) {
                return null;
            }
        }
        return null;
    }

    private List<Object> keys(Store store) {
        return store.call(work -> work.from(type).keys());
    }

    // ---- units

    private void units() {
        if (!maker.change(maker.make(0, 0), 0, 1)) {
            without.put("short units of work", maker.entity().name() + " has no value that could be changed");
            return;
        }
        way("read by key, change, commit", Group.UNITS, true, (store, meter) -> {
            List<Object> keys = meter.apart(() -> keys(store));
            for (Object key : keys) {
                if (!meter.goesOn()) {
                    return;
                }
                store.run(work -> maker.change(work.require(type, key), meter.rows(), 2));
                meter.did(1);
            }
        });
    }
}
