package io.bathra.input;

import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.mapping.Gate;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Absence;
import io.bathra.question.SearchCondition.All;
import io.bathra.question.SearchCondition.AnyOf;
import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Like;
import io.bathra.question.SearchCondition.Membership;
import io.bathra.question.SearchCondition.Negation;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.Term;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.temporal.ChronoField;
import java.time.temporal.Temporal;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Whether a condition holds for the values of one row, in SQL's logic, and as far as every database would agree: how
 * texts are sorted, and which of them are the same, is the database's to say, and so is what becomes of fractions.
 */
public enum Decision {
    HOLDS,
    FAILS,
    /** A value that it speaks of is missing; a check lets that pass. */
    UNKNOWN,
    /** Only the database can tell. */
    UNDECIDED;

    /** Stands for a value that only the database can tell. */
    private static final Object OPEN = new Object();

    /** Beyond these whole numbers a double is not exact. */
    private static final long EXACT = 1L << 53;

    /**
     * Decides.
     *
     * @param values the values of the attributes, in stored form
     */
    public static Decision of(
            SearchCondition condition, ModelEntity<?> entity, Function<StoredAttribute, @Nullable Object> values) {
        return new Row(entity, values).decide(condition);
    }

    /** What stands for the value of an attribute that is not known here. */
    public static Object open() {
        return OPEN;
    }

    private Decision negated() {
        return this == HOLDS ? FAILS : this == FAILS ? HOLDS : this;
    }

    private static Decision of(boolean holds) {
        return holds ? HOLDS : FAILS;
    }

    private record Row(ModelEntity<?> entity, Function<StoredAttribute, @Nullable Object> values) {
        Decision decide(SearchCondition condition) {
            if (condition instanceof All all) {
                return joined(all.conditions(), FAILS);
            } else if (condition instanceof AnyOf any) {
                return joined(any.conditions(), HOLDS);
            } else if (condition instanceof Negation negation) {
                return decide(negation.condition()).negated();
            } else if (condition instanceof Absence absence) {
                Object value = value(absence.term(), null);
                return value == OPEN ? UNDECIDED : of(value == null);
            } else if (condition instanceof Comparison comparison) {
                Gate gate = gate(comparison.left(), comparison.right());
                return compared(value(comparison.left(), gate), comparison.operator(), value(comparison.right(), gate));
            } else if (condition instanceof Membership membership) {
                return among(membership);
            }
            return condition instanceof Like like ? like(like) : UNDECIDED;
        }

        /** One that decides alone does, whatever the others are. */
        private Decision joined(List<SearchCondition> conditions, Decision deciding) {
            Decision all = deciding.negated();
            for (SearchCondition condition : conditions) {
                Decision one = decide(condition);
                if (one == deciding) {
                    return one;
                }
                all = one == UNDECIDED || all == UNDECIDED ? UNDECIDED : one == UNKNOWN ? UNKNOWN : all;
            }
            return all;
        }

        private Decision among(Membership membership) {
            Gate gate = gate(membership.term(), membership.term());
            Object value = value(membership.term(), gate);
            Decision any = FAILS;
            for (Term term : membership.values()) {
                Decision one = compared(value, Operator.IS, value(term, gate));
                if (one == HOLDS) {
                    return HOLDS;
                }
                any = one == UNDECIDED || any == UNDECIDED ? UNDECIDED : one == UNKNOWN ? UNKNOWN : any;
            }
            return any;
        }

        private Decision like(Like like) {
            Object value = value(like.term(), null);
            if (value == null) {
                return UNKNOWN;
            }
            if (!(value instanceof String text)
                    || like.kind() == Like.Kind.PATTERN
                    || !(value(like.part(), null) instanceof String part)) {
                return UNDECIDED;
            }
            if (stands(text, part, like.kind())) {
                return HOLDS;
            }
            boolean perhaps = !isPlain(text) || !isPlain(part) || stands(small(text), small(part), like.kind());
            return perhaps ? UNDECIDED : FAILS;
        }

        private static boolean stands(String text, String part, Like.Kind kind) {
            return switch (kind) {
                case STARTS_WITH -> text.startsWith(part);
                case ENDS_WITH -> text.endsWith(part);
                default -> text.contains(part);
            };
        }

        /** Where the values of a comparison pass: the gate of a column in it. */
        private @Nullable Gate gate(Term left, Term right) {
            return left instanceof Term.Attribute attribute
                    ? entity.column(attribute.path().steps()).gate()
                    : right instanceof Term.Attribute attribute
                            ? entity.column(attribute.path().steps()).gate()
                            : null;
        }

        private @Nullable Object value(Term term, @Nullable Gate gate) {
            if (term instanceof Term.Attribute attribute) {
                return column(attribute);
            } else if (term instanceof Term.Value value) {
                return literal(value.value(), gate);
            } else if (term instanceof Term.Call call) {
                return called(call);
            }
            return term instanceof Term.TimePart part ? part(part) : OPEN;
        }

        private @Nullable Object column(Term.Attribute attribute) {
            StoredColumn column = entity.column(attribute.path().steps());
            Object whole = values.apply(column.attribute());
            return whole == OPEN ? OPEN : Secret.open(column.attribute().shape().part(whole, column.part()));
        }

        private static @Nullable Object literal(Object value, @Nullable Gate gate) {
            try {
                return Secret.open(gate == null ? value : gate.compared(value));
            } catch (BathraException e) {
                return OPEN;
            }
        }

        private @Nullable Object called(Term.Call call) {
            @Nullable Object first = value(call.arguments().get(0), null);
            if (call.function() == Term.Function.COALESCE) {
                for (Term argument : call.arguments()) {
                    Object one = value(argument, gate(call.arguments().get(0), argument));
                    if (one != null) {
                        return one;
                    }
                }
                return null;
            }
            if (first == null || first == OPEN) {
                return first;
            }
            return switch (call.function()) {
                case LENGTH -> first instanceof String text && isPlain(text) ? (Object) (long) text.length() : OPEN;
                case LOWER -> first instanceof String text && isPlain(text) ? small(text) : OPEN;
                case UPPER -> first instanceof String text && isPlain(text) ? text.toUpperCase(Locale.ROOT) : OPEN;
                case PLUS, MINUS, TIMES -> calculated(call, first);
                default -> OPEN;
            };
        }

        private @Nullable Object calculated(Term.Call call, Object first) {
            Object second = value(call.arguments().get(1), null);
            if (second == null) {
                return null;
            }
            BigDecimal left = exact(first);
            BigDecimal right = exact(second);
            if (left == null || right == null || left.scale() > 0 || right.scale() > 0) {
                return OPEN; // not every database calculates with fractions exactly
            }
            BigDecimal made = call.function() == Term.Function.PLUS
                    ? left.add(right)
                    : call.function() == Term.Function.MINUS ? left.subtract(right) : left.multiply(right);
            return made.abs().compareTo(BigDecimal.valueOf(Integer.MAX_VALUE)) > 0 ? OPEN : made; // it may overflow
        }

        private @Nullable Object part(Term.TimePart part) {
            Object value = value(part.of(), null);
            if (value == null) {
                return null;
            }
            boolean local = value instanceof LocalDate || value instanceof LocalDateTime || value instanceof LocalTime;
            ChronoField field = switch (part.part()) {
                case YEAR -> ChronoField.YEAR;
                case MONTH -> ChronoField.MONTH_OF_YEAR;
                case DAY -> ChronoField.DAY_OF_MONTH;
                case HOUR -> ChronoField.HOUR_OF_DAY;
                case MINUTE -> ChronoField.MINUTE_OF_HOUR;
                case SECOND -> ChronoField.SECOND_OF_MINUTE;
            };
            return local && ((Temporal) value).isSupported(field) ? (Object) ((Temporal) value).getLong(field) : OPEN;
        }
    }

    private static Decision compared(@Nullable Object left, Operator operator, @Nullable Object right) {
        if (left == null || right == null) {
            return UNKNOWN;
        }
        if (left == OPEN || right == OPEN) {
            return UNDECIDED;
        }
        if (left instanceof String || left instanceof Character || left instanceof Enum<?> || left instanceof Boolean) {
            return sameness(left, operator, right);
        }
        BigDecimal exactLeft = exact(left);
        BigDecimal exactRight = exact(right);
        if (exactLeft != null && exactRight != null) {
            return of(fits(operator, exactLeft.compareTo(exactRight)));
        }
        boolean ordered = left.getClass() == right.getClass() && left instanceof Comparable<?> && !isFloat(left);
        if (!ordered || left instanceof java.util.UUID) {
            return left.equals(right) ? of(fits(operator, 0)) : UNDECIDED;
        }
        @SuppressWarnings("unchecked") // both are of the same class
        Comparable<Object> comparable = (Comparable<Object>) left;
        return of(fits(operator, comparable.compareTo(right)));
    }

    /** Texts that are the same letter by letter are the same everywhere; few of the others differ everywhere. */
    private static Decision sameness(Object left, Operator operator, Object right) {
        if (left.equals(right)) {
            return of(fits(operator, 0));
        }
        boolean equality = operator == Operator.IS || operator == Operator.IS_NOT;
        boolean text = left instanceof String || left instanceof Character;
        boolean differ = left.getClass() == right.getClass()
                && (!text
                        || (isPlain(left.toString())
                                && isPlain(right.toString())
                                && !small(left.toString()).equals(small(right.toString()))));
        return equality && differ ? of(operator == Operator.IS_NOT) : UNDECIDED;
    }

    private static boolean fits(Operator operator, int order) {
        return switch (operator) {
            case IS -> order == 0;
            case IS_NOT -> order != 0;
            case ABOVE -> order > 0;
            case AT_LEAST -> order >= 0;
            case BELOW -> order < 0;
            case AT_MOST -> order <= 0;
        };
    }

    private static boolean isFloat(Object value) {
        return value instanceof Float;
    }

    /** A number without rounding; null for anything else. */
    private static @Nullable BigDecimal exact(Object value) {
        if (value instanceof BigDecimal decimal) {
            return decimal;
        } else if (value instanceof Double number) {
            boolean whole = number == Math.rint(number) && Math.abs(number) < EXACT;
            return whole ? BigDecimal.valueOf(number.longValue()) : null;
        }
        boolean whole =
                value instanceof Long || value instanceof Integer || value instanceof Short || value instanceof Byte;
        return whole ? BigDecimal.valueOf(((Number) value).longValue()) : null;
    }

    /** Letters and digits of ASCII, of which no collation makes something else but small or capital letters. */
    private static boolean isPlain(String text) {
        for (int i = 0; i < text.length(); i++) {
            char one = text.charAt(i);
            if ((one < '0' || one > '9') && (one < 'a' || one > 'z') && (one < 'A' || one > 'Z')) {
                return false;
            }
        }
        return true;
    }

    private static String small(String text) {
        return text.toLowerCase(Locale.ROOT);
    }
}
