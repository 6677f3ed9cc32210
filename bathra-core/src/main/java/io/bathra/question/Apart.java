package io.bathra.question;

import io.bathra.error.BathraException;
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
import io.bathra.question.Term.Parameter;
import io.bathra.question.Term.Slot;
import io.bathra.question.Term.Target;
import io.bathra.question.Term.TimePart;
import io.bathra.question.Term.Value;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Takes questions apart into their shape, with slots in it, and the values that belong into the slots. Questions of one
 * shape are asked by one statement, which is written once.
 */
public final class Apart {
    private Map<String, Object> parameters = Map.of(); // most queries have none
    private Set<String> spokenOf = Set.of();
    private List<Parameter> missing = List.of();
    private final List<Object> values = new ArrayList<>(4);

    private final UnaryOperator<SearchCondition> condition = this::condition;
    private final UnaryOperator<Term> term = this::term;

    /**
     * Outside of conditions equal values share a slot, so that a term that is grouped by is known again where it is
     * selected.
     */
    private Map<Object, Slot> shared = Map.of();

    private boolean sharing;

    /** Nothing yet. */
    public Apart() {}

    /** The values by slot. */
    public List<Object> values() {
        return values;
    }

    /**
     * The shape of a question.
     *
     * @throws BathraException when a parameter has no value, or a value no parameter
     */
    public <E> Question<E> question(Question<E> question) {
        take(question);
        Question<E> shape = question.shape(this);
        refuseUnknown(question);
        refuseMissing();
        return shape;
    }

    /** The shape of a selection; what its answers become is no part of it. */
    public Selection<?> selection(Selection<?> selection) {
        take(selection.question());
        List<Term> terms = outside(selection.terms());
        return new Selection<>(question(selection.question()), terms, selection.distinct(), Apart::nothing);
    }

    /** Takes the values of a question's parameters. */
    private void take(Question<?> question) {
        if (!question.parameters().isEmpty()) {
            parameters = new HashMap<>(parameters);
            parameters.putAll(question.parameters());
        }
    }

    private static Object nothing(@Nullable Object[] row) {
        return row;
    }

    /** The shape of what an update of the rows that a question finds gives to them. */
    public List<SetClause> assignments(Question<?> question, List<SetClause> assignments) {
        take(question);
        List<SetClause> shapes = new ArrayList<>();
        for (SetClause one : assignments) {
            shapes.add(new SetClause(one.target(), one.value() == null ? null : term(one.value())));
        }
        return shapes;
    }

    /** The shape of what rows have in common. */
    public List<Match> pairings(List<Match> pairings) {
        List<Match> shapes = new ArrayList<>();
        pairings.forEach(pairing -> shapes.add(new Match(term(pairing.left()), term(pairing.right()))));
        refuseMissing();
        return shapes;
    }

    private void refuseMissing() {
        if (!missing.isEmpty()) {
            Parameter first = missing.get(0);
            throw new BathraException(
                    "the parameter " + first + " has no value; give it one with with(\"" + first.name() + "\", value)");
        }
    }

    /** Comes first, since a misspelt name is unknown in one place and missing in another. */
    private void refuseUnknown(Question<?> question) {
        if (question.parameters().isEmpty()) {
            return; // as most
        }
        for (String given : question.parameters().keySet()) {
            if (!spokenOf.contains(given)) {
                throw new BathraException("a value is given for the parameter ':" + given + "', but the query has "
                        + (spokenOf.isEmpty() ? "no parameters" : "the parameters " + spokenOf));
            }
        }
    }

    // ---- conditions

    List<SearchCondition> conditions(List<SearchCondition> conditions) {
        return map(conditions, condition);
    }

    private SearchCondition condition(SearchCondition condition) {
        if (condition instanceof Comparison comparison) {
            Term left = term(comparison.left());
            return new Comparison(left, comparison.operator(), term(comparison.right()));
        } else if (condition instanceof Membership membership) {
            return membership(membership);
        } else if (condition instanceof Absence absence) {
            return new Absence(term(absence.term()));
        } else if (condition instanceof Like like) {
            Term term = term(like.term());
            return new Like(term, like.kind(), term(like.part()), like.ignoringCase());
        } else if (condition instanceof Elements elements) {
            return new Elements(elements.quantifier(), elements.collection(), conditions(elements.conditions()));
        } else if (condition instanceof All all) {
            return new All(conditions(all.conditions()));
        } else if (condition instanceof AnyOf any) {
            return new AnyOf(conditions(any.conditions()));
        } else if (condition instanceof Negation negation) {
            return new Negation(condition(negation.condition()));
        }
        throw new IllegalStateException("no shape of " + condition);
    }

    private SearchCondition membership(Membership membership) {
        Term term = term(membership.term());
        List<Term> members = new ArrayList<>();
        for (Term member : membership.values()) {
            if (member instanceof Parameter parameter && parameter.many()) {
                ((Collection<?>) valueOf(parameter)).forEach(one -> members.add(slot(one)));
            } else {
                members.add(term(member));
            }
        }
        return new Membership(term, members);
    }

    // ---- terms

    List<Term> outside(List<Term> terms) {
        sharing = true;
        List<Term> shapes = map(terms, term);
        sharing = false;
        return shapes;
    }

    List<SortKey> orderings(List<SortKey> orderings) {
        sharing = true;
        List<SortKey> shapes = map(orderings, this::ordering);
        sharing = false;
        return shapes;
    }

    private SortKey ordering(SortKey ordering) {
        return new SortKey(term(ordering.term()), ordering.descending(), ordering.nullsFirst());
    }

    private Term term(Term term) {
        if (term instanceof Value value) {
            return slot(value.value());
        } else if (term instanceof Target target) {
            return slot(target.object());
        } else if (term instanceof Parameter parameter) {
            return slot(valueOf(parameter));
        } else if (term instanceof Call call) {
            return new Call(call.function(), map(call.arguments(), this.term));
        } else if (term instanceof TimePart part) {
            return new TimePart(part.part(), term(part.of()), part.zone());
        } else if (term instanceof Aggregate aggregate && aggregate.of() != null) {
            return new Aggregate(aggregate.kind(), term(aggregate.of()));
        }
        return term;
    }

    private Slot slot(Object value) {
        if (sharing) {
            shared = shared.isEmpty() ? new HashMap<>() : shared;
            return shared.computeIfAbsent(value, this::newSlot);
        }
        return newSlot(value);
    }

    private Slot newSlot(Object value) {
        values.add(value);
        Class<?> type = value instanceof Enum<?> constant ? constant.getDeclaringClass() : value.getClass();
        return new Slot(values.size() - 1, type);
    }

    private Object valueOf(Parameter parameter) {
        spokenOf = spokenOf.isEmpty() ? new LinkedHashSet<>() : spokenOf;
        spokenOf.add(parameter.name());
        Object value = parameters.get(parameter.name());
        if (value == null) {
            missing = missing.isEmpty() ? new ArrayList<>() : missing;
            missing.add(parameter);
            return parameter.many() ? List.of() : "";
        }
        if (parameter.many() != value instanceof Collection<?>) {
            throw new BathraException("the parameter " + parameter + " stands for "
                    + (parameter.many() ? "several values, but was given one" : "one value, but was given several"));
        }
        for (Object one : value instanceof Collection<?> several ? several : List.of(value)) {
            if (!parameter.type().isInstance(one)) {
                throw new BathraException("the parameter " + parameter + " is a "
                        + parameter.type().getSimpleName() + ", but was given "
                        + (one == null ? "null" : "a " + one.getClass().getSimpleName()));
            }
        }
        return value;
    }

    private static <T> List<T> map(List<T> list, UnaryOperator<T> change) {
        if (list.isEmpty()) {
            return List.of();
        }
        List<T> changed = new ArrayList<>(list.size());
        for (int i = 0; i < list.size(); i++) {
            changed.add(Objects.requireNonNull(change.apply(list.get(i))));
        }
        return changed;
    }
}
