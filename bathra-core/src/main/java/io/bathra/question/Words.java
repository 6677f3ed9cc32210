package io.bathra.question;

import io.bathra.question.SearchCondition.Absence;
import io.bathra.question.SearchCondition.All;
import io.bathra.question.SearchCondition.AnyOf;
import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Elements;
import io.bathra.question.SearchCondition.Like;
import io.bathra.question.SearchCondition.Membership;
import io.bathra.question.SearchCondition.Negation;
import io.bathra.question.Term.Aggregate;
import io.bathra.question.Term.Call;
import io.bathra.question.Term.Target;
import io.bathra.question.Term.TimePart;
import io.bathra.question.Term.Value;
import java.time.temporal.Temporal;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Questions in SQL's own words. A question alone does not know which of its values are secret, so that {@code
 * toString()} leaves all of them out; whoever knows the model may have them in.
 */
public enum Words {
    /** With a question mark for each value. */
    WITHOUT_VALUES,
    /** With the values as SQL writes them. */
    WITH_VALUES;

    /** A question in words. */
    public String of(Question<?> question) {
        StringBuilder text = new StringBuilder("from ").append(question.type().getSimpleName());
        if (!question.conditions().isEmpty()) {
            text.append(" where ").append(joined(question.conditions(), " and ", this::of));
        }
        if (!question.groups().isEmpty()) {
            text.append(" group by ").append(joined(question.groups(), ", ", this::of));
        }
        if (!question.having().isEmpty()) {
            text.append(" having ").append(joined(question.having(), " and ", this::of));
        }
        if (!question.orderings().isEmpty()) {
            text.append(" order by ").append(joined(question.orderings(), ", ", this::of));
        }
        question.limit().ifPresent(rows -> text.append(" limit ").append(rows));
        if (question.offset() > 0) {
            text.append(" offset ").append(question.offset());
        }
        return text.toString();
    }

    String of(SortKey key) {
        String nulls = key.nullsFirst() == key.descending() ? key.nullsFirst() ? " nulls first" : " nulls last" : "";
        return of(key.term()) + (key.descending() ? " desc" : "") + nulls;
    }

    /** A condition in words. */
    public String of(SearchCondition condition) {
        if (condition instanceof Comparison comparison) {
            return of(comparison.left()) + " " + comparison.operator().sql() + " " + of(comparison.right());
        } else if (condition instanceof Membership membership) {
            return of(membership.term()) + " in (" + joined(membership.values(), ", ", this::of) + ")";
        } else if (condition instanceof Absence absence) {
            return of(absence.term()) + " is null";
        } else if (condition instanceof Like like) {
            return (like.ignoringCase() ? "lower(" + of(like.term()) + ")" : of(like.term())) + " like "
                    + pattern(like);
        } else if (condition instanceof Elements elements) {
            return elements.quantifier().name().toLowerCase(Locale.ROOT) + " " + elements.collection()
                    + (elements.conditions().isEmpty()
                            ? ""
                            : " with (" + joined(elements.conditions(), " and ", this::of) + ")");
        } else if (condition instanceof All all) {
            return joined(all.conditions(), " and ", this::of);
        } else if (condition instanceof AnyOf any) {
            String alternatives = joined(any.conditions(), " or ", this::of);
            return any.conditions().size() == 1 ? alternatives : "(" + alternatives + ")";
        } else if (condition instanceof Negation negation) {
            return negation.condition() instanceof Absence absence
                    ? of(absence.term()) + " is not null"
                    : "not (" + of(negation.condition()) + ")";
        }
        throw new IllegalStateException("no words for a " + condition.getClass().getName());
    }

    private String pattern(Like like) {
        return like.part() instanceof Value value
                ? of(this == WITH_VALUES ? new Value(like.kind().pattern(String.valueOf(value.value()), "%")) : value)
                : like.kind().pattern(of(like.part()), " % ").strip();
    }

    String of(Term term) {
        if (term instanceof Value value) {
            return this == WITHOUT_VALUES ? "?" : literal(value.value());
        } else if (term instanceof Target target) {
            return this == WITHOUT_VALUES
                    ? "?"
                    : "a " + target.object().getClass().getSimpleName(); // how it prints itself is the user's
        } else if (term instanceof Call call) {
            return call.function().sign().isEmpty()
                    ? call.function().name().toLowerCase(Locale.ROOT) + "(" + joined(call.arguments(), ", ", this::of)
                            + ")"
                    : "(" + joined(call.arguments(), " " + call.function().sign() + " ", this::of) + ")";
        } else if (term instanceof TimePart part) {
            return "extract(" + part.part().name().toLowerCase(Locale.ROOT) + " from " + of(part.of())
                    + (part.zone() == null ? "" : " at time zone '" + part.zone() + "'") + ")";
        } else if (term instanceof Aggregate aggregate) {
            String of = aggregate.of() == null ? "*" : of(aggregate.of());
            return switch (aggregate.kind()) {
                case COUNT_DISTINCT -> "count(distinct " + of + ")";
                case LONG_SUM -> "sum(" + of + ")";
                default -> aggregate.kind().name().toLowerCase(Locale.ROOT) + "(" + of + ")";
            };
        }
        return term.toString(); // of a name alone
    }

    private static String literal(Object value) {
        boolean quoted = value instanceof CharSequence || value instanceof Temporal || value instanceof Enum<?>;
        return quoted ? "'" + value.toString().replace("'", "''") + "'" : String.valueOf(value);
    }

    private static <T> String joined(List<T> list, String word, Function<T, String> words) {
        return list.stream().map(words).collect(Collectors.joining(word));
    }
}
