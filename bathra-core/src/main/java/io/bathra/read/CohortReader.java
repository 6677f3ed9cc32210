package io.bathra.read;

import io.bathra.access.Doors;
import io.bathra.error.NoSuchRowException;
import io.bathra.jdbc.Alike;
import io.bathra.jdbc.Asked;
import io.bathra.jdbc.KeyedRows;
import io.bathra.jdbc.Transaction;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.InverseAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.ToMany;
import io.bathra.sql.Dialect;
import io.bathra.sql.SelectWriter;
import io.bathra.text.Cause;
import io.bathra.track.Cohort;
import io.bathra.track.Entry;
import io.bathra.track.RelationReader;
import io.bathra.track.Tracker;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Reads an unread association for every member of a cohort, in one statement. */
final class CohortReader implements RelationReader {
    /** So many large values are read at once. */
    private static final int LATERS = 64;

    private final ReadSide side;
    private final Transaction transaction;
    private final Dialect dialect;

    CohortReader(ReadSide side) {
        this.side = side;
        this.transaction = side.transaction();
        this.dialect = transaction.database().dialect();
    }

    @Override
    public void read(Entry<?> entry, Attribute association) {
        side.reading(() -> {
            read(members(entry), association);
            if (association instanceof LinkAttribute link) {
                refuseLost(entry, link);
            }
            return null;
        });
    }

    /** The row that a link leads to has to be there. */
    private static void refuseLost(Entry<?> entry, LinkAttribute link) {
        Object holder = link.holder(entry.object());
        if (!Doors.link().isRead(holder)) {
            throw new NoSuchRowException(entry + "." + link.name() + " leads to "
                    + link.target().describe(Doors.link().unreadKey(holder))
                    + ", which is not in the table '" + link.target().table()
                    + "'; somebody removed it, or the foreign key is not enforced");
        }
    }

    /** Large values are read for so many members of the cohort only, so that memory stays bounded. */
    @Override
    public void readLater(Entry<?> entry, StoredAttribute later) {
        Map<Object, Object> holders = new LinkedHashMap<>();
        List<Entry<?>> members = new ArrayList<>(
                entry.cohort() == null ? List.of(entry) : entry.cohort().members());
        int from = members.indexOf(entry);
        for (Entry<?> member : members.subList(from, members.size())) {
            Object holder = later.later(member.object());
            if (isStored(member)
                    && holders.size() < LATERS
                    && member.key() != null
                    && !Doors.later().isRead(holder)) {
                holders.put(member.key(), holder);
            }
        }
        side.reading(() -> {
            readValues(holders.keySet(), later);
            return null;
        });
        if (!Doors.later().isRead(later.later(entry.object()))) {
            throw new NoSuchRowException(
                    entry + " is not there any more, so its " + later.name() + " cannot be read; somebody removed it");
        }
    }

    private void readValues(Set<Object> owners, StoredAttribute later) {
        for (List<Object> keys :
                KeyedRows.chunks(owners, later.entity().keyColumns().size())) {
            transaction.query(Causes.read(later, owners.size()), SelectWriter.later(dialect, later, keys), result -> {
                @Nullable Object[] row = new Object[later.slot() + 1];
                int index = 1;
                for (StoredAttribute key : later.entity().keyAttributes()) {
                    row[key.slot()] = KeyedRows.value(transaction, key, result, index);
                    index += key.columns().size();
                }
                Object key = Objects.requireNonNull(later.entity().keyIn(row));
                Object owner = Objects.requireNonNull(side.tracker().entry(later.entity(), key))
                        .object();
                later.set(owner, KeyedRows.value(transaction, later, result, index));
            });
        }
    }

    private void readValues(Collection<Entry<?>> entries, StoredAttribute later) {
        Set<Object> owners = new LinkedHashSet<>();
        for (Entry<?> entry : entries) {
            Object key = entry.key();
            if (key != null && isStored(entry) && !Doors.later().isRead(later.later(entry.object()))) {
                owners.add(key);
            }
        }
        if (!owners.isEmpty()) {
            readValues(owners, later);
        }
    }

    /** Reads an association of several entries, or a value that is read on request. */
    void read(Collection<Entry<?>> entries, Attribute association) {
        if (association instanceof StoredAttribute later && later.isLater()) {
            readValues(entries, later);
        } else if (association instanceof LinkAttribute link) {
            readLinks(entries, link);
        } else if (association instanceof InverseAttribute inverse) {
            readInverses(entries, inverse);
        } else if (association instanceof ToMany many) {
            readToManys(entries, many);
        }
    }

    private static Collection<Entry<?>> members(Entry<?> entry) {
        Cohort cohort = entry.cohort();
        if (cohort == null || cohort.members().size() < 2) {
            return List.of(entry);
        }
        Set<Entry<?>> members = new LinkedHashSet<>();
        members.add(entry);
        members.addAll(cohort.members());
        return members;
    }

    /** Reads a link of several entries; where the target's row is gone, the link stays unread. */
    void readLinks(Collection<Entry<?>> entries, LinkAttribute link) {
        List<Entry<?>> open = new ArrayList<>();
        Set<Object> missing = new LinkedHashSet<>();
        Tracker tracker = side.tracker();
        for (Entry<?> entry : entries) {
            Object holder = link.holder(entry.object());
            Object key = Doors.link().unreadKey(holder);
            if (key != null && entry.state() != Entry.State.GONE) {
                open.add(entry);
                if (tracker.entry(link.target(), key) == null) {
                    missing.add(key);
                }
            }
        }
        Cause cause = Causes.read(link, open.size());
        if (missing.isEmpty() && !open.isEmpty()) {
            transaction.answeredFromMemory(cause);
        }
        Map<Object, Object> alike =
                Alike.came(missing, readTargets(cause, link, missing), keys -> readTargets(cause, link, keys));
        for (Entry<?> entry : open) {
            Object holder = link.holder(entry.object());
            takeForSame(entry, link, alike);
            Object key = Doors.link().unreadKey(holder);
            Entry<?> target = key == null ? null : tracker.entry(link.target(), key);
            if (target != null) {
                Doors.link().point(holder, target.object());
            }
        }
    }

    private void takeForSame(Entry<?> entry, LinkAttribute link, Map<Object, Object> alike) {
        Object own = alike.isEmpty() ? null : alike.get(Doors.link().unreadKey(link.holder(entry.object())));
        if (own != null) {
            side.tracker().loader().takeForSame(entry, link, own);
        }
    }

    /** Reads what a link leads to, and gives the keys of what is there. */
    private List<Object> readTargets(CharSequence cause, LinkAttribute link, Collection<Object> wanted) {
        ModelEntity<?> target = link.target();
        List<Object> there = new ArrayList<>();
        for (List<Object> keys : KeyedRows.chunks(wanted, link.columns().size())) {
            side.reader()
                    .read(cause, target, dialect.selects().rows(target, keys))
                    .forEach(entry -> there.add(Objects.requireNonNull(entry.key())));
        }
        return there;
    }

    /** Reads a to-many of several entries. */
    void readToManys(Collection<Entry<?>> entries, ToMany many) {
        Map<Object, Entry<?>> owners = new LinkedHashMap<>();
        for (Entry<?> entry : entries) {
            Object key = entry.key();
            if (key != null && isStored(entry) && !Doors.links().isRead(many.holder(entry.object()))) {
                owners.put(key, entry);
            }
        }
        if (many instanceof LinksAttribute links) {
            readElements(owners, links);
        } else if (many instanceof PivotAttribute pivot) {
            readPairs(owners, pivot);
        }
    }

    /** Asks for a to-many of the entity with a key, in the trip in which that entity is read. */
    Ahead ahead(ToMany many, Object key) {
        return many instanceof LinksAttribute links
                ? elementsAhead(links, key)
                : pairsAhead((PivotAttribute) many, key);
    }

    private Ahead elementsAhead(LinksAttribute many, Object key) {
        EntityReader.Reading<?> reading =
                side.reader().new Reading<>(many.target(), null, (child, result, index) -> {});
        Asked asked = new Asked(Causes.read(many, 1), dialect.selects().elements(many, List.of(key)), reading::row);
        return new Coming(asked, many, key, owner -> {
            List<Entry<?>> children = new ArrayList<>(reading.end());
            children.removeIf(child -> child.before(many.otherEnd()) == null);
            if (children.stream().allMatch(child -> key.equals(child.before(many.otherEnd())))) {
                side.tracker().loader().fill(owner, many, children);
            }
        });
    }

    private Ahead pairsAhead(PivotAttribute pivot, Object key) {
        Map<Entry<?>, @Nullable Long> positions = new LinkedHashMap<>();
        Set<Object> owners = new HashSet<>();
        int near = pivot.near().columns().size();
        EntityReader.Reading<?> reading =
                side.reader().new Reading<>(pivot.target(), null, (element, result, index) -> {
                    owners.add(Objects.requireNonNull(KeyedRows.value(transaction, pivot.near(), result, index)));
                    positions.putIfAbsent(element, position(pivot, result, index + near));
                });
        Asked asked = new Asked(Causes.read(pivot, 1), dialect.selects().pairs(pivot, List.of(key)), reading::row);
        return new Coming(asked, pivot, key, owner -> {
            reading.end();
            if (owners.isEmpty() || owners.equals(Set.of(key))) {
                side.tracker().loader().fill(owner, pivot, inOrder(positions));
            }
        });
    }

    private @Nullable Long position(PivotAttribute pivot, ResultSet result, int index) throws SQLException {
        return pivot.order() == null ? null : (Long) KeyedRows.value(transaction, pivot.order(), result, index);
    }

    /**
     * A to-many that is on its way. To some databases keys are alike that differ in capitals; then it is read once the
     * owner is here.
     */
    private record Coming(Asked asked, ToMany many, Object key, Consumer<Entry<?>> filler) implements Ahead {
        @Override
        public void end(Entry<?> owner) {
            if (isStored(owner) && key.equals(owner.key()) && !Doors.links().isRead(many.holder(owner.object()))) {
                filler.accept(owner);
            }
        }
    }

    private void readElements(Map<Object, Entry<?>> owners, LinksAttribute many) {
        LinkAttribute back = many.otherEnd();
        Map<Object, List<Entry<?>>> children = new HashMap<>();
        readLeading(
                        owners.keySet(),
                        back,
                        keys -> side.reader()
                                .read(
                                        Causes.read(many, owners.size()),
                                        many.target(),
                                        dialect.selects().elements(many, keys)))
                .forEach(child -> children.computeIfAbsent(
                                Objects.requireNonNull(child.before(back)), o -> new ArrayList<>())
                        .add(child));
        owners.forEach(
                (key, owner) -> side.tracker().loader().fill(owner, many, children.getOrDefault(key, List.of())));
    }

    /**
     * Reads what leads to one of some owners, as far as it still does.
     *
     * @param owners their keys
     */
    private List<Entry<?>> readLeading(
            Set<Object> owners, LinkAttribute link, Function<List<Object>, List<? extends Entry<?>>> reading) {
        Function<Collection<Object>, List<Entry<?>>> all = keys -> {
            List<Entry<?>> read = new ArrayList<>();
            KeyedRows.chunks(keys, link.columns().size()).forEach(some -> read.addAll(reading.apply(some)));
            read.removeIf(one -> one.before(link) == null);
            return read;
        };
        List<Entry<?>> read = all.apply(owners);
        if (Alike.isPossible(link.columns())) {
            Map<Object, Object> ownerOf =
                    Alike.asked(owners, keysOf(read, link), keys -> keysOf(all.apply(keys), link));
            read.forEach(one -> takeForSame(one, link, ownerOf));
        }
        return read;
    }

    private static List<Object> keysOf(List<Entry<?>> entries, LinkAttribute link) {
        List<Object> keys = new ArrayList<>(entries.size());
        entries.forEach(entry -> keys.add(Objects.requireNonNull(entry.before(link))));
        return keys;
    }

    private void readPairs(Map<Object, Entry<?>> owners, PivotAttribute pivot) {
        Cause cause = Causes.read(pivot, owners.size());
        Map<Object, Map<Entry<?>, @Nullable Long>> pairs = pairs(cause, pivot, owners.keySet());
        Alike.asked(
                        owners.keySet(),
                        pairs.keySet(),
                        keys -> pairs(cause, pivot, keys).keySet())
                .forEach((written, owner) -> pairs.computeIfAbsent(owner, o -> new LinkedHashMap<>())
                        .putAll(Objects.requireNonNull(pairs.get(written))));
        owners.forEach((key, owner) ->
                side.tracker().loader().fill(owner, pivot, inOrder(pairs.getOrDefault(key, Map.of()))));
    }

    private Map<Object, Map<Entry<?>, @Nullable Long>> pairs(
            Cause cause, PivotAttribute pivot, Collection<Object> owners) {
        Map<Object, Map<Entry<?>, @Nullable Long>> pairs = new HashMap<>();
        LinkAttribute near = pivot.near();
        for (List<Object> keys : KeyedRows.chunks(owners, near.columns().size())) {
            side.reader()
                    .read(cause, pivot.target(), dialect.selects().pairs(pivot, keys), (element, result, index) -> {
                        Object owner = Objects.requireNonNull(KeyedRows.value(transaction, near, result, index));
                        Long position =
                                position(pivot, result, index + near.columns().size());
                        pairs.computeIfAbsent(owner, o -> new LinkedHashMap<>()).putIfAbsent(element, position);
                    });
        }
        return pairs;
    }

    /** Those that were put in without a place come last. */
    private static Map<Entry<?>, @Nullable Long> inOrder(Map<Entry<?>, @Nullable Long> pairs) {
        if (pairs.size() < 2) {
            return pairs;
        }
        Map<Entry<?>, @Nullable Long> ordered = new LinkedHashMap<>();
        pairs.entrySet().stream()
                .sorted(Map.Entry.comparingByValue(Comparator.nullsLast(Comparator.naturalOrder())))
                .forEach(pair -> ordered.put(pair.getKey(), pair.getValue()));
        return ordered;
    }

    /** Reads one-to-one associations of several entries whose foreign keys the other ends hold. */
    void readInverses(Collection<Entry<?>> entries, InverseAttribute back) {
        Map<Object, Entry<?>> owners = new LinkedHashMap<>();
        for (Entry<?> entry : entries) {
            Object key = entry.key();
            if (key != null && isStored(entry) && !Doors.link().isRead(back.holder(entry.object()))) {
                owners.put(key, entry);
            }
        }
        LinkAttribute link = back.otherEnd();
        Map<Object, Entry<?>> found = new HashMap<>();
        readLeading(
                        owners.keySet(),
                        link,
                        keys -> side.reader()
                                .read(
                                        Causes.read(back, owners.size()),
                                        back.target(),
                                        dialect.selects().leading(link, keys)))
                .forEach(one -> found.put(Objects.requireNonNull(one.before(link)), one));
        owners.forEach((key, owner) -> side.tracker().loader().fill(owner, back, found.get(key)));
    }

    private static boolean isStored(Entry<?> entry) {
        return entry.state() == Entry.State.STORED || entry.state() == Entry.State.REMOVED;
    }
}
