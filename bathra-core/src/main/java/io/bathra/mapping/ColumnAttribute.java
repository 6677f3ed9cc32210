package io.bathra.mapping;

import io.bathra.access.Accessor;
import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.link.Later;
import java.lang.invoke.MethodHandle;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** A plain or converted value, in a column; an inlined value, or a record that serves as a key, in several. */
public final class ColumnAttribute extends StoredAttribute {
    private final Shape shape;

    /** Whether the field holds what the column keeps, and nobody can change it but by another value. */
    private final boolean plain;

    private final List<StoredColumn> columns;
    private final Traits traits;

    /**
     * One column of it.
     *
     * @param path the way to it inside the value; empty where the value lies in this column as a whole
     * @param gate where its values pass
     */
    public record Part(String path, String column, Gate gate, boolean required) {}

    public ColumnAttribute(
            ModelEntity<?> entity,
            String name,
            FieldAccess field,
            int slot,
            List<Part> parts,
            boolean required,
            Shape shape,
            Traits traits) {
        super(entity, name, field, slot, required);
        this.shape = shape;
        this.traits = traits;
        List<StoredColumn> all = new ArrayList<>();
        for (int i = 0; i < parts.size(); i++) {
            Part part = parts.get(i);
            all.add(new StoredColumn(
                    this,
                    i,
                    part.path(),
                    part.column(),
                    part.gate(),
                    part.required() && ((required && !part.path().contains(".")) || shape instanceof Shape.Single),
                    part.required()));
        }
        columns = List.copyOf(all);
        plain = shape instanceof Shape.Single single && single.gate().isOpen();
    }

    /** An attribute that lies in one column as it is. */
    public static ColumnAttribute single(
            ModelEntity<?> entity, String name, FieldAccess field, int slot, Part part, Traits traits) {
        return new ColumnAttribute(
                entity, name, field, slot, List.of(part), part.required(), new Shape.Single(part.gate()), traits);
    }

    /** What the column would keep of the field: a converted attribute shows itself converted. */
    @Override
    public @Nullable Object get(Object object) {
        Object value = super.get(object);
        return value == null ? null : toStored(value);
    }

    /** Writes the field with what a value of the column stands for. */
    @Override
    public void set(Object object, @Nullable Object value) {
        super.set(object, value == null ? null : fromStored(value));
    }

    /**
     * What was read is kept already; only an array could be changed by the user, under the eyes of whoever compares.
     */
    @Override
    MethodHandle loader() {
        return plain ? field().setter() : super.loader();
    }

    @Override
    MethodHandle comparison() {
        return plain ? field().comparison(columns.get(0).gate()) : super.comparison();
    }

    /**
     * The user's value of one in stored form.
     *
     * @throws BathraException when his class or converter refuses it
     */
    public Object user(Object stored) {
        return fromStored(stored);
    }

    /** Writes the field as the user himself would: what is read later counts as set. */
    public void assign(Object object, @Nullable Object user) {
        if (!isLater()) {
            super.set(object, user);
            return;
        }
        @SuppressWarnings("unchecked") // the model has checked the field's type
        Later<Object> later = (Later<Object>) later(object);
        if (user == null) {
            later.clear();
        } else {
            later.set(user);
        }
    }

    private Object fromStored(Object value) {
        InlineCodec codec = traits.codec();
        if (codec == null) {
            return isOneValue() ? columns.get(0).gate().user(value) : value;
        }
        return inline("the column's value", value, stored -> codec.whole((List<?>) stored));
    }

    /** The stored form of a value of the field's type; not cut yet. */
    public Object toStored(Object value) {
        InlineCodec codec = traits.codec();
        if (codec == null) {
            return isOneValue() ? columns.get(0).gate().stored(value) : value;
        }
        return inline("the value", value, codec::apart);
    }

    /** A class of the user's may refuse to be made, or to tell what is in it. */
    private Object inline(String what, Object value, UnaryOperator<Object> conversion) {
        try {
            return conversion.apply(value);
        } catch (BathraException e) {
            throw e;
        } catch (RuntimeException e) {
            throw Gate.unconvertible(toString(), what, isSecret() ? Secret.hide(value) : value, e);
        }
    }

    /** A moment as the column keeps it: the value of a stamp. */
    public Object timeAt(Instant moment, ZoneId zone) {
        Gate gate = columns.get(0).gate();
        Object time = switch (gate.type().kind()) {
            case DATE_TIME -> LocalDateTime.ofInstant(moment, zone);
            case DATE -> LocalDate.ofInstant(moment, zone);
            default -> moment;
        };
        return Objects.requireNonNull(gate.kept(gate.stored(time)));
    }

    /** A whole number as the column keeps it. */
    public Object number(long value) {
        boolean narrow = columns.get(0).type().kind() == ColumnType.Kind.INTEGER;
        return narrow ? (Object) Math.toIntExact(value) : (Object) value;
    }

    @Override
    public Shape shape() {
        return shape;
    }

    @Override
    public List<StoredColumn> columns() {
        return columns;
    }

    @Override
    public boolean isSecret() {
        return traits.secret();
    }

    @Override
    public boolean isDeferrable() {
        return traits.deferrable();
    }

    @Override
    public @Nullable Object shown(@Nullable Object value) {
        Object shown = super.shown(value);
        return shown != null && shown == value && isInline() ? fromStored(value) : shown;
    }

    @Override
    public @Nullable DatabaseMade databaseMade() {
        return traits.databaseMade();
    }

    /** Whether the value is taken apart into several columns; its stored form is the list of what they keep. */
    public boolean isInline() {
        return shape instanceof Shape.Several;
    }

    /** The column of an inlined value that these accessors lead to from the value; null when they lead to none. */
    public @Nullable StoredColumn inside(List<Accessor> way) {
        for (StoredColumn column : columns) {
            String[] names = column.path().split("\\.");
            boolean same = isInline() && names.length == way.size();
            for (int i = 0; same && i < names.length; i++) {
                same = names[i].equals(way.get(i).property())
                        || names[i].equals(way.get(i).beanProperty());
            }
            if (same) {
                return column;
            }
        }
        return null;
    }

    /** Whether the field is of a primitive type, so that it cannot hold null. */
    public boolean primitive() {
        return traits.primitive();
    }

    @Override
    public boolean isLater() {
        return traits.later() != null;
    }

    @Override
    public Object later(Object object) {
        FieldAccess holder = Objects.requireNonNull(traits.later());
        return Objects.requireNonNull(holder.get(object), () -> this + " is null; initialize it with Later.empty()");
    }
}
