package io.bathra.read;

import io.bathra.access.Accessor;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.Mapping;
import io.bathra.mapping.ModelEntity;
import io.bathra.question.Path;
import io.bathra.question.Question;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Elements;
import io.bathra.question.Term;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;

/** Finds out whether a question speaks of secret attributes, whose values must not stand in messages. */
final class Secrets {
    private final Mapping model;

    Secrets(Mapping model) {
        this.model = model;
    }

    boolean areIn(Question<?> question) {
        ModelEntity<?> entity = model.entity(question.type());
        Stream<Term> terms = Stream.concat(
                question.orderings().stream().map(ordering -> ordering.term()), question.groups().stream());
        return terms.anyMatch(term -> areIn(entity, term))
                || areIn(entity, question.conditions())
                || areIn(entity, question.having());
    }

    private static boolean areIn(ModelEntity<?> entity, List<SearchCondition> conditions) {
        return conditions.stream()
                .anyMatch(condition -> condition.terms().anyMatch(term -> areIn(entity, term))
                        || condition.elements().anyMatch(elements -> areIn(entity, elements)));
    }

    private static boolean areIn(ModelEntity<?> entity, Term term) {
        return term.paths().anyMatch(path -> end(entity, path).isSecret());
    }

    /** What is inside parts is taken for secret when anything in them is. */
    private static boolean areIn(ModelEntity<?> entity, Elements elements) {
        Attribute collection = end(entity, elements.collection());
        ModelEntity<?> target = collection.target();
        return collection.isSecret() || (target != null && areIn(target, elements.conditions()));
    }

    /** The attribute that a path leads to over links; what lies inside an inlined value counts as the value. */
    private static Attribute end(ModelEntity<?> entity, Path path) {
        ModelEntity<?> at = entity;
        Attribute attribute = null;
        for (Accessor step : path.steps()) {
            attribute = at.attribute(step);
            if (!(attribute instanceof LinkAttribute link)) {
                return attribute;
            }
            at = link.target();
        }
        return Objects.requireNonNull(attribute);
    }
}
