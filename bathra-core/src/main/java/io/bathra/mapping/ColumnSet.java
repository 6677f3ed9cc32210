package io.bathra.mapping;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/**
 * Some of the stored attributes of one entity, in the order of their columns: those that a statement writes. As a rule
 * there is one object for each set, so that whatever depends on it is found at once. Immutable.
 */
public final class ColumnSet {
    private final ModelEntity<?> entity;
    private final BitSet slots;
    private final List<StoredAttribute> attributes;
    private final List<StoredColumn> columns;
    private final List<StoredAttribute> madeByInsert;
    private final String order;

    private ColumnSet(ModelEntity<?> entity, BitSet slots) {
        this.entity = entity;
        this.slots = slots;
        List<StoredAttribute> chosen = new ArrayList<>();
        for (int slot = slots.nextSetBit(0); slot >= 0; slot = slots.nextSetBit(slot + 1)) {
            chosen.add(entity.stored().get(slot));
        }
        attributes = List.copyOf(chosen);
        columns = ModelEntity.columns(attributes);
        List<StoredAttribute> made = new ArrayList<>();
        for (StoredAttribute attribute : entity.databaseMade()) {
            DatabaseMade how = attribute.databaseMade();
            if (!slots.get(attribute.slot()) || (how != null && how.changesOnUpdate())) {
                made.add(attribute);
            }
        }
        madeByInsert = made.isEmpty() ? Collections.emptyList() : List.copyOf(made);
        order = slots.toString();
    }

    public ModelEntity<?> entity() {
        return entity;
    }

    public List<StoredAttribute> attributes() {
        return attributes;
    }

    /** The columns of the attributes. */
    public List<StoredColumn> columns() {
        return columns;
    }

    /** The attributes to which the database gives values when a row is inserted with these columns. */
    public List<StoredAttribute> madeByInsert() {
        return madeByInsert;
    }

    /** Tells in which order steps come that differ in nothing else. */
    public String order() {
        return order;
    }

    /** Sets that are not remembered are made anew, and stand for the same columns all the same. */
    @Override
    public boolean equals(@Nullable Object other) {
        return this == other || (other instanceof ColumnSet that && entity == that.entity && slots.equals(that.slots));
    }

    @Override
    public int hashCode() {
        return slots.hashCode() * 31 + entity.hashCode();
    }

    @Override
    public String toString() {
        return entity + "" + attributes;
    }

    /** The sets of one entity that were asked for, each made once. Thread-safe. */
    public static final class Sets {
        /** Programs change far fewer combinations; of one that does not, the later sets are made anew each time. */
        private static final int REMEMBERED = 1_000;

        private final ModelEntity<?> entity;
        private final ColumnSet all;
        private final ColumnSet keyOnly;
        private final Map<BitSet, ColumnSet> known = new ConcurrentHashMap<>();

        /**
         * @param entity whose attributes and columns are known
         */
        Sets(ModelEntity<?> entity) {
            this.entity = entity;
            all = of(range(entity.stored().size()));
            keyOnly = of(range(entity.keyAttributes().size()));
        }

        private static BitSet range(int size) {
            BitSet slots = new BitSet(size);
            slots.set(0, size);
            return slots;
        }

        /** All attributes. */
        public ColumnSet all() {
            return all;
        }

        /** The attributes of the key, with which a statement is told of a row. */
        public ColumnSet keyOnly() {
            return keyOnly;
        }

        /** The attributes with these slots. */
        public ColumnSet of(BitSet slots) {
            ColumnSet set = known.get(slots);
            if (set == null) {
                BitSet own = (BitSet) slots.clone();
                set = new ColumnSet(entity, own);
                if (known.size() < REMEMBERED) {
                    ColumnSet other = known.putIfAbsent(own, set);
                    set = other == null ? set : other;
                }
            }
            return set;
        }

        /** Some attributes. */
        public ColumnSet of(Collection<? extends StoredAttribute> attributes) {
            BitSet slots = new BitSet(entity.stored().size());
            attributes.forEach(attribute -> slots.set(attribute.slot()));
            return of(slots);
        }
    }
}
