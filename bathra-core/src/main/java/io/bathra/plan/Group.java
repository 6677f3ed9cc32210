package io.bathra.plan;

import io.bathra.mapping.ColumnSet;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute.Pivot;
import io.bathra.mapping.StoredAttribute;
import io.bathra.trace.Operation;
import io.bathra.track.Change;
import io.bathra.track.Change.Insert;
import io.bathra.track.Change.Update;
import io.bathra.track.Entry;
import java.util.BitSet;
import java.util.Comparator;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Rows that one statement could write: same operation, same table, same columns. */
record Group(Operation operation, ColumnSet columns, boolean temporary, boolean blind) {
    @Override
    public boolean equals(@Nullable Object other) {
        return other instanceof Group that
                && operation == that.operation
                && columns.equals(that.columns)
                && temporary == that.temporary
                && blind == that.blind;
    }

    @Override
    public int hashCode() {
        return operation.ordinal() * 31 + columns.hashCode();
    }

    /** Which comes first where nothing else decides; what is inserted last is deleted first. */
    static final Comparator<Group> ORDER = Group::compare;

    private static int compare(Group a, Group b) {
        int order = a.operation.compareTo(b.operation);
        if (order == 0) {
            order = Integer.compare(a.entity().position(), b.entity().position());
            order = a.operation == Operation.DELETE ? -order : order;
        }
        if (order == 0) {
            order = Boolean.compare(b.temporary, a.temporary);
        }
        if (order == 0) {
            order = a.columns.order().compareTo(b.columns.order());
        }
        return order == 0 ? Boolean.compare(a.blind, b.blind) : order;
    }

    static Group of(Change change) {
        ModelEntity<?> entity = change.entry().entity();
        if (change instanceof Insert insert) {
            boolean maybeThere = entity.kind() == ModelEntity.Kind.PIVOT && !isOfNewOwner(insert);
            Operation operation = maybeThere ? Operation.INSERT_MISSING : Operation.INSERT;
            return new Group(operation, written(entity, insert.values()), false, false);
        }
        boolean blind = change.entry().isBlind();
        if (change instanceof Update update) {
            return new Group(Operation.UPDATE, entity.columnSets().of(update.changed()), update.temporary(), blind);
        }
        return new Group(Operation.DELETE, entity.columnSets().keyOnly(), false, blind);
    }

    /**
     * Whether a pair is one of an owner that the same flush inserts, so that it cannot be there already. Where the pivot
     * keeps an order, the pair has its place.
     */
    private static boolean isOfNewOwner(Insert pair) {
        Pivot pivot = Objects.requireNonNull(pair.entry().entity().pivot());
        return pair.values()[pivot.near().slot()] instanceof Entry<?> owner
                && owner.state() == Entry.State.NEW
                && (pivot.order() == null || pair.values()[pivot.order().slot()] != null);
    }

    /** What an insert writes: all that is not left to the database. */
    private static ColumnSet written(ModelEntity<?> entity, @Nullable Object[] values) {
        if (entity.databaseMade().isEmpty()) {
            return entity.columnSets().all();
        }
        BitSet written = new BitSet();
        written.set(0, values.length);
        for (StoredAttribute attribute : entity.databaseMade()) {
            written.set(attribute.slot(), !leftToDatabase(attribute, values[attribute.slot()]));
        }
        return entity.columnSets().of(written);
    }

    private static boolean leftToDatabase(StoredAttribute attribute, @Nullable Object value) {
        return attribute.databaseMade() instanceof DatabaseMade.Computed
                || (attribute.databaseMade() instanceof DatabaseMade.Default && value == null);
    }

    ModelEntity<?> entity() {
        return columns.entity();
    }

    /** Why something has to come after these rows. */
    String before(StoredAttribute link) {
        return "after " + this + " (" + link + ")";
    }

    @Override
    public String toString() {
        return operation + " " + entity().table();
    }
}
