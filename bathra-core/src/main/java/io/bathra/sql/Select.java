package io.bathra.sql;

import io.bathra.mapping.ModelEntity;
import java.util.List;
import java.util.Set;

/**
 * A select.
 *
 * @param reads the entities whose tables it reads
 * @param values what it gives beside or instead of whole rows
 */
public record Select(SqlText text, Set<ModelEntity<?>> reads, List<Place> values) {
    /** The same with the values of a question in its holes. */
    Select with(List<?> given) {
        return text.params().isEmpty() ? this : new Select(text.filled(given), reads, values);
    }
}
