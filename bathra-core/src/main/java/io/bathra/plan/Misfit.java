package io.bathra.plan;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.StoredColumn;
import java.math.BigDecimal;
import org.jspecify.annotations.Nullable;

/** Tells why a column does not keep a value as it is. */
public final class Misfit {
    private Misfit() {}

    /** What is wrong with a value for a column, and what to do; null when it fits. */
    public static @Nullable String of(StoredColumn column, Object value) {
        ColumnType type = column.type();
        if (value instanceof String text) {
            if (type.length() > 0 && text.length() > type.length()) {
                return "is " + text.length() + " long, but the column keeps " + type.length()
                        + "; shorten it, or declare a greater length(...)";
            }
            if (text.indexOf('\0') >= 0) {
                return "contains the character NUL, which no text column keeps on every database; take it out";
            }
        } else if (value instanceof Double || value instanceof Float) {
            if (!Double.isFinite(((Number) value).doubleValue())) {
                return "is no finite number, which not every database keeps; leave it empty, or store another one";
            }
        } else if (value instanceof BigDecimal decimal) {
            BigDecimal bare = decimal.stripTrailingZeros();
            if (bare.scale() > type.scale() || bare.precision() - bare.scale() > type.precision() - type.scale()) {
                return "does not fit into digits(" + type.precision() + ", " + type.scale()
                        + "); round it, or declare more digits(...)";
            }
        }
        return null;
    }
}
