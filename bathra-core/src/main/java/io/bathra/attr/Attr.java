package io.bathra.attr;

import java.io.Serializable;
import org.jspecify.annotations.Nullable;

/**
 * An attribute of an entity, named by its accessor: {@code Vessel::name}.
 *
 * <p>Only the name of the accessor counts. It is called neither when a model is declared nor when a condition is
 * evaluated. Accessors called {@code name()}, {@code getName()} and {@code isName()} all name the field {@code name}.
 *
 * @param <E> the entity
 * @param <V> the attribute's type; an association shows in it as {@code Link<T>} or {@code Links<T>}
 */
@FunctionalInterface
public interface Attr<E, V extends @Nullable Object> extends Serializable {
    /**
     * {@return the value}
     *
     * @param entity the entity
     */
    V get(E entity);
}
