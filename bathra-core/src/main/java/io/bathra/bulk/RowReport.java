package io.bathra.bulk;

import io.bathra.error.Flaw;
import io.bathra.input.ValueCheck;
import io.bathra.mapping.StoredAttribute;
import org.jspecify.annotations.Nullable;

/** Takes what is wrong with what a row gives. */
@FunctionalInterface
interface RowReport {
    /**
     * Something is wrong.
     *
     * @param attribute whose value it is about; null for the row as a whole
     * @param label the name by which the row gives it
     * @param value as it may be shown
     */
    void problem(@Nullable StoredAttribute attribute, String label, @Nullable Object value, Flaw flaw);

    /** For problems of one attribute. */
    default ValueCheck.Report about(@Nullable StoredAttribute attribute) {
        return (label, value, flaw) -> problem(attribute, label, value, flaw);
    }
}
