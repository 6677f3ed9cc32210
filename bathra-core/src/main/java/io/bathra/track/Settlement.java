package io.bathra.track;

import io.bathra.access.Doors;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** What an owner's collection holds when the rows behind it have been written. */
public sealed interface Settlement {
    /** Before the rows themselves are brought in step. Gives back what takes it back. */
    Runnable begin();

    /** After the rows have been brought in step. */
    void end();

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
        public Runnable begin() {
            Map<PartsAttribute, List<Entry<HiddenRow>>> kept =
                    owner.belongings().parts();
            List<Entry<HiddenRow>> before = kept.get(attribute);
            List<Runnable> undo = new ArrayList<>();
            for (int i = 0; i < rows.size(); i++) {
                Entry<HiddenRow> row = rows.get(i);
                Object part = attribute.part(row.object());
                Long position = attribute.position(row.object());
                undo.add(() -> attribute.put(row.object(), part, position));
                attribute.put(row.object(), parts.get(i), positions == null ? null : (Long) positions[i]);
                row.tieHolders();
            }
            kept.put(attribute, rows);
            return () -> {
                undo.forEach(Runnable::run);
                if (before == null) {
                    kept.remove(attribute);
                } else {
                    kept.put(attribute, before);
                }
            };
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
        public Runnable begin() {
            entries.forEach(entry -> entry.tracker().takeAlong(entry));
            return () -> entries.get(0).tracker().bringBack(entries);
        }

        @Override
        public void end() {}
    }

    /** A link to a removed row, which is empty now, whatever this flush has written there before. */
    record OfEmptied(Entry<?> entry, LinkAttribute link) implements Settlement {
        @Override
        public Runnable begin() {
            Object holder = link.holder(entry.object());
            Object target = Doors.link().target(holder);
            Object key = Doors.link().unreadKey(holder);
            @Nullable Object[] before = entry.row();
            return () -> {
                entry.snapshot = before;
                if (Doors.link().target(holder) != null || Doors.link().unreadKey(holder) != null) {
                    return; // the user has pointed it elsewhere since
                }
                if (key != null) {
                    Doors.link().unread(holder, key);
                } else {
                    Doors.link().point(holder, target);
                }
            };
        }

        @Override
        public void end() {
            @Nullable Object[] after = entry.row().clone();
            after[link.slot()] = null;
            entry.snapshot = after;
            Doors.link().point(link.holder(entry.object()), null);
        }
    }

    /** A row that a statement has changed, which its object follows. */
    record OfOverwritten(Entry<?> entry, @Nullable Object[] row) implements Settlement {
        @Override
        public Runnable begin() {
            @Nullable Object[] before = entry.row();
            return () -> entry.tracker().loader().refresh(entry, before);
        }

        @Override
        public void end() {
            entry.tracker().loader().refresh(entry, row);
        }
    }

    /** The rows of an owner's parts that a statement may have changed, which the collection follows. */
    record OfRereadParts(Entry<?> owner, PartsAttribute attribute, List<@Nullable Object[]> rows)
            implements Settlement {
        @Override
        public Runnable begin() {
            List<Entry<HiddenRow>> before = Objects.requireNonNullElse(owner.parts(attribute), List.of());
            List<@Nullable Object[]> rowsBefore =
                    before.stream().map(Entry::row).toList();
            return () -> owner.tracker().loader().parts(owner, attribute, rowsBefore);
        }

        @Override
        public void end() {
            owner.tracker().loader().parts(owner, attribute, rows);
        }
    }

    /** Pairs that a statement may have changed: they are read anew when they are visited, after a rollback as well. */
    record OfUnreadPairs(Entry<?> entry) implements Settlement {
        @Override
        public Runnable begin() {
            return this::end;
        }

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
        public Runnable begin() {
            Object holder = attribute.holder(owner.object());
            if (pairs == null) {
                List<Object> present = Doors.links().present(holder);
                List<Object> taken = Doors.links().taken(holder);
                Doors.links().pending(holder, List.of(), List.of());
                return () -> doAgain(holder, present, taken);
            }
            Map<PivotAttribute, Map<Object, @Nullable Long>> kept =
                    owner.belongings().pairs();
            Map<Object, @Nullable Long> before =
                    kept.containsKey(attribute) ? new LinkedHashMap<>(kept.get(attribute)) : null;
            return () -> {
                if (before == null) {
                    kept.remove(attribute);
                } else {
                    kept.put(attribute, before);
                }
            };
        }

        /**
         * What was put in and taken out is to be done again, with what has come to it since. Where the links were read in
         * the transaction that is taken back, the pairs that it had written are as they were not.
         */
        private void doAgain(Object holder, List<Object> present, List<Object> taken) {
            List<Object> changed = new ArrayList<>(present);
            changed.addAll(taken);
            Set<Object> now = Collections.newSetFromMap(new IdentityHashMap<>());
            now.addAll(Doors.links().present(holder));
            if (!Doors.links().isRead(holder)) {
                List<Object> out = Doors.links().taken(holder);
                Set<Object> outSince = Collections.newSetFromMap(new IdentityHashMap<>());
                outSince.addAll(out);
                List<Object> in = new ArrayList<>(present);
                in.removeIf(outSince::contains);
                Doors.links().present(holder).stream()
                        .filter(element -> !present.contains(element))
                        .forEach(in::add);
                taken.stream()
                        .filter(element -> !now.contains(element) && !outSince.contains(element))
                        .forEach(out::add);
                Doors.links().pending(holder, in, out);
                return;
            }
            Map<Object, @Nullable Long> stored = owner.pairs(attribute);
            for (Object element : changed) {
                Entry<?> target = owner.tracker().entryOf(element);
                if (stored == null || target == null || target.key() == null) {
                    continue;
                }
                if (now.contains(element)) {
                    stored.remove(target.key());
                } else {
                    stored.put(target.key(), null);
                }
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
            owner.belongings().pairs().put(attribute, byKey);
        }
    }
}
