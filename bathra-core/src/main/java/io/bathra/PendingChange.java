package io.bathra;

import org.jspecify.annotations.Nullable;

/**
 * Something that the next flush would write.
 *
 * @param entity the object; for a part or a pair, the one that it belongs to
 * @param row its row in words: {@code PortCall 17}, {@code PortCall (new #3)}
 * @param standing {@code NEW}, {@code DIRTY} or {@code REMOVED}
 * @param attribute the changed attribute; null when the whole row comes or goes
 * @param before the attribute's value in the row; for a link, the foreign key
 * @param after the attribute's value in the object; for a link, the foreign key or the new target
 */
public record PendingChange(
        Object entity,
        String row,
        Standing standing,
        @Nullable String attribute,
        @Nullable Object before,
        @Nullable Object after) {
    @Override
    public String toString() {
        return attribute == null
                ? row + ": " + (standing == Standing.NEW ? "new" : "removed")
                : row + "." + attribute + ": " + before + " -> " + after;
    }
}
