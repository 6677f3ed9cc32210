package io.bathra.sql;

import io.bathra.mapping.ColumnType;
import io.bathra.mapping.Gate;
import io.bathra.question.Path;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Absence;
import io.bathra.question.SearchCondition.All;
import io.bathra.question.SearchCondition.AnyOf;
import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Elements;
import io.bathra.question.SearchCondition.Like;
import io.bathra.question.SearchCondition.Membership;
import io.bathra.question.SearchCondition.Negation;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.Term;
import io.bathra.schema.Check;
import io.bathra.schema.Column;
import io.bathra.schema.FieldPath;
import io.bathra.sql.Scope.Within;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Turns conditions into SQL, with values bound to placeholders, or written out where a table's definition wants them.
 */
final class ConditionWriter {
    private final TermWriter terms;

    /** Where the conditions are asked; null for a table's definition, which sees no other table. */
    private final @Nullable Scope scope;

    /** The columns of a path in a table's definition. */
    private final Function<Path, List<String>> ownColumns;

    private ConditionWriter(TermWriter terms, @Nullable Scope scope, Function<Path, List<String>> ownColumns) {
        this.terms = terms;
        this.scope = scope;
        this.ownColumns = ownColumns;
    }

    /**
     * A writer for conditions of a select.
     *
     * @param params where values to bind go
     */
    static ConditionWriter in(Dialect dialect, Scope scope, List<SqlText.Param> params) {
        return new ConditionWriter(new TermWriter(dialect, places(scope), params), scope, path -> List.of());
    }

    static Function<Term, Place> places(Scope scope) {
        return term -> term instanceof Term.Element ? scope.element() : scope.place(TermWriter.attribute(term));
    }

    /** The condition of a check, with its values written out. */
    static String withLiterals(Dialect dialect, Check check) {
        Function<Path, List<String>> columns = path -> check.columnsOf(FieldPath.name(path)).stream()
                .map(column -> dialect.quote(column.name()))
                .toList();
        return new ConditionWriter(literals(dialect, check.columns()), null, columns).condition(check.condition());
    }

    /** A term about fields, by their columns, with its values written out. */
    static String term(Dialect dialect, Map<String, List<Column>> fields, Term term) {
        return literals(dialect, fields).write(term, null).sql();
    }

    private static TermWriter literals(Dialect dialect, Map<String, List<Column>> fields) {
        Function<Term, Place> places = term -> {
            Column column = Objects.requireNonNull(fields.get(FieldPath.name(TermWriter.attribute(term))))
                    .get(0);
            return Place.ofLiterals(dialect.quote(column.name()), column.type(), !column.required());
        };
        return new TermWriter(dialect, places, null);
    }

    String all(List<SearchCondition> conditions) {
        return conditions.isEmpty()
                ? "1 = 1"
                : conditions.stream().map(this::condition).collect(Collectors.joining(" and "));
    }

    private String condition(SearchCondition condition) {
        if (condition instanceof Comparison comparison && comparison.left() instanceof Term.Link link) {
            return links().leads(link, List.of(comparison.right()), comparison.operator() == Operator.IS_NOT);
        } else if (condition instanceof Comparison comparison) {
            List<Place> both = terms.both(comparison.left(), comparison.right());
            return both.get(0).sql() + " " + comparison.operator().sql() + " "
                    + both.get(1).sql();
        } else if (condition instanceof Membership membership) {
            return membership(membership);
        } else if (condition instanceof Absence absence) {
            return absence(absence);
        } else if (condition instanceof Like like) {
            return like(like);
        } else if (condition instanceof Elements elements) {
            return elements(elements);
        } else if (condition instanceof All all) {
            return "(" + all(all.conditions()) + ")";
        } else if (condition instanceof AnyOf any) {
            return any.conditions().isEmpty()
                    ? "1 = 0"
                    : any.conditions().stream().map(this::condition).collect(Collectors.joining(" or ", "(", ")"));
        } else if (condition instanceof Negation negation) {
            return negation.condition() instanceof Absence absence && !(absence.term() instanceof Term.Link)
                    ? terms.write(absence.term(), null).sql() + " is not null"
                    : "not (" + condition(negation.condition()) + ")";
        }
        throw new IllegalStateException("no SQL for " + condition);
    }

    private String absence(Absence absence) {
        if (!(absence.term() instanceof Term.Link link)) {
            return terms.write(absence.term(), null).sql() + " is null";
        }
        return scope == null ? LinkWriter.nowhere(ownColumns.apply(link.path())) : links().nowhere(link);
    }

    private LinkWriter links() {
        return new LinkWriter(terms, Objects.requireNonNull(scope, "a table's definition knows no objects"));
    }

    private String membership(Membership membership) {
        if (membership.values().isEmpty()) {
            return "1 = 0";
        }
        if (membership.term() instanceof Term.Link link) {
            return links().leads(link, membership.values(), false);
        }
        Place place = terms.write(membership.term(), null);
        boolean plain = membership.values().stream().allMatch(Term.Slot.class::isInstance);
        return !plain
                ? membership.values().stream()
                        .map(one -> terms.write(one, place).sql())
                        .collect(Collectors.joining(", ", place.sql() + " in (", ")"))
                : terms.dialect()
                        .expressions()
                        .oneOf(
                                place.sql(),
                                place.type(),
                                terms.holes(membership.values(), place),
                                Objects.requireNonNull(terms.params()));
    }

    private String like(Like like) {
        Place place = terms.write(like.term(), null);
        Dialect dialect = terms.dialect();
        Gate gate = place.gate().computed(place.gate().toString(), ColumnType.text(0));
        UnaryOperator<Object> pattern = text ->
                gate.stored(dialect.expressions().pattern(like.kind(), (String) gate.user(gate.compared(text))));
        Object part = like.part() instanceof Term.Slot slot
                ? new Hole(slot.index(), pattern)
                : pattern.apply(((Term.Value) like.part()).value());
        String written = terms.literalOrBound(place.type(), part);
        return like.ignoringCase()
                ? dialect.expressions().like("lower(" + place.sql() + ")", "lower(" + written + ")")
                : dialect.expressions().like(place.sql(), written);
    }

    private String elements(Elements elements) {
        if (scope == null || terms.params() == null) {
            throw new IllegalStateException("a table's definition sees no other table: " + elements);
        }
        Within within = scope.into(elements.collection());
        String asked = in(terms.dialect(), within.scope(), terms.params()).all(elements.conditions());
        String more = elements.conditions().isEmpty()
                ? ""
                : elements.quantifier() == Elements.Quantifier.ALL
                        ? " and case when " + asked + " then 1 else 0 end = 0"
                        : " and " + asked;
        String found = "exists (select 1" + within.scope().from() + " where " + within.tie() + more + ")";
        if (elements.quantifier() == Elements.Quantifier.ALL
                && elements.conditions().isEmpty()) {
            return "1 = 1";
        }
        return elements.quantifier() == Elements.Quantifier.ANY ? found : "not " + found;
    }
}
