package io.bathra.plan;

import io.bathra.access.Doors;
import io.bathra.attr.DeleteRule;
import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.error.InvalidChangesException;
import io.bathra.error.Problem;
import io.bathra.error.RestrictViolation;
import io.bathra.input.ValueCheck;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.KeySource;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.mapping.Years;
import io.bathra.track.Change;
import io.bathra.track.Changes;
import io.bathra.track.Entry;
import io.bathra.track.Entry.State;
import io.bathra.track.EntryMap;
import io.bathra.track.RowKey;
import io.bathra.track.Stranger;
import io.bathra.track.Tracker;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Finds every pending change that cannot be stored, before any SQL. */
final class ChangeCheck {
    private final Tracker tracker;
    private final Years years;
    private final List<Problem> problems = new ArrayList<>(0);
    private final EntryMap<Boolean> inserted = new EntryMap<>();

    /** The rows that want unique values; made when the first one wants one. */
    private Map<Claim, Entry<?>> claims = Map.of();

    /** The constraints among the claims: few, so that one is found as fast by looking at all. */
    private final List<UniqueKey> claimed = new ArrayList<>(0);

    /** Removals that the database would refuse. */
    private final List<Problem> refusals = new ArrayList<>();

    /** Empty in most units. */
    private final Set<Entry<?>> leaving;

    /** The rows that will be gone. */
    private Set<RowKey> gone = Set.of();

    /** A unique value that a row wants to have. */
    private record Claim(UniqueKey unique, Object value) {
        @Override
        public boolean equals(@Nullable Object other) {
            return other instanceof Claim claim && claim.unique == unique && claim.value.equals(value);
        }

        @Override
        public int hashCode() {
            return System.identityHashCode(unique) * 31 + value.hashCode();
        }
    }

    private ChangeCheck(Tracker tracker, Changes changes, Years years) {
        this.tracker = tracker;
        this.years = years;
        if (changes.deletes().isEmpty()) {
            leaving = Set.of();
        } else {
            leaving = Collections.newSetFromMap(new IdentityHashMap<>());
            changes.deletes().forEach(delete -> leaving.add(delete.entry()));
            leaving.addAll(changes.taken().keySet());
        }
    }

    static List<Problem> problems(Tracker tracker, Changes changes, Years years) {
        ChangeCheck check = of(tracker, changes, years);
        List<Problem> all = new ArrayList<>(check.problems);
        all.addAll(check.refusals);
        return all;
    }

    /**
     * Refuses changes that cannot be stored.
     *
     * @throws InvalidChangesException with every problem found
     */
    static void refuse(Tracker tracker, Changes changes, Years years) {
        ChangeCheck check = of(tracker, changes, years);
        if (check.problems.isEmpty() && !check.refusals.isEmpty()) {
            throw new RestrictViolation(check.refusals, null);
        }
        if (!check.problems.isEmpty()) {
            check.problems.addAll(check.refusals);
            throw new InvalidChangesException(check.problems);
        }
    }

    private static ChangeCheck of(Tracker tracker, Changes changes, Years years) {
        ChangeCheck check = new ChangeCheck(tracker, changes, years);
        List<Change.Insert> inserts = changes.inserts();
        for (int i = 0; i < inserts.size(); i++) { // no iterators: this is done for each flush
            check.inserted.put(inserts.get(i).entry(), true);
        }
        for (int i = 0; i < inserts.size(); i++) { // all are known by now
            Change.Insert insert = inserts.get(i);
            check.view(insert.entry());
            check.row(insert.entry(), null, insert.values());
        }
        List<Change.Update> updates = changes.updates();
        for (int i = 0; i < updates.size(); i++) {
            Change.Update update = updates.get(i);
            check.view(update.entry());
            check.row(update.entry(), update.changed(), update.values());
        }
        List<Change.Delete> deletes = changes.deletes();
        for (int i = 0; i < deletes.size(); i++) {
            check.view(deletes.get(i).entry());
        }
        check.claimsOfOthers(changes);
        check.newElements();
        if (!changes.deletes().isEmpty()) {
            check.linksToRemoved(changes);
        }
        return check;
    }

    private void view(Entry<?> entry) {
        if (entry.entity().isView()) {
            problems.add(new Problem(
                    entry.toString(),
                    "*",
                    entry.entity().table(),
                    Flaw.other("comes from a view, which is only read; change the rows behind it")));
        }
    }

    private void row(Entry<?> entry, @Nullable BitSet changed, @Nullable Object[] values) {
        List<StoredAttribute> stored = entry.entity().stored();
        for (int slot = 0; slot < stored.size(); slot++) { // no iterator: this is done for each row
            if (changed != null && !changed.get(slot)) {
                continue;
            }
            StoredAttribute attribute = stored.get(slot);
            Object value = values[attribute.slot()];
            if (attribute.isKey()) {
                key(entry, attribute, value);
            } else if (value == null) {
                if (attribute.required() && attribute.databaseMade() == null) {
                    report(entry, attribute, null, missing(entry, attribute));
                }
            } else {
                fits(entry, attribute, value);
            }
        }
        List<UniqueKey> uniques = entry.entity().uniqueKeys();
        for (int i = 0; i < uniques.size(); i++) {
            UniqueKey unique = uniques.get(i);
            Object value = isWritten(unique, entry, changed) ? unique.value(values) : null;
            if (value != null) {
                claim(entry, unique, value);
            }
        }
    }

    /** Whether any part of a unique value is written; of a row that nobody has read, all of them. */
    private static boolean isWritten(UniqueKey unique, Entry<?> entry, @Nullable BitSet changed) {
        if (changed == null) {
            return true;
        }
        boolean all = entry.state() == State.LOOSE;
        List<StoredAttribute> attributes = unique.attributes();
        for (int i = 0; i < attributes.size(); i++) {
            if (changed.get(attributes.get(i).slot()) != all) {
                return !all;
            }
        }
        return all;
    }

    private void key(Entry<?> entry, StoredAttribute key, @Nullable Object value) {
        if (entry.state() == State.STORED) {
            report(entry, key, value, "a key cannot be changed; set it back, or remove the object and add a new one");
        } else if (value == null && entry.entity().keySource() == KeySource.ASSIGNED) {
            report(
                    entry,
                    key,
                    null,
                    Flaw.of(Code.REQUIRED, "the key is assigned by the program; set it before the flush"));
        } else if (value != null) {
            fits(entry, key, value);
        }
    }

    private static Flaw missing(Entry<?> entry, StoredAttribute attribute) {
        Object there = attribute.isLink() || attribute.isLater() ? null : attribute.get(entry.object());
        return Character.valueOf('\0').equals(there)
                ? Flaw.of(
                        Code.REQUIRED,
                        "is the character NUL, with which Java begins and which stands for no value; it is required,"
                                + " so set it")
                : ValueCheck.MISSING;
    }

    private void fits(Entry<?> entry, StoredAttribute attribute, Object value) {
        if (attribute instanceof LinkAttribute link) {
            link(entry, link, value);
            return;
        }
        ValueCheck.check(
                attribute,
                value,
                years,
                (label, shown, flaw) -> problems.add(new Problem(entry.toString(), label, shown, flaw)));
    }

    private void link(Entry<?> entry, LinkAttribute link, Object value) {
        if (value instanceof Stranger stranger) {
            report(
                    entry,
                    link,
                    stranger.target(),
                    "leads to an object that this unit of work does not know; read it here, or add it");
        } else if (value instanceof Entry<?> target) {
            if (target.state() == State.NEW && !inserted.contains(target)) {
                report(entry, link, target, "leads to a new object that was not added; add it");
            }
        } else {
            String mismatch = link.target().keyShape().mismatch(value);
            if (mismatch != null) {
                report(
                        entry,
                        link,
                        value,
                        "leads to a key of " + link.target().name() + ", which " + mismatch
                                + "; give one of that type");
            }
        }
    }

    /** New objects in links that do not store them along. */
    private void newElements() {
        List<Entry<?>> entries = tracker.entries();
        for (int i = 0; i < entries.size(); i++) { // no iterator: this is done for each object of each flush
            Entry<?> entry = entries.get(i);
            List<LinksAttribute> loose = entry.entity().toManysWithoutCascade();
            if (loose.isEmpty() || (entry.state() != State.STORED && !inserted.contains(entry))) {
                continue;
            }
            for (LinksAttribute many : loose) {
                for (Object element : Doors.links().present(many.holder(entry.object()))) {
                    if (tracker.entryOf(element) == null) {
                        problems.add(new Problem(
                                entry.toString(),
                                many.name(),
                                element,
                                Flaw.other("holds an object that this unit of work does not know, and does not store it"
                                        + " along; add it")));
                    }
                }
            }
        }
    }

    /** Two rows of one unit that want the same unique value. */
    private void claim(Entry<?> entry, UniqueKey unique, Object value) {
        claims = claims.isEmpty() ? new HashMap<>() : claims;
        if (!isClaimed(unique)) {
            claimed.add(unique);
        }
        Entry<?> other = claims.putIfAbsent(new Claim(unique, value), entry);
        if (other != null) {
            report(
                    entry,
                    unique,
                    value,
                    "must be unique, but " + other + " is about to be stored with the same value; change one of them");
        }
    }

    private boolean isClaimed(UniqueKey unique) {
        for (int i = claimed.size() - 1; i >= 0; i--) {
            if (claimed.get(i) == unique) {
                return true;
            }
        }
        return false;
    }

    /** Rows that stay as they are may have a unique value that another one wants. */
    private void claimsOfOthers(Changes changes) {
        if (claims.isEmpty()) {
            return;
        }
        EntryMap<Boolean> changing = new EntryMap<>();
        List<Change.Update> updates = changes.updates();
        for (int i = 0; i < updates.size(); i++) {
            changing.put(updates.get(i).entry(), true);
        }
        List<Entry<?>> entries = tracker.entries();
        for (int i = 0; i < entries.size(); i++) {
            Entry<?> entry = entries.get(i);
            if (entry.state() != State.STORED || changing.contains(entry) || leaving.contains(entry)) {
                continue;
            }
            List<UniqueKey> uniques = entry.entity().uniqueKeys();
            for (int j = 0; j < uniques.size(); j++) {
                UniqueKey unique = uniques.get(j);
                Object value = isClaimed(unique) ? unique.value(entry::before) : null;
                Entry<?> other = value == null ? null : claims.get(new Claim(unique, value));
                if (value != null && other != null && other != entry) {
                    report(other, unique, value, "must be unique, but " + entry + " has it; change one of them");
                }
            }
        }
    }

    private void report(Entry<?> entry, UniqueKey unique, Object value, String reason) {
        problems.add(new Problem(
                entry.toString(),
                unique.attributes().stream().map(Attribute::name).collect(Collectors.joining("+")),
                value,
                Flaw.of(Code.TAKEN, reason)));
    }

    private void linksToRemoved(Changes changes) {
        gone = new HashSet<>();
        leaving.forEach(entry -> gone.add(new RowKey(entry.entity(), Objects.requireNonNull(entry.key()))));
        for (Entry<?> entry : tracker.entries()) {
            if (leaving.contains(entry) || (entry.state() != State.STORED && !inserted.contains(entry))) {
                continue; // a new object that is not reached any more says nothing
            }
            for (LinkAttribute link : entry.entity().links()) {
                leadsToRemoved(entry, link, entry.now(link));
            }
        }
        for (Change.Update update : changes.updates()) {
            for (LinkAttribute link : update.entry().entity().links()) {
                if (update.entry().state() == State.LOOSE && update.changed().get(link.slot())) {
                    leadsToRemoved(update.entry(), link, update.values()[link.slot()]);
                }
            }
        }
    }

    private void leadsToRemoved(Entry<?> entry, LinkAttribute link, @Nullable Object value) {
        boolean stored = entry.state() != State.NEW;
        if (value == null
                || !gone.contains(new RowKey(link.target(), value))
                || (stored && link.onDelete() == DeleteRule.SET_NULL)) {
            return;
        }
        boolean refused = stored && link.onDelete() == DeleteRule.RESTRICT;
        (refused ? refusals : problems)
                .add(
                        new Problem(
                                entry.toString(),
                                link.name(),
                                link.target().describe(value),
                                Flaw.other(
                                        "leads to an object that is to be removed; remove this one too, or point it elsewhere")));
    }

    private void report(Entry<?> entry, StoredAttribute attribute, @Nullable Object value, String reason) {
        report(entry, attribute, value, Flaw.other(reason));
    }

    private void report(Entry<?> entry, StoredAttribute attribute, @Nullable Object value, Flaw flaw) {
        problems.add(new Problem(entry.toString(), attribute.name(), attribute.shown(value), flaw));
    }
}
