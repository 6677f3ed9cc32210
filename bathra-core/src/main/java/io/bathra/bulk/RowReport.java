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

    /** For problems of the row as a whole, or of one attribute after the other. */
    default About about() {
        return new About(this);
    }

    /** Takes what is wrong with the attribute that is being read; one for each row. */
    final class About implements ValueCheck.Report {
        private final RowReport report;
        private @Nullable StoredAttribute attribute;

        private About(RowReport report) {
            this.report = report;
        }

        /** What comes next is about this attribute. */
        About attribute(StoredAttribute next) {
            attribute = next;
            return this;
        }

        @Override
        public void problem(String label, @Nullable Object value, Flaw flaw) {
            report.problem(attribute, label, value, flaw);
        }
    }
}
