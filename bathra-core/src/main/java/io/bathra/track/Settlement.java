package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What an owner's collection holds when the rows behind it have been written. */
public sealed interface Settlement {
    /** Before the rows themselves are brought in step. */
    void begin();

    /** After the rows have been brought in step. */
    void end();

    /** Brings in step what has changed alone. */
    default void settle() {
        begin();
        end();
    }

    /**
     * The parts of an owner.
     *
     * @param rows the rows in their order
     * @param parts what each row holds
     * @param positions where each row stands, for a list
     */
    record OfParts(
            Entry<?> owner,
            PartsAttribute attribute,
            List<Entry<HiddenRow>> rows,
            List<@Nullable Object> parts,
            long @Nullable [] positions)
            implements Settlement {
        @Override
        public void begin() {
            Journal journal = owner.tracker().journal();
            for (int i = 0; i < rows.size(); i++) {
                Entry<HiddenRow> row = rows.get(i);
                Object part = attribute.part(row.object());
                Long position = attribute.position(row.object());
                journal.add(() -> attribute.put(row.object(), part, position));
                attribute.put(row.object(), parts.get(i), positions == null ? null : (Long) positions[i]);
                row.tieHolders();
            }
            owner.belongings().putParts(attribute, rows);
        }

        /** Where the database keeps less of a part than was given, the collection has what it keeps. */
        @Override
        public void end() {
            for (int i = 0; i < rows.size(); i++) {
                if (attribute.element(rows.get(i).object()) != attribute.elementOf(parts.get(i))) {
                    attribute.fill(
                            owner.object(), rows.stream().map(Entry::object).toList());
                    return;
                }
            }
        }
    }

    /** Rows that have gone along with removed ones: their objects are tracked no longer. */
    record OfTaken(List<Entry<?>> entries) implements Settlement {
        @Override
        public void begin() {
            entries.forEach(entry -> entry.tracker().takeAlong(entry));
        }

        @Override
        public void end() {}
    }

    /** A link to a removed row, which is empty now, whatever this flush has written there before. */
    record OfEmptied(Entry<?> entry, LinkAttribute link) implements Settlement {
        @Override
        public void begin() {}

        @Override
        public void end() {
            @Nullable Object[] after = entry.row().clone();
            after[link.slot()] = null;
            entry.remember(after);
            Doors.link().point(link.holder(entry.object()), null);
        }
    }

    /** A row that a statement has changed, which its object follows. */
    record OfOverwritten(Entry<?> entry, @Nullable Object[] row) implements Settlement {
        @Override
        public void begin() {}

        @Override
        public void end() {
            entry.tracker().loader().overwritten(entry, row);
        }
    }

    /** The rows of an owner's parts that a statement may have changed, which the collection follows. */
    record OfRereadParts(Entry<?> owner, PartsAttribute attribute, List<@Nullable Object[]> rows)
            implements Settlement {
        @Override
        public void begin() {}

        @Override
        public void end() {
            owner.tracker().loader().parts(owner, attribute, rows);
        }
    }

    /** Pairs that a statement may have changed: they are read anew when they are visited. */
    record OfUnreadPairs(Entry<?> entry) implements Settlement {
        @Override
        public void begin() {}

        @Override
        public void end() {
            new Resetter(entry.tracker()).readPairsAgain(entry);
        }
    }

    /**
     * The pairs of an owner.
     *
     * @param pairs what the owner is paired with, a key or the entry of a new object, with the position of each; null
     *     while the links are unread
     */
    record OfPairs(
            Entry<?> owner,
            PivotAttribute attribute,
            @Nullable Map<Object, @Nullable Long> pairs) implements Settlement {
        @Override
        public void begin() {
            if (pairs == null) {
                Doors.links().pending(attribute.holder(owner.object()), List.of(), List.of());
            }
        }

        /** By now new objects have their keys. */
        @Override
        public void end() {
            if (pairs == null) {
                return;
            }
            Map<Object, @Nullable Long> byKey = new LinkedHashMap<>();
            pairs.forEach((target, position) -> {
                Object key = target instanceof Entry<?> entry ? entry.key() : target;
                if (key != null) {
                    byKey.put(key, position);
                }
            });
            owner.belongings().putPairs(attribute, byKey);
        }
    }
}
