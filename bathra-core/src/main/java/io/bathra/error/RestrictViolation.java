package io.bathra.error;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The removal of rows that others, which stay, lead to by a link without a delete rule. Thrown before any SQL when
 * those are known, else when the database refuses; either way the problems name them.
 */
public final class RestrictViolation extends InvalidChangesException {
    /**
     * @param dependents the rows that stand in the way, some of them where they are many
     * @param cause the refusal by the database; null when it was not asked
     */
    public RestrictViolation(List<Problem> dependents, @Nullable Throwable cause) {
        super(dependents, cause);
    }
}
