package io.bathra.schema;

import io.bathra.access.Accessor;
import io.bathra.attr.Secret;
import io.bathra.mapping.Gate;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
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
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A check of a model, in the words of its layout: fields by their names, and values as columns keep them. */
final class ModelCheck {
    private final ModelEntity<?> entity;

    ModelCheck(ModelEntity<?> entity) {
        this.entity = entity;
    }

    SearchCondition of(SearchCondition condition) {
        if (condition instanceof Comparison comparison) {
            Gate gate = gate(comparison.left(), gate(comparison.right(), null));
            return new Comparison(of(comparison.left(), gate), comparison.operator(), of(comparison.right(), gate));
        } else if (condition instanceof Membership membership) {
            Gate gate = gate(membership.term(), null);
            return new Membership(
                    of(membership.term(), null),
                    membership.values().stream().map(one -> of(one, gate)).toList());
        } else if (condition instanceof Absence absence) {
            return new Absence(of(absence.term(), null));
        } else if (condition instanceof Like like) {
            return new Like(of(like.term(), null), like.kind(), of(like.part(), null), like.ignoringCase());
        } else if (condition instanceof All all) {
            return new All(all.conditions().stream().map(this::of).toList());
        } else if (condition instanceof AnyOf any) {
            return new AnyOf(any.conditions().stream().map(this::of).toList());
        } else if (condition instanceof Negation negation) {
            return new Negation(of(negation.condition()));
        }
        throw new IllegalStateException("a check cannot be " + condition);
    }

    /** Where values that a term is compared or calculated with pass; what was known before where it does not tell. */
    private @Nullable Gate gate(Term term, @Nullable Gate known) {
        if (term instanceof Term.Attribute attribute) {
            List<Accessor> way = attribute.path().steps();
            return entity.attribute(way.get(0)) instanceof LinkAttribute link
                    ? link.columns().get(0).gate()
                    : entity.column(way).gate();
        } else if (term instanceof Term.Call call
                && call.function() != Term.Function.LENGTH
                && call.function() != Term.Function.LOWER
                && call.function() != Term.Function.UPPER) {
            for (Term argument : call.arguments()) {
                Gate gate = gate(argument, null);
                if (gate != null) {
                    return gate;
                }
            }
        }
        return known;
    }

    private Term of(Term term, @Nullable Gate beside) {
        if (term instanceof Term.Attribute attribute) {
            return new Term.Attribute(path(attribute.path()));
        } else if (term instanceof Term.Link link) {
            return new Term.Link(path(link.path()));
        } else if (term instanceof Term.Value value) {
            Object stored = beside == null ? value.value() : beside.compared(value.value());
            return new Term.Value(Literal.of(Objects.requireNonNull(Secret.open(stored))));
        } else if (term instanceof Term.Call call) {
            Gate gate = gate(call, beside);
            List<Term> arguments = new ArrayList<>();
            call.arguments().forEach(argument -> arguments.add(of(argument, gate)));
            return new Term.Call(call.function(), arguments);
        } else if (term instanceof Term.TimePart part) {
            return new Term.TimePart(part.part(), of(part.of(), null), part.zone());
        }
        throw new IllegalStateException("a check cannot speak of " + term);
    }

    private Path path(Path path) {
        return FieldPath.of(
                entity.attribute(path.steps().get(0)) instanceof LinkAttribute link
                        ? link.name()
                        : entity.column(path.steps()).label());
    }
}
