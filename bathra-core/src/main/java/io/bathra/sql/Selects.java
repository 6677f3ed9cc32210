package io.bathra.sql;

import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.LinksAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PivotAttribute;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** The selects of whole rows by keys, each written once for so many keys. Thread-safe. */
public final class Selects {
    /** So many keys are few: what selects by them is worth remembering. */
    private static final int FEW = 32;

    /** Programs need far fewer. */
    private static final int REMEMBERED = 10_000;

    private enum What {
        ROW,
        ROWS,
        LEADING,
        ELEMENTS,
        PAIRS
    }

    private record Asked(What what, Object about, int keys) {
        @Override
        public boolean equals(@Nullable Object other) {
            return other instanceof Asked that && what == that.what && about == that.about && keys == that.keys;
        }

        @Override
        public int hashCode() {
            return (about.hashCode() * 31 + what.ordinal()) * 31 + keys;
        }
    }

    private final Dialect dialect;
    private final Remembered<Asked, SqlText> written = new Remembered<>(REMEMBERED);

    Selects(Dialect dialect) {
        this.dialect = dialect;
    }

    /** The whole row with a key. */
    public SqlText row(ModelEntity<?> entity, Object key) {
        return select(What.ROW, entity, List.of(key));
    }

    /** The whole rows with these keys, in any order. */
    public SqlText rows(ModelEntity<?> entity, List<?> keys) {
        return select(What.ROWS, entity, keys);
    }

    /** The whole rows whose link leads to one of these keys, ordered by key. */
    public SqlText leading(LinkAttribute link, List<?> keys) {
        return select(What.LEADING, link, keys);
    }

    /** The whole rows at the many end of an association, for owners with these keys, in the declared order. */
    public SqlText elements(LinksAttribute many, List<?> owners) {
        return select(What.ELEMENTS, many, owners);
    }

    /**
     * The whole rows that owners with these keys are paired with; behind each the key of its owner, and its position
     * where the pivot keeps one.
     */
    public SqlText pairs(PivotAttribute pivot, List<?> owners) {
        return select(What.PAIRS, pivot, owners);
    }

    private SqlText select(What what, Object about, List<?> keys) {
        if (keys.size() > FEW) {
            return write(what, about, keys);
        }
        Asked asked = new Asked(what, about, keys.size());
        SqlText known = written.known(asked);
        return (known != null ? known : written.keep(asked, write(what, about, holes(keys.size())))).filled(keys);
    }

    private static List<Hole> holes(int count) {
        List<Hole> holes = new ArrayList<>(count);
        for (int i = 0; i < count; i++) {
            holes.add(new Hole(i, UnaryOperator.identity()));
        }
        return holes;
    }

    private SqlText write(What what, Object about, List<?> keys) {
        return switch (what) {
            case ROW -> SelectWriter.rowByKey(dialect, (ModelEntity<?>) about, Objects.requireNonNull(keys.get(0)));
            case ROWS -> {
                ModelEntity<?> entity = (ModelEntity<?>) about;
                yield SelectWriter.rowsWith(dialect, entity, entity.keyColumns(), entity.keyShape(), keys);
            }
            case LEADING -> {
                LinkAttribute link = (LinkAttribute) about;
                yield SelectWriter.rowsWith(dialect, link.entity(), link.columns(), link.shape(), keys);
            }
            case ELEMENTS ->
                SelectWriter.elements(dialect, (LinksAttribute) about, keys, List.of())
                        .text();
            case PAIRS ->
                SelectWriter.pairs(dialect, (PivotAttribute) about, keys, List.of())
                        .text();
        };
    }
}
