package io.bathra.plan;

import io.bathra.attr.Secret;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.Term;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Whether a row certainly breaks a condition, with SQL's three values of truth; texts in binary order. Whatever stays
 * unknown is left to the database.
 */
final class RowCondition {
    private final ModelEntity<?> entity;
    private final @Nullable Object[] row;

    RowCondition(ModelEntity<?> entity, @Nullable Object[] row) {
        this.entity = entity;
        this.row = row;
    }

    boolean isFalse(SearchCondition condition) {
        return Boolean.FALSE.equals(truth(condition));
    }

    /** Null when it is unknown. */
    private @Nullable Boolean truth(SearchCondition condition) {
        if (condition instanceof SearchCondition.Comparison comparison) {
            return compare(
                    value(comparison.left(), comparison.right()),
                    comparison.operator(),
                    value(comparison.right(), comparison.left()));
        } else if (condition instanceof SearchCondition.Membership membership) {
            boolean unknown = false;
            for (Term one : membership.values()) {
                Boolean same = compare(value(membership.term(), one), Operator.IS, value(one, membership.term()));
                if (Boolean.TRUE.equals(same)) {
                    return true;
                }
                unknown |= same == null;
            }
            return unknown ? null : false;
        } else if (condition instanceof SearchCondition.Absence absence) {
            if (absence.term() instanceof Term.Link link) {
                return row[((LinkAttribute) entity.attribute(link.path().steps().get(0))).slot()] == null;
            }
            return absence.term() instanceof Term.Attribute attribute
                    ? (Boolean) (value(attribute, attribute) == null)
                    : null;
        } else if (condition instanceof SearchCondition.Like like) {
            return value(like.term(), like.term()) == null
                    ? null
                    : Boolean.FALSE; // what is parked looks like no user's text
        } else if (condition instanceof SearchCondition.All all) {
            return and(all.conditions().stream().map(this::truth).toArray(Boolean[]::new));
        } else if (condition instanceof SearchCondition.AnyOf any) {
            return not(and(any.conditions().stream().map(one -> not(truth(one))).toArray(Boolean[]::new)));
        } else if (condition instanceof SearchCondition.Negation negation) {
            return not(truth(negation.condition()));
        }
        throw new IllegalStateException("no condition: " + condition);
    }

    /**
     * An attribute's value, or one as the attribute beside it keeps it; null when it is missing or would have to be
     * computed.
     */
    private @Nullable Object value(Term term, Term beside) {
        if (term instanceof Term.Attribute attribute) {
            return Secret.open(column(attribute).in(row));
        } else if (term instanceof Term.Value value && beside instanceof Term.Attribute attribute) {
            return Secret.open(column(attribute).gate().compared(value.value()));
        }
        return null;
    }

    private StoredColumn column(Term.Attribute attribute) {
        return entity.column(attribute.path().steps());
    }

    private static @Nullable Boolean not(@Nullable Boolean truth) {
        return truth == null ? null : (Boolean) !truth;
    }

    private static @Nullable Boolean and(@Nullable Boolean[] truths) {
        List<@Nullable Boolean> all = Arrays.asList(truths);
        if (all.contains(false)) {
            return false;
        }
        return all.stream().anyMatch(Objects::isNull) ? null : true;
    }

    @SuppressWarnings({"unchecked", "rawtypes"}) // both are values of one column's type
    private static @Nullable Boolean compare(@Nullable Object a, Operator operator, @Nullable Object b) {
        if (a == null || b == null || !(a instanceof Comparable comparable) || a.getClass() != b.getClass()) {
            return null;
        }
        int order = comparable.compareTo(b);
        return switch (operator) {
            case IS -> order == 0;
            case IS_NOT -> order != 0;
            case ABOVE -> order > 0;
            case AT_LEAST -> order >= 0;
            case BELOW -> order < 0;
            case AT_MOST -> order <= 0;
        };
    }
}
