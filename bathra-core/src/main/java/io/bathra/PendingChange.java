package io.bathra;

import io.bathra.error.UnitStateException;
import io.bathra.track.Change;
import io.bathra.track.Changes;
import io.bathra.track.Entry;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Something that the next flush would write.
 *
 * @param entity the object; for a part or a pair, the one that it belongs to; null for a row that was never read
 * @param row its row in words: {@code PortCall 17}, {@code PortCall (new #3)}
 * @param standing {@code NEW}, {@code DIRTY} or {@code REMOVED}
 * @param attribute the changed attribute; null when the whole row comes or goes
 * @param before the attribute's value in the row; for a link, the foreign key
 * @param after the attribute's value in the object; for a link, the foreign key or the new target
 */
public record PendingChange(
        @Nullable Object entity,
        String row,
        Standing standing,
        @Nullable String attribute,
        @Nullable Object before,
        @Nullable Object after) {
    /** So many are named in a message. */
    private static final int MOST_NAMED = 5;

    /** In the order of the plan: what is new, what is changed, what is removed. */
    static List<PendingChange> of(Changes changes) {
        List<PendingChange> pending = new ArrayList<>();
        changes.inserts().forEach(insert -> pending.add(whole(insert.entry(), Standing.NEW)));
        for (Change.Update update : changes.updates()) {
            Entry<?> entry = update.entry();
            update.changed().stream()
                    .mapToObj(entry.entity().stored()::get)
                    .forEach(attribute -> pending.add(new PendingChange(
                            known(entry),
                            entry.toString(),
                            Standing.DIRTY,
                            attribute.name(),
                            attribute.shown(entry.before(attribute)),
                            attribute.shown(update.values()[attribute.slot()]))));
        }
        changes.deletes().forEach(delete -> pending.add(whole(delete.entry(), Standing.REMOVED)));
        return pending;
    }

    /** Refuses to lose changes. */
    static void refuse(List<PendingChange> pending) {
        if (!pending.isEmpty()) {
            throw new UnitStateException(
                    "there are " + pending.size() + " pending changes, which would be lost: "
                            + pending.stream()
                                    .limit(MOST_NAMED)
                                    .map(PendingChange::toString)
                                    .collect(Collectors.joining(", "))
                            + (pending.size() > MOST_NAMED ? ", ..." : "")
                            + "; flush them, or throw them away with discard(...)",
                    null);
        }
    }

    private static @Nullable Object known(Entry<?> entry) {
        return entry.state() == Entry.State.LOOSE ? null : entry.domainObject();
    }

    private static PendingChange whole(Entry<?> entry, Standing standing) {
        return new PendingChange(known(entry), entry.toString(), standing, null, null, null);
    }

    @Override
    public String toString() {
        return attribute == null
                ? row + ": " + (standing == Standing.NEW ? "new" : "removed")
                : row + "." + attribute + ": " + before + " -> " + after;
    }
}
