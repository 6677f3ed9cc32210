package io.bathra;

import io.bathra.access.Doors;
import io.bathra.error.NoSuchRowException;
import io.bathra.jdbc.Transaction;
import io.bathra.model.LinkAttribute;
import io.bathra.model.LinksAttribute;
import io.bathra.model.ModelEntity;
import io.bathra.sql.Dialect;
import io.bathra.sql.SelectWriter;
import io.bathra.track.Cohort;
import io.bathra.track.Entry;
import io.bathra.track.RelationReader;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/** Reads an unread association for every member of a cohort, in one statement. */
final class CohortReader implements RelationReader {
    /** So many placeholders of one statement are fine with every database; a larger cohort is read in chunks. */
    private static final int CHUNK = 8_000;

    private final UnitOfWork work;
    private final Transaction transaction;
    private final Dialect dialect;

    CohortReader(UnitOfWork work, Transaction transaction) {
        this.work = work;
        this.transaction = transaction;
        this.dialect = transaction.database().dialect();
    }

    @Override
    public void read(Entry<?> entry, LinkAttribute link) {
        work.reading(() -> {
            readLinks(members(entry), link);
            if (!Doors.link().isRead(link.holder(entry.object()))) {
                throw new NoSuchRowException(entry + "." + link.name() + " leads to "
                        + link.target().describe(Doors.link().unreadKey(link.holder(entry.object())))
                        + ", which is not in the table '" + link.target().table()
                        + "'; somebody removed it, or the foreign key is not enforced");
            }
            return null;
        });
    }

    @Override
    public void read(Entry<?> entry, LinksAttribute links) {
        work.reading(() -> {
            readToManys(members(entry), links);
            return null;
        });
    }

    private static Collection<Entry<?>> members(Entry<?> entry) {
        Cohort cohort = entry.cohort();
        Set<Entry<?>> members = new LinkedHashSet<>();
        members.add(entry);
        if (cohort != null) {
            members.addAll(cohort.members());
        }
        return members;
    }

    /** Reads a link of several entries; where the target's row is gone, the link stays unread. */
    void readLinks(Collection<Entry<?>> entries, LinkAttribute link) {
        List<Object> open = new ArrayList<>();
        Set<Object> missing = new LinkedHashSet<>();
        Tracker tracker = work.tracker();
        for (Entry<?> entry : entries) {
            Object holder = link.holder(entry.object());
            Object key = Doors.link().unreadKey(holder);
            if (key != null && isAlive(entry)) {
                open.add(holder);
                if (tracker.entry(link.target(), key) == null) {
                    missing.add(key);
                }
            }
        }
        String cause = "read " + link + " for " + open.size();
        if (missing.isEmpty() && !open.isEmpty()) {
            transaction.answeredFromMemory(cause);
        }
        for (List<Object> keys : chunks(missing, link.columns().size())) {
            work.reader()
                    .read(
                            cause,
                            link.target(),
                            SelectWriter.rowsWith(
                                    dialect, link.target(), link.target().keyColumns(), link.shape(), keys));
        }
        for (Object holder : open) {
            Entry<?> target = tracker.entry(
                    link.target(), Objects.requireNonNull(Doors.link().unreadKey(holder)));
            if (target != null) {
                Doors.link().point(holder, target.object());
            }
        }
    }

    /** Reads a to-many of several entries. */
    void readToManys(Collection<Entry<?>> entries, LinksAttribute many) {
        Map<Object, Entry<?>> owners = new LinkedHashMap<>();
        for (Entry<?> entry : entries) {
            Object key = entry.key();
            if (key != null && isAlive(entry) && !Doors.links().isRead(many.holder(entry.object()))) {
                owners.put(key, entry);
            }
        }
        String cause = "read " + many + " for " + owners.size();
        Map<Object, List<Entry<?>>> children = new HashMap<>();
        ModelEntity<?> target = many.target();
        for (List<Object> keys :
                chunks(owners.keySet(), many.otherEnd().columns().size())) {
            for (Entry<?> child : work.reader()
                    .read(
                            cause,
                            target,
                            SelectWriter.rowsWith(
                                    dialect,
                                    target,
                                    many.otherEnd().columns(),
                                    many.otherEnd().shape(),
                                    keys))) {
                Object owner = child.before(many.otherEnd());
                if (owner != null) {
                    children.computeIfAbsent(owner, o -> new ArrayList<>()).add(child);
                }
            }
        }
        owners.forEach((key, owner) -> work.tracker().fill(owner, many, children.getOrDefault(key, List.of())));
    }

    private static boolean isAlive(Entry<?> entry) {
        return entry.state() == Entry.State.STORED || entry.state() == Entry.State.REMOVED;
    }

    private static List<List<Object>> chunks(Collection<Object> keys, int columns) {
        int chunk = CHUNK / columns;
        List<Object> all = new ArrayList<>(keys);
        List<List<Object>> chunks = new ArrayList<>();
        for (int from = 0; from < all.size(); from += chunk) {
            chunks.add(all.subList(from, Math.min(all.size(), from + chunk)));
        }
        return chunks;
    }
}
