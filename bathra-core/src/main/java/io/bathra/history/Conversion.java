package io.bathra.history;

import io.bathra.mapping.ColumnType;
import java.util.Objects;
import java.util.Set;

/** Whether the values of a column can become those of one of another type; if not, another column takes its place. */
public final class Conversion {
    private enum Family {
        TEXT,
        NUMBER,
        DAY,
        OTHER
    }

    private static final Set<Family> INTO_TEXT = Set.of(Family.TEXT, Family.NUMBER);

    private Conversion() {}

    public static boolean isPossible(ColumnType from, ColumnType to) {
        Family family = family(from);
        Family wanted = family(to);
        return (family == Family.OTHER || wanted == Family.OTHER)
                ? from.kind() == to.kind()
                : Objects.equals(family, wanted) || (INTO_TEXT.contains(family) && INTO_TEXT.contains(wanted));
    }

    private static Family family(ColumnType type) {
        return switch (type.kind()) {
            case CHARACTER, STRING, LONG_TEXT, ENUM -> Family.TEXT;
            case BYTE, SHORT, INTEGER, LONG, FLOAT, DOUBLE, DECIMAL -> Family.NUMBER;
            case DATE, DATE_TIME -> Family.DAY;
            default -> Family.OTHER;
        };
    }
}
