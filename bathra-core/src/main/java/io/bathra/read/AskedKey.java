package io.bathra.read;

import io.bathra.access.Accessor;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.question.Path;
import io.bathra.question.Question;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The key that a query asks for, so that what hangs on the row can be asked for before the row has come. */
final class AskedKey {
    private AskedKey() {}

    /** The key, where a query asks for the row with it and for nothing else; null where it does not. */
    static @Nullable Object of(Mapping model, ModelEntity<?> entity, Question<?> question) {
        List<StoredAttribute> attributes = entity.keyAttributes();
        boolean narrowed = question.offset() > 0 || question.limit().orElse(1) < 1 || question.locking() != null;
        if (narrowed || question.conditions().size() != attributes.size()) {
            return null;
        }
        List<Object> parts = new ArrayList<>(attributes.size());
        for (StoredAttribute attribute : attributes) {
            Object part = part(model, entity, attribute, question.conditions());
            if (part == null) {
                return null;
            }
            parts.add(part);
        }
        Object key = entity.keyShape().compared(parts.size() == 1 ? parts.get(0) : parts);
        return entity.keyShape().mismatch(key) == null ? key : null;
    }

    private static @Nullable Object part(
            Mapping model, ModelEntity<?> entity, StoredAttribute attribute, List<SearchCondition> conditions) {
        for (SearchCondition condition : conditions) {
            if (condition instanceof Comparison comparison
                    && comparison.operator() == Operator.IS
                    && isOf(entity, attribute, comparison.left())) {
                return value(model, comparison.right());
            }
        }
        return null;
    }

    private static boolean isOf(ModelEntity<?> entity, StoredAttribute attribute, Term term) {
        Path path =
                term instanceof Term.Attribute one ? one.path() : term instanceof Term.Link link ? link.path() : null;
        if (path == null || path.steps().size() != 1) {
            return false;
        }
        Accessor accessor = path.steps().get(0);
        return entity.attribute(accessor) == attribute;
    }

    private static @Nullable Object value(Mapping model, Term term) {
        return term instanceof Term.Value value
                ? value.value()
                : term instanceof Term.Target target
                        ? model.entity(target.object().getClass()).keyOf(target.object())
                        : null;
    }
}
