package io.bathra.input;

import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.StoredAttribute;
import org.jspecify.annotations.Nullable;

/**
 * Stands for the key of a target until it has been looked up.
 *
 * @param by the attribute of the target that is unique
 * @param value its value, in the form that is stored
 */
public record Natural(StoredAttribute by, Object value) {
    /** The value as it may be shown. */
    public @Nullable Object shown() {
        return by.shown(value);
    }

    /** What is wrong when there is no such row. */
    public Flaw noSuchRow(LinkAttribute link) {
        return Flaw.of(
                Code.NO_SUCH_ROW,
                "names no " + link.target().name() + "; store that first, or mend the value",
                link.target().name());
    }
}
