package io.bathra.input;

import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.mapping.Years;
import org.jspecify.annotations.Nullable;

/** Tells whether the columns of an attribute keep a value as it is. */
public final class ValueCheck {
    /** There has to be a value. */
    public static final Flaw MISSING = Flaw.of(Code.REQUIRED, "is required; set it");

    private ValueCheck() {}

    /** Takes what is wrong. */
    @FunctionalInterface
    public interface Report {
        /**
         * A value cannot be stored.
         *
         * @param label the attribute, and the way into an inlined value
         * @param value as it may be shown
         */
        void problem(String label, @Nullable Object value, Flaw flaw);

        /** The same, for what has no code of its own. */
        default void problem(String label, @Nullable Object value, String reason) {
            problem(label, value, Flaw.other(reason));
        }
    }

    /** Looks at a value that is there, in the form that is stored. */
    public static void check(StoredAttribute attribute, Object value, Years years, Report report) {
        for (StoredColumn column : attribute.columns()) {
            Object one = attribute.shape().part(value, column.part());
            if (one != null) {
                Flaw wrong = column.gate().misfit(one, years);
                if (wrong != null) {
                    Object shown = one instanceof String text ? text.replace("\0", "\\0") : one;
                    report.problem(column.label(), attribute.isSecret() ? attribute.shown(one) : shown, wrong);
                }
            } else if (attribute.isKey()) {
                report.problem(
                        attribute.name(),
                        attribute.shown(value),
                        Flaw.of(Code.REQUIRED, "a part of the key is missing; set it"));
            } else if (column.wanted() && (column.required() || column.isAroundThere(value))) {
                report.problem(column.label(), null, MISSING);
            }
        }
    }
}
