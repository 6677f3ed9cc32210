package io.bathra.attr;

import io.bathra.error.BathraException;
import java.util.HashMap;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;

/**
 * The way of a type of one's own into a column and back.
 *
 * <pre>{@code
 * static final Converter<Imo, String> IMO = Converter.to(String.class, Imo::digits, Imo::of);
 *
 * static final Entity<Ship> SHIP = Entity.of(Ship.class, Ship::new).column(Ship::imo, IMO, length(7));
 * }</pre>
 *
 * <p>A missing value is missing on both sides; the functions never see null. Objects that can be changed in place are
 * fine: what is compared is what the column keeps.
 *
 * @param <V> the type of the field
 * @param <S> what the column keeps: a number, text, date, time, UUID or byte[]
 */
public final class Converter<V, S> {
    private final Class<S> stored;
    private final Function<? super V, ? extends S> toStored;
    private final Function<? super S, ? extends V> fromStored;

    private Converter(
            Class<S> stored, Function<? super V, ? extends S> toStored, Function<? super S, ? extends V> fromStored) {
        this.stored = stored;
        this.toStored = toStored;
        this.fromStored = fromStored;
    }

    /**
     * {@return a converter made of two functions that undo one another}
     *
     * @param <V> the attribute's type
     * @param <S> what the column keeps
     * @param stored what the column keeps
     * @param toStored makes what the column keeps
     * @param fromStored makes a value of what the column keeps
     */
    public static <V, S> Converter<V, S> to(
            Class<S> stored, Function<? super V, ? extends S> toStored, Function<? super S, ? extends V> fromStored) {
        return new Converter<>(Objects.requireNonNull(stored, "stored"), toStored, fromStored);
    }

    /**
     * Keeps an enum by a code of its own, so that constants can be renamed and reordered.
     *
     * @param <C> the class
     * @param <S> what the column keeps
     * @param type the class
     * @param stored what the column keeps
     * @param code the code of a constant
     * @return the constant
     * @throws IllegalArgumentException when two constants have the same code, or one has none
     */
    public static <C extends Enum<C>, S> Converter<C, S> byCode(
            Class<C> type, Class<S> stored, Function<? super C, ? extends S> code) {
        Map<S, C> constants = new HashMap<>();
        for (C constant : type.getEnumConstants()) {
            S one = code.apply(constant);
            C other = one == null ? constant : constants.put(one, constant);
            if (other != null) {
                throw new IllegalArgumentException(type.getSimpleName() + "." + constant + " has the code " + one
                        + (one == null ? "" : ", which " + other + " has too")
                        + "; give each constant a code of its own");
            }
        }
        return to(stored, code, one -> {
            C constant = constants.get(one);
            if (constant == null) {
                throw new BathraException("no constant of " + type.getSimpleName() + " has the code " + one
                        + "; add it, or mend the row");
            }
            return constant;
        });
    }

    /** {@return the class of what the column keeps} */
    public Class<S> stored() {
        return stored;
    }

    /**
     * {@return what the column keeps of a value}
     *
     * @param value the value
     */
    @SuppressWarnings("unchecked") // the field's type is V
    public Object toStored(Object value) {
        return toStored.apply((V) value);
    }

    /**
     * {@return the value of what the column keeps}
     *
     * @param value the value
     */
    @SuppressWarnings("unchecked") // the column's type is S
    public Object fromStored(Object value) {
        return fromStored.apply((S) value);
    }
}
