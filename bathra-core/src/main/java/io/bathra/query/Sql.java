package io.bathra.query;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A statement in plain SQL, with named parameters and their values. Immutable, and bound to nothing: the same one runs
 * on a store, in a transaction and in a unit of work.
 *
 * <pre>{@code
 * static final Sql<Tonnage> TONNAGE = Sql.of(
 *         "select operator_id, sum(gross_kilos) / 1000 as tonnes from container where kind in (:kinds) group by operator_id")
 *     .as(Tonnage.class);
 *
 * List<Tonnage> dry = store.sql(TONNAGE).with("kinds", List.of(ContainerKind.DRY)).list();
 * }</pre>
 *
 * <p>A parameter is a colon and a name. Values are always bound, never written into the text; a collection stands for
 * as many placeholders as it has elements. Colons in literals, quoted names and comments mean nothing, nor does {@code
 * ::}.
 *
 * @param <R> what a row of the answer becomes
 */
public final class Sql<R> {
    private final String text;
    private final Map<String, @Nullable Object> values;
    private final Class<R> type;

    private Sql(String text, Map<String, @Nullable Object> values, Class<R> type) {
        this.text = text;
        this.values = Collections.unmodifiableMap(values);
        this.type = type;
    }

    /**
     * {@return a statement whose rows, if it has any, are maps from column names in small letters to values}
     *
     * @param text the text
     */
    @SuppressWarnings("unchecked") // the map's own type is all that is known of it
    public static Sql<Map<String, @Nullable Object>> of(String text) {
        Class<?> map = Map.class;
        return new Sql<>(Objects.requireNonNull(text, "text"), Map.of(), (Class<Map<String, @Nullable Object>>) map);
    }

    /**
     * Gives a parameter its value, in place of an earlier one; a collection of values for a list of placeholders.
     *
     * @param parameter the parameter's name
     * @param value the value
     * @return the statement with that
     */
    public Sql<R> with(String parameter, @Nullable Object value) {
        Map<String, @Nullable Object> more = new LinkedHashMap<>(values);
        more.put(Objects.requireNonNull(parameter, "parameter"), value);
        return new Sql<>(text, more, type);
    }

    /**
     * Gives parameters the values of the record's components of the same names.
     *
     * @param parameters the values, by name
     * @return the statement with that
     */
    public Sql<R> with(Record parameters) {
        return with(components(parameters));
    }

    /**
     * Gives parameters values by name.
     *
     * @param parameters the values, by name
     * @return the statement with that
     */
    public Sql<R> with(Map<String, ? extends @Nullable Object> parameters) {
        Map<String, @Nullable Object> more = new LinkedHashMap<>(values);
        more.putAll(parameters);
        return new Sql<>(text, more, type);
    }

    /**
     * Says what a row becomes: a record, whose components are filled from the columns of their names, as they are or in
     * {@code snake_case}; an entity, all of whose columns must be there; or a single value of a single column.
     *
     * @param <T> what each row becomes
     * @param rowType a record, an entity, or the class of a single value
     * @return the statement with that
     */
    public <T> Sql<T> as(Class<T> rowType) {
        return new Sql<>(text, values, rowType);
    }

    /** {@return the text of the statement} */
    public String text() {
        return text;
    }

    /** {@return the values by the names of their parameters} */
    public Map<String, @Nullable Object> values() {
        return values;
    }

    /** {@return what a row becomes} */
    public Class<R> type() {
        return type;
    }

    private static Map<String, @Nullable Object> components(Record parameters) {
        Map<String, @Nullable Object> named = new LinkedHashMap<>();
        for (RecordComponent component : parameters.getClass().getRecordComponents()) {
            try {
                component.getAccessor().setAccessible(true);
                named.put(component.getName(), component.getAccessor().invoke(parameters));
            } catch (IllegalAccessException | InvocationTargetException | RuntimeException e) {
                throw new IllegalArgumentException(
                        "the component '" + component.getName() + "' of "
                                + parameters.getClass().getName()
                                + " cannot be read; make the record public, or open its package to io.bathra.core",
                        e);
            }
        }
        return named;
    }

    /** The text; values are left out, since some may be secret. */
    @Override
    public String toString() {
        return text;
    }
}
