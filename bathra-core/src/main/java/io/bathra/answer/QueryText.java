package io.bathra.answer;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The statement of a query.
 *
 * @param sql with placeholders
 * @param parameters what is bound to them, in order; secret values are replaced by {@code (secret)}
 */
public record QueryText(String sql, List<@Nullable Object> parameters) {
    /**
     * Checks what it is made of, and copies what could be changed.
     *
     * @param sql with placeholders
     * @param parameters what is bound to them, in order; secret values are replaced by {@code (secret)}
     */
    public QueryText {
        parameters = Collections.unmodifiableList(new ArrayList<>(parameters));
    }

    @Override
    public String toString() {
        return parameters.isEmpty() ? sql : sql + "\n  with " + parameters;
    }
}
