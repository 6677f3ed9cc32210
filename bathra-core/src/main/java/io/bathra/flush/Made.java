package io.bathra.flush;

import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What the database makes of rows that are written: it is put into the rows as they will be settled. */
final class Made {
    static final String CAUSE = "flush: values made by the database";

    private final ModelEntity<?> entity;
    private final List<StoredAttribute> made;
    private final Map<Object, @Nullable Object[]> byKey = new HashMap<>();

    Made(ModelEntity<?> entity, List<StoredAttribute> made, List<@Nullable Object[]> rows) {
        this.entity = entity;
        this.made = made;
        for (@Nullable Object[] row : rows) {
            byKey.put(Objects.requireNonNull(entity.keyIn(row)), row);
        }
    }

    List<Object> keys() {
        return List.copyOf(byKey.keySet());
    }

    /** A row as the database has it. */
    void found(@Nullable Object[] found) {
        @Nullable Object[] row = Objects.requireNonNull(byKey.get(Objects.requireNonNull(entity.keyIn(found))));
        made.forEach(attribute -> row[attribute.slot()] = found[attribute.slot()]);
    }
}
