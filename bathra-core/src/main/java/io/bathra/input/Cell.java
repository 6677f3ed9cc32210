package io.bathra.input;

import io.bathra.access.Doors;
import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.link.Link;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.Gate;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Where a value of a record or map belongs.
 *
 * @param label its name there
 * @param attribute the attribute that is given
 * @param inside the column of an inlined value that is given; null for the whole attribute
 * @param natural the attribute of a link's target that is given in place of its key; null for none
 */
public record Cell(
        String label,
        StoredAttribute attribute,
        @Nullable StoredColumn inside,
        @Nullable StoredAttribute natural) {
    /**
     * The cell of a name: an attribute ({@code name}), a column of an inlined value ({@code dimensions.length}), or a
     * link by its target or the target's key ({@code vessel}, {@code vesselId}, {@code vessel.id}) or by what is unique
     * there ({@code vessel.imo}, {@code vesselImo}); or the name of a column.
     *
     * @throws BathraException when the name leads nowhere
     */
    public static Cell of(ModelEntity<?> entity, String name) {
        return find(entity, name).orElseThrow(() -> leadsNowhere(entity, name));
    }

    private static BathraException leadsNowhere(ModelEntity<?> entity, String name) {
        Attribute named = entity.attributeIfAny(name).orElse(null);
        if (named instanceof StoredAttribute) {
            return new BathraException(
                    named + " is kept by the database or counts versions, so rows do not give it;" + " leave it out");
        }
        Attribute first = entity.attributeIfAny(name.substring(0, Math.max(0, name.indexOf('.'))))
                .orElse(null);
        Attribute last = first instanceof LinkAttribute link
                ? link.target()
                        .attributeIfAny(name.substring(name.indexOf('.') + 1))
                        .orElse(null)
                : null;
        if (last instanceof StoredAttribute) {
            return new BathraException("'" + name + "' is to tell the target of " + first + ", but " + last
                    + " is not unique, so it does not; name an attribute that is, or the key");
        }
        return new BathraException("'" + name + "' names nothing that a row of " + entity.name() + " keeps; it has "
                + entity.stored().stream().map(Attribute::name).collect(Collectors.joining(", "))
                + ", and links may be given by what is unique in their targets: link.attribute");
    }

    /** The same, as far as the name leads anywhere. */
    public static Optional<Cell> find(ModelEntity<?> entity, String name) {
        Attribute named = entity.attributeIfAny(name).orElse(null);
        if (named instanceof StoredAttribute stored) {
            return stored.isManaged() ? Optional.empty() : Optional.of(new Cell(name, stored, null, null));
        }
        int dot = name.indexOf('.');
        if (dot > 0) {
            return behind(entity, name, name.substring(0, dot), name.substring(dot + 1));
        }
        for (LinkAttribute link : entity.links()) {
            int end = link.name().length();
            if (name.startsWith(link.name()) && name.length() > end && Character.isUpperCase(name.charAt(end))) {
                String rest = Character.toLowerCase(name.charAt(end)) + name.substring(end + 1);
                Optional<Cell> cell = behind(entity, name, link.name(), rest);
                if (cell.isPresent()) {
                    return cell;
                }
            }
        }
        return entity.columns().stream()
                .filter(column -> column.name().equalsIgnoreCase(name)
                        && !column.attribute().isManaged())
                .filter(column -> !(column.attribute() instanceof LinkAttribute link)
                        || link.columns().size() == 1)
                .findFirst()
                .map(column -> new Cell(name, column.attribute(), column.path().isEmpty() ? null : column, null));
    }

    private static Optional<Cell> behind(ModelEntity<?> entity, String label, String first, String rest) {
        Attribute attribute = entity.attributeIfAny(first).orElse(null);
        if (attribute instanceof ColumnAttribute column && column.isInline()) {
            return column.columns().stream()
                    .filter(inside -> inside.path().equals(rest))
                    .findFirst()
                    .map(inside -> new Cell(label, column, inside, null));
        }
        if (!(attribute instanceof LinkAttribute link)
                || !(link.target().attributeIfAny(rest).orElse(null) instanceof StoredAttribute target)) {
            return Optional.empty();
        }
        if (link.target().keyAttributes().equals(List.of(target))) {
            return Optional.of(new Cell(label, link, null, null));
        }
        boolean unique = link.target().uniqueKeys().stream()
                .anyMatch(key -> key.attributes().equals(List.of(target)));
        return unique ? Optional.of(new Cell(label, link, null, target)) : Optional.empty();
    }

    /** Puts a value where it belongs, or reports why that cannot be done. */
    public void put(@Nullable Object raw, @Nullable Object[] values, ValueCheck.Report report) {
        try {
            if (inside != null) {
                parts(values).set(inside.part(), raw == null ? null : fitting(inside.gate(), raw, report, label));
            } else if (attribute instanceof LinkAttribute link) {
                values[link.slot()] = natural == null ? key(link, raw, report) : natural(natural, raw, report, label);
            } else if (raw != null && attribute instanceof ColumnAttribute column) {
                values[column.slot()] = column.isOneValue()
                        ? fitting(column.columns().get(0).gate(), raw, report, label)
                        : column.shape().kept(column.toStored(raw));
            }
        } catch (BathraException | ClassCastException e) {
            report.problem(label, shown(raw), "cannot be taken: " + e.getMessage());
        }
    }

    /** Puts there what a text stands for; an empty one for nothing. */
    public void putText(@Nullable String text, @Nullable Object[] values, ValueCheck.Report report) {
        try {
            StoredColumn column = column();
            put(
                    text == null || text.isEmpty() ? null : column.gate().user(TextValues.parse(column.type(), text)),
                    values,
                    report);
        } catch (UnreadableText e) {
            report.problem(label, shown(text), e.flaw());
        } catch (RuntimeException e) { // a converter's own
            report.problem(label, shown(text), "cannot be taken: " + e.getMessage());
        }
    }

    /** What somebody has typed, without blanks around it where they mean nothing; null where there is nothing else. */
    public @Nullable String typed(@Nullable String text) {
        if (text == null || text.isBlank()) {
            return null;
        }
        boolean free = columns().size() == 1
                && TextValues.isFreeOfBlanks(columns().get(0).type().kind());
        return free ? text.strip() : text;
    }

    private @Nullable Object shown(@Nullable Object raw) {
        boolean secret = (natural == null ? attribute : natural).isSecret();
        return secret && raw != null ? Secret.hide(raw).toString() : raw;
    }

    /** The one column whose value a text can stand for. */
    private StoredColumn column() {
        List<StoredColumn> columns = columns();
        if (columns.size() != 1) {
            throw new BathraException("'" + label + "' lies in several columns, which one text cannot give; give "
                    + (attribute instanceof LinkAttribute
                            ? "what else is unique in the target"
                            : columns.stream().map(StoredColumn::label).collect(Collectors.joining(", "))));
        }
        return columns.get(0);
    }

    private List<StoredColumn> columns() {
        return inside != null
                ? List.of(inside)
                : natural != null
                        ? natural.columns()
                        : attribute instanceof LinkAttribute link
                                ? link.target().keyColumns()
                                : attribute.columns();
    }

    @SuppressWarnings("unchecked") // nothing else is put there
    private List<@Nullable Object> parts(@Nullable Object[] values) {
        Object there = values[attribute.slot()];
        if (there == null) {
            there = new ArrayList<>(Collections.nCopies(attribute.columns().size(), null));
            values[attribute.slot()] = there;
        }
        return (List<@Nullable Object>) there;
    }

    /** Makes one value of the parts of an inlined one. */
    public void close(@Nullable Object[] values) {
        if (inside != null && values[attribute.slot()] instanceof ArrayList<?> parts) {
            values[attribute.slot()] = attribute.shape().kept(attribute.shape().assemble(parts));
        }
    }

    private @Nullable Object key(LinkAttribute link, @Nullable Object raw, ValueCheck.Report report) {
        return raw instanceof Link<?> holder ? keyBehind(link, holder, report) : keyOf(link, raw, report);
    }

    /** The foreign key that a holder stands for. */
    public static @Nullable Object keyBehind(LinkAttribute link, Object holder, ValueCheck.Report report) {
        Object target = Doors.link().target(holder);
        return target == null ? Doors.link().unreadKey(holder) : keyOf(link, target, report);
    }

    private static @Nullable Object keyOf(LinkAttribute link, @Nullable Object raw, ValueCheck.Report report) {
        ModelEntity<?> target = link.target();
        if (raw == null) {
            return null;
        }
        if (target.type().isInstance(raw)) {
            Object key = target.keyOf(raw);
            if (key == null) {
                report.problem(
                        link.name(),
                        raw,
                        "leads to an object without a key; store it first, and ask for its key withKeys()");
            }
            return key;
        }
        Object key = target.keyShape().compared(raw);
        String mismatch = target.keyShape().mismatch(key);
        if (mismatch != null) {
            report.problem(link.name(), raw, "leads to a key of " + target.name() + ", which " + mismatch);
            return null;
        }
        return key;
    }

    private static @Nullable Object natural(
            StoredAttribute by, @Nullable Object raw, ValueCheck.Report report, String label) {
        if (raw == null) {
            return null;
        }
        Object fitting = fitting(by.columns().get(0).gate(), raw, report, label);
        return fitting == null ? null : new Natural(by, fitting);
    }

    private static @Nullable Object fitting(Gate gate, Object raw, ValueCheck.Report report, String label) {
        Object stored = gate.taken(raw);
        String mismatch = gate.mismatch(stored);
        if (mismatch != null) {
            report.problem(label, gate.shown(raw), mismatch + "; give it as one");
            return null;
        }
        return gate.kept(stored);
    }
}
