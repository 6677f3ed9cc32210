package io.bathra.form;

import io.bathra.access.Doors;
import io.bathra.attr.Secret;
import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.input.TextValues;
import io.bathra.input.UnreadableText;
import io.bathra.mapping.Gate;
import io.bathra.mapping.StoredAttribute;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** A single value, in a column of its own. It is given and taken as the column keeps it: converted, and cut to it. */
public final class ValueField extends FormField {
    /** What a value is in formats that tell numbers from texts. */
    public enum Sort {
        /** True or false. */
        TRUTH,
        /** A number. */
        NUMBER,
        /** A text. */
        TEXT,
        /** A text that is JSON itself. */
        JSON
    }

    private final Gate gate;
    private final Function<Object, @Nullable Object> reader;
    private final Sort sort;

    /** The attribute whose value is read on request; null for all others. */
    private final @Nullable StoredAttribute later;

    ValueField(
            String name,
            Gate gate,
            Function<Object, @Nullable Object> reader,
            boolean settable,
            @Nullable StoredAttribute later) {
        super(name, settable);
        this.gate = gate;
        this.reader = reader;
        this.later = later;
        this.sort = switch (gate.type().kind()) {
            case BOOLEAN -> Sort.TRUTH;
            case BYTE, SHORT, INTEGER, LONG, FLOAT, DOUBLE, DECIMAL -> Sort.NUMBER;
            default -> gate.isJson() ? Sort.JSON : Sort.TEXT;
        };
    }

    @Override
    public boolean isSecret() {
        return gate.isSecret();
    }

    /** {@return what it is in formats that tell numbers from texts} */
    public Sort sort() {
        return sort;
    }

    /** {@return whether the value comes with its row, and not on request} */
    public boolean isWithRow() {
        return later == null;
    }

    /**
     * {@return whether the value is here}
     *
     * @param owner whose it is
     */
    public boolean isRead(Object owner) {
        return later == null || Doors.later().isRead(later.later(owner));
    }

    /**
     * {@return the value as the column would keep it; null where there is none}
     *
     * @param owner whose it is
     * @throws io.bathra.error.BathraException when a converter refuses it
     */
    public @Nullable Object in(Object owner) {
        Object value = gate.kept(reader.apply(owner));
        return value instanceof Secret secret ? secret.open() : value;
    }

    /**
     * {@return the text of a value, from which {@link #value} makes the same}
     *
     * @param value the value
     */
    public String text(Object value) {
        return TextValues.text(value);
    }

    /**
     * {@return the value that a text stands for; null where it stands for none, and {@link #flaw} says why}
     *
     * @param text the text
     */
    public @Nullable Object value(String text) {
        try {
            Object parsed = TextValues.parse(gate.type(), text);
            return gate.kept(gate.isSecret() ? Secret.hide(parsed) : parsed);
        } catch (UnreadableText e) {
            return null;
        }
    }

    /**
     * {@return why a text stands for no value}
     *
     * @param text the text
     */
    public Flaw flaw(String text) {
        try {
            TextValues.parse(gate.type(), text);
            return Flaw.of(Code.UNSUITABLE_CHARACTER, "is no character that can be kept; give another one");
        } catch (UnreadableText e) {
            return e.flaw();
        }
    }

    /** {@return what is wrong with a number, text or truth in place of a value of this sort} */
    public Flaw otherSort() {
        return switch (sort) {
            case TRUTH -> Flaw.of(Code.NOT_AMONG, "is neither true nor false", "true, false");
            case NUMBER -> Flaw.of(Code.UNREADABLE, "is not a number", "number");
            default -> Flaw.of(Code.UNREADABLE, "is not a text", "text");
        };
    }

    @Override
    public String toString() {
        return gate.toString();
    }
}
