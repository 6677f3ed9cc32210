package io.bathra.plan;

import io.bathra.error.UnorderableChangesException;
import io.bathra.mapping.CheckRule;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.UniqueKey;
import io.bathra.track.Change;
import io.bathra.track.Change.Update;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.List;
import java.util.UUID;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/**
 * Finds values to which rows can make room for the moment: none at all where the column may be empty, else one at the
 * far end of what the column keeps, as far as the checks of the row allow it.
 */
final class Parking {
    private int parked;

    /**
     * @param changes tells how many rows there are, so that no two are parked in one place
     */
    Parking(List<Change> changes) {
        parked = changes.size();
    }

    /**
     * Makes an update take a row's unique value away for the moment.
     *
     * @throws UnorderableChangesException when nothing else may stand there
     */
    void park(Change change, UniqueKey unique, Update update) {
        for (StoredAttribute attribute : unique.attributes()) {
            if (update.changed().get(attribute.slot())) {
                return; // it is parked already
            }
        }
        for (StoredAttribute attribute : unique.attributes()) {
            if (!attribute.required() && !attribute.isKey() && allowed(update, attribute, null)) {
                update.changed().set(attribute.slot());
                return;
            }
        }
        for (StoredAttribute attribute : unique.attributes()) {
            if (attribute instanceof ColumnAttribute column && !column.isKey() && column.isOneValue()) {
                int number = ++parked;
                Gate gate = column.columns().get(0).gate();
                for (IntFunction<@Nullable Object> place : places(gate.type())) {
                    Object value = gate.read(place.apply(number));
                    if (value != null && allowed(update, attribute, value)) {
                        update.changed().set(attribute.slot());
                        return;
                    }
                }
            }
        }
        throw new UnorderableChangesException(change.entry() + " has to let go of "
                + unique.attributes().stream()
                        .map(StoredAttribute::name)
                        .reduce((a, b) -> a + " + " + b)
                        .orElse("")
                + " for another row before it takes its own new value, and nothing else may stand there"
                + " meanwhile; make it optional or deferrable(), or store the rows in two flushes");
    }

    /** Whether the checks allow a value; if so, it stands in the update. */
    private static boolean allowed(Update update, StoredAttribute attribute, @Nullable Object value) {
        Object before = update.values()[attribute.slot()];
        update.values()[attribute.slot()] = value;
        ModelEntity<?> entity = update.entry().entity();
        for (CheckRule check : entity.checks()) {
            if (new RowCondition(entity, update.values()).isFalse(check.condition())) {
                update.values()[attribute.slot()] = before;
                return false;
            }
        }
        return true;
    }

    /** Values that hardly anybody uses, by a number; null where the column has none of that kind. */
    private static List<IntFunction<@Nullable Object>> places(ColumnType type) {
        return switch (type.kind()) {
            case SHORT -> List.of(n -> (short) (Short.MIN_VALUE + n), n -> (short) (Short.MAX_VALUE - n));
            case INTEGER -> List.of(n -> Integer.MIN_VALUE + n, n -> Integer.MAX_VALUE - n);
            case LONG -> List.of(n -> Long.MIN_VALUE + n, n -> Long.MAX_VALUE - n);
            case DECIMAL -> {
                BigDecimal most =
                        new BigDecimal(BigInteger.TEN.pow(type.precision()).subtract(BigInteger.ONE), type.scale());
                yield List.of(
                        n -> most.negate().add(BigDecimal.valueOf(n, type.scale())),
                        n -> most.subtract(BigDecimal.valueOf(n, type.scale())));
            }
            case STRING -> List.of(n -> text(type, n));
            case DATE ->
                List.of(
                        n -> LocalDate.of(1000, 1, 1).plusDays(n),
                        n -> LocalDate.of(9999, 1, 1).minusDays(n));
            case TIME -> List.of(n -> LocalTime.of(23, 59, 59).plusNanos(1000L * n));
            case DATE_TIME ->
                List.of(
                        n -> LocalDateTime.of(1000, 1, 1, 0, 0).plusSeconds(n),
                        n -> LocalDateTime.of(9999, 1, 1, 0, 0).minusSeconds(n));
            case INSTANT -> List.of(n -> Instant.parse("1000-01-01T00:00:00Z").plusSeconds(n));
            case UUID -> List.of(n -> new UUID(0, n));
            default -> List.of();
        };
    }

    /** A character that no text begins with, and a number; null where the column is too narrow. */
    private static @Nullable String text(ColumnType type, int number) {
        String text = "\u0001" + Integer.toString(number, Character.MAX_RADIX);
        return type.length() > 0 && text.length() > type.length() ? null : text;
    }
}
