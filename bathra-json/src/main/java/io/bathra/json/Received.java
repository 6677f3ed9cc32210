package io.bathra.json;

import io.bathra.error.InvalidChangesException;
import io.bathra.error.Problem;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * An entity out of a text, or what is wrong with the text.
 *
 * @param entity a new object, known to no unit of work yet; null where anything is wrong
 * @param problems everything that is wrong; the attribute of each is the path in the text, {@code *} for the whole
 * @param <E> the entity
 */
public record Received<E>(@Nullable E entity, List<Problem> problems) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param entity a new object, known to no unit of work yet; null where anything is wrong
     * @param problems everything that is wrong; the attribute of each is the path in the text, {@code *} for the
     *     whole
     */
    public Received {
        problems = List.copyOf(problems);
    }

    /**
     * {@return the entity}
     *
     * @throws InvalidChangesException with everything that is wrong
     */
    public E orThrow() {
        if (!problems.isEmpty()) {
            throw new InvalidChangesException(problems);
        }
        return Objects.requireNonNull(entity);
    }
}
