package io.bathra.bulk;

import io.bathra.access.Doors;
import io.bathra.error.BathraException;
import io.bathra.input.Cell;
import io.bathra.input.ValueCheck;
import io.bathra.mapping.DatabaseMade;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.PivotAttribute;
import io.bathra.mapping.StoredAttribute;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Takes the values out of rows.
 *
 * @param <R> what rows are given as
 */
interface RowReading<R> {
    /** The attributes that each row gives. */
    List<StoredAttribute> given();

    /** Whether rows are texts, as people have typed them, so that all that is wrong with one is to be told at once. */
    default boolean isTyped() {
        return false;
    }

    /** The values of a row by slot; what cannot be taken is reported. */
    @Nullable
    Object[] read(R row, RowReport report);

    /** Makes the reading, of the first row where that decides. */
    interface Maker<R> {
        RowReading<R> of(R first);
    }

    /** Rows that are entities: all of their columns, but neither parts nor pairs, which are in other tables. */
    static <E> RowReading<E> ofEntities(ModelEntity<E> entity, boolean keyed) {
        List<StoredAttribute> given = entity.stored().stream()
                .filter(attribute -> !(attribute.databaseMade() instanceof DatabaseMade.Computed))
                .filter(attribute -> attribute != entity.version())
                .filter(attribute ->
                        !attribute.isKey() || keyed || !entity.keySource().isDrawn())
                .toList();
        return new OfEntities<>(entity, given);
    }

    /** Entities. */
    record OfEntities<E>(ModelEntity<E> entity, List<StoredAttribute> given) implements RowReading<E> {
        @Override
        public @Nullable Object[] read(E row, RowReport report) {
            @Nullable Object[] values = new Object[entity.stored().size()];
            RowReport.About about = report.about();
            for (int i = 0; i < given.size(); i++) {
                StoredAttribute attribute = given.get(i);
                try {
                    values[attribute.slot()] = attribute instanceof LinkAttribute link
                            ? Cell.keyBehind(link, link.holder(row), about.attribute(link))
                            : attribute.shape().kept(attribute.get(row));
                } catch (BathraException e) {
                    about.attribute(attribute).problem(attribute.name(), null, "cannot be taken: " + e.getMessage());
                }
            }
            for (PartsAttribute parts : entity.parts()) {
                if (!parts.now(row).isEmpty()) {
                    report.about()
                            .problem(
                                    parts.name(),
                                    parts.now(row).size() + " parts",
                                    "are in a table of their own, which bulk work does not write; store this entity in a unit of work");
                }
            }
            for (PivotAttribute pivot : entity.pivots()) {
                if (!Doors.links().present(pivot.holder(row)).isEmpty()) {
                    report.about()
                            .problem(
                                    pivot.name(),
                                    Doors.links().present(pivot.holder(row)).size() + " elements",
                                    "are pairs of another table; store the entities without them, then the pairs with pairs(...)");
                }
            }
            return values;
        }
    }

    /** Records, whose components go by the names of attributes. */
    static <R> RowReading<R> ofRecords(ModelEntity<?> entity, Class<R> type) {
        List<Cell> cells = new ArrayList<>();
        List<Method> accessors = new ArrayList<>();
        for (RecordComponent component : type.getRecordComponents()) {
            cells.add(Cell.of(entity, component.getName()));
            Method accessor = component.getAccessor();
            if (!accessor.trySetAccessible()) {
                throw new BathraException(type.getName()
                        + " cannot be read; make the record public, or open its package to" + " io.bathra.core");
            }
            accessors.add(accessor);
        }
        return new OfCells<>(entity, cells) {
            @Override
            @Nullable
            Object value(R row, int cell) {
                try {
                    return accessors.get(cell).invoke(row);
                } catch (IllegalAccessException | InvocationTargetException e) {
                    throw new BathraException(
                            type.getName() + "." + cells.get(cell).label() + " cannot be read: " + e, e);
                }
            }
        };
    }

    /** Maps by the names of attributes; all have the keys of the first. */
    static RowReading<Map<String, ?>> ofMaps(ModelEntity<?> entity, Map<String, ?> first) {
        return new OfMaps<>(entity, first);
    }

    /** Maps of texts by the names of attributes; all have the keys of the first. */
    static RowReading<Map<String, @Nullable String>> ofTexts(
            ModelEntity<?> entity, Map<String, @Nullable String> first) {
        return new OfMaps<>(entity, first) {
            @Override
            public boolean isTyped() {
                return true;
            }

            @Override
            void put(Cell cell, @Nullable Object value, @Nullable Object[] values, ValueCheck.Report report) {
                cell.putText((String) value, values, report);
            }
        };
    }

    /**
     * Maps.
     *
     * @param <M> what rows are given as
     */
    class OfMaps<M extends Map<String, ?>> extends OfCells<M> {
        private final List<String> names;
        private final Set<String> expected;

        OfMaps(ModelEntity<?> entity, M first) {
            super(
                    entity,
                    first.keySet().stream().map(name -> Cell.of(entity, name)).toList());
            this.names = List.copyOf(first.keySet());
            this.expected = new LinkedHashSet<>(names);
        }

        @Override
        public @Nullable Object[] read(M row, RowReport report) {
            if (!expected.equals(row.keySet())) {
                Set<String> missing = new LinkedHashSet<>(expected);
                missing.removeAll(row.keySet());
                Set<String> more = new LinkedHashSet<>(row.keySet());
                more.removeAll(expected);
                report.about()
                        .problem(
                                "*",
                                row.keySet(),
                                "has other keys than the first row"
                                        + (missing.isEmpty() ? "" : ": " + missing + " is missing")
                                        + (more.isEmpty() ? "" : ": " + more + " is more")
                                        + "; give all rows the same keys, with null for what is not known");
            }
            return super.read(row, report);
        }

        @Override
        @Nullable
        Object value(M row, int cell) {
            return row.get(names.get(cell));
        }
    }

    /** Rows whose values have names. */
    abstract class OfCells<R> implements RowReading<R> {
        private final ModelEntity<?> entity;
        private final List<Cell> cells;
        private final List<StoredAttribute> given;

        OfCells(ModelEntity<?> entity, List<Cell> cells) {
            this.entity = entity;
            this.cells = cells;
            this.given = cells.stream().map(Cell::attribute).distinct().toList();
            Set<Object> seen = new LinkedHashSet<>();
            for (Cell cell : cells) {
                if (!seen.add(cell.inside() == null ? cell.attribute() : cell.inside())) {
                    throw new BathraException(cell.attribute() + " is given twice, as "
                            + cells.stream()
                                    .filter(other -> other.attribute() == cell.attribute())
                                    .map(Cell::label)
                                    .toList()
                            + "; give it once");
                }
            }
        }

        /** The value of one cell. */
        abstract @Nullable Object value(R row, int cell);

        /** Puts the value of one cell where it belongs. */
        void put(Cell cell, @Nullable Object value, @Nullable Object[] values, ValueCheck.Report report) {
            cell.put(value, values, report);
        }

        @Override
        public List<StoredAttribute> given() {
            return given;
        }

        @Override
        public @Nullable Object[] read(R row, RowReport report) {
            @Nullable Object[] values = new Object[entity.stored().size()];
            RowReport.About about = report.about();
            for (int i = 0; i < cells.size(); i++) {
                Cell cell = cells.get(i);
                put(cell, value(row, i), values, about.attribute(cell.attribute()));
            }
            for (int i = 0; i < cells.size(); i++) {
                cells.get(i).close(values);
            }
            return values;
        }
    }
}
