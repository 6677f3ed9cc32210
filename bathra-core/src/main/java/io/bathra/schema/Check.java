package io.bathra.schema;

import io.bathra.access.Accessor;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.SearchCondition;
import java.util.List;

/** A check constraint, by its name, and the condition on an entity's columns that it keeps. */
public record Check(String name, ModelEntity<?> entity, SearchCondition condition) {
    /** The columns that it speaks of, each once. */
    public List<StoredColumn> columns() {
        return columns(entity, condition);
    }

    /** The columns of an entity that a condition speaks of, each once. */
    static List<StoredColumn> columns(ModelEntity<?> entity, SearchCondition condition) {
        return condition.paths().stream()
                .flatMap(path -> columns(entity, path.steps()).stream())
                .distinct()
                .toList();
    }

    private static List<StoredColumn> columns(ModelEntity<?> entity, List<Accessor> way) {
        return entity.attribute(way.get(0)) instanceof LinkAttribute link
                ? link.columns()
                : List.of(entity.column(way));
    }
}
