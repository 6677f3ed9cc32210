package io.bathra.flush;

import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.error.Problem;
import io.bathra.input.Cell;
import io.bathra.input.Given;
import io.bathra.input.Natural;
import io.bathra.input.Settable;
import io.bathra.input.ValueCheck;
import io.bathra.jdbc.KeyedRows;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.track.Entry;
import io.bathra.track.Entry.State;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Gives an entity what somebody has typed into a form, or tells everything that is wrong with it. */
public final class FormBinding {
    private final Unit unit;
    private final ModelEntity<?> entity;
    private final Object object;
    private final boolean isStored;
    private final Given given;

    /** What texts stand for so far, by slot. */
    private final @Nullable Object[] values;

    /** The name by which each attribute, or column of an inlined one, is given. */
    private final Map<Object, Cell> cells = new LinkedHashMap<>();

    FormBinding(Unit unit, ModelEntity<?> entity, Object object, List<Attribute> settable) {
        this.unit = unit;
        this.entity = entity;
        this.object = object;
        Entry<?> entry = unit.tracker().entryOf(object);
        this.isStored = entry != null && entry.state() == State.STORED;
        settable.forEach(this::refuse);
        this.given = Given.of(Settable.of(entity, settable), entry == null ? entity.name() : entry.toString());
        this.values = new Object[entity.stored().size()];
    }

    private void refuse(Attribute attribute) {
        boolean drawn = attribute instanceof StoredAttribute key
                && key.isKey()
                && entity.keySource().isDrawn();
        if (!(attribute instanceof StoredAttribute stored) || stored.isManaged() || drawn) {
            throw new BathraException(attribute
                    + (attribute instanceof StoredAttribute
                            ? " is not set by programs, so no form can give it; leave it out"
                            : " is a collection, which no form gives as texts; change it with its own methods"));
        }
    }

    /** Binds texts by the names of attributes. */
    public List<Problem> bind(Map<String, ? extends @Nullable String> texts) {
        texts.forEach((name, text) -> Cell.find(entity, name)
                .filter(cell -> given.maySet(cell.attribute()))
                .ifPresent(cell -> put(cell, text)));
        cells.values().forEach(cell -> cell.close(values));
        cells.values().stream().map(Cell::attribute).distinct().forEach(this::give);
        given.look(object, isStored);
        if (given.problems().isEmpty()) {
            given.set(object);
        }
        return List.copyOf(given.problems());
    }

    private void put(Cell cell, @Nullable String text) {
        ValueCheck.Report report = (label, shown, flaw) -> given.flaw(cell.attribute(), label, shown, flaw);
        Cell before = cells.putIfAbsent(cell.inside() == null ? cell.attribute() : cell.inside(), cell);
        if (before != null) {
            report.problem(
                    cell.label(),
                    cell.attribute().isSecret() ? Secret.of(text) : text,
                    Flaw.of(Code.GIVEN_TWICE, "is given as '" + before.label() + "' too; give it once"));
            return;
        }
        if (cell.inside() != null && values[cell.attribute().slot()] == null) {
            Object there = ((ColumnAttribute) cell.attribute()).get(object);
            values[cell.attribute().slot()] = there == null ? null : new ArrayList<>((List<?>) there);
        }
        cell.putText(cell.typed(text), values, report);
    }

    private void give(StoredAttribute attribute) {
        Object value = values[attribute.slot()];
        given.value(attribute, value instanceof Natural natural ? keyOf((LinkAttribute) attribute, natural) : value);
    }

    /** The key of the row that is told by what is unique in it. */
    private @Nullable Object keyOf(LinkAttribute link, Natural natural) {
        StoredAttribute by = natural.by();
        List<@Nullable Object> found = new ArrayList<>();
        unit.reading(() -> {
            KeyedRows.read(
                    unit.transaction(),
                    "bind: " + link.target().name() + " by " + by.name(),
                    link.target(),
                    by.columns(),
                    by.shape(),
                    List.of(natural.value()),
                    "",
                    row -> found.add(link.target().keyIn(row)));
            return null;
        });
        if (found.isEmpty()) {
            given.flaw(link, link.name() + "." + by.name(), natural.shown(), natural.noSuchRow(link));
            return null;
        }
        return found.get(0);
    }
}
