package io.bathra.history;

import io.bathra.question.Path;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Absence;
import io.bathra.question.SearchCondition.All;
import io.bathra.question.SearchCondition.AnyOf;
import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Like;
import io.bathra.question.SearchCondition.Membership;
import io.bathra.question.SearchCondition.Negation;
import io.bathra.question.Term;
import java.util.List;
import java.util.function.UnaryOperator;

/** The same condition about other fields. */
record Rewriting(UnaryOperator<Path> path) {
    SearchCondition of(SearchCondition condition) {
        if (condition instanceof Comparison comparison) {
            return new Comparison(of(comparison.left()), comparison.operator(), of(comparison.right()));
        } else if (condition instanceof Membership membership) {
            return new Membership(of(membership.term()), all(membership.values()));
        } else if (condition instanceof Absence absence) {
            return new Absence(of(absence.term()));
        } else if (condition instanceof Like like) {
            return new Like(of(like.term()), like.kind(), of(like.part()), like.ignoringCase());
        } else if (condition instanceof All every) {
            return new All(every.conditions().stream().map(this::of).toList());
        } else if (condition instanceof AnyOf any) {
            return new AnyOf(any.conditions().stream().map(this::of).toList());
        } else if (condition instanceof Negation negation) {
            return new Negation(of(negation.condition()));
        }
        throw new IllegalStateException("a check cannot be " + condition);
    }

    Term of(Term term) {
        if (term instanceof Term.Attribute attribute) {
            return new Term.Attribute(path.apply(attribute.path()));
        } else if (term instanceof Term.Link link) {
            return new Term.Link(path.apply(link.path()));
        } else if (term instanceof Term.Call call) {
            return new Term.Call(call.function(), all(call.arguments()));
        } else if (term instanceof Term.TimePart part) {
            return new Term.TimePart(part.part(), of(part.of()), part.zone());
        }
        return term;
    }

    private List<Term> all(List<Term> terms) {
        return terms.stream().map(this::of).toList();
    }
}
