package io.bathra.sql;

import io.bathra.access.Accessor;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.question.Path;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Absence;
import io.bathra.question.SearchCondition.Elements;
import io.bathra.question.SearchCondition.Negation;
import io.bathra.question.Term;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Conditions on rows that are to be changed, sorted by where the database may begin with them: at the rows themselves, or
 * at other rows, of which it then makes a list.
 *
 * @param own what is asked of the rows themselves, and all that is no other
 * @param behind what is asked of the targets of links alone
 * @param having collections that have to have elements
 */
record Sorted(List<SearchCondition> own, Map<LinkAttribute, List<SearchCondition>> behind, List<Elements> having) {
    static Sorted of(ModelEntity<?> entity, List<SearchCondition> conditions) {
        Sorted sorted = new Sorted(new ArrayList<>(), new LinkedHashMap<>(), new ArrayList<>());
        conditions.forEach(condition -> sorted.add(entity, condition));
        return sorted;
    }

    private void add(ModelEntity<?> entity, SearchCondition condition) {
        if (condition instanceof SearchCondition.All all) {
            all.conditions().forEach(one -> add(entity, one));
            return;
        }
        LinkAttribute link = link(entity, condition);
        if (link != null) {
            behind.computeIfAbsent(link, one -> new ArrayList<>()).add(condition);
        } else if (condition instanceof Elements elements
                && elements.quantifier() == Elements.Quantifier.ANY
                && elements.collection().steps().size() == 1) {
            having.add(elements);
        } else {
            own.add(condition);
        }
    }

    /** The link of whose target alone a condition speaks; null where there is none such. */
    private static @Nullable LinkAttribute link(ModelEntity<?> entity, SearchCondition condition) {
        List<Path> paths = condition.paths();
        if (paths.isEmpty() || condition.elements().findAny().isPresent()) {
            return null;
        }
        Accessor first = paths.get(0).steps().get(0);
        boolean shared = paths.stream()
                .allMatch(path -> path.steps().size() > 1 && path.steps().get(0).equals(first));
        if (!shared || !(entity.attribute(first) instanceof LinkAttribute link)) {
            return null;
        }
        boolean here = paths.stream()
                .allMatch(path -> OwnColumns.behind(
                                link, path.steps().subList(1, path.steps().size()))
                        != null);
        return here || (!link.required() && mayBe(true, condition)) ? null : link;
    }

    /**
     * Whether a condition may be fulfilled, or its opposite, though all that it speaks of is missing, with SQL's three
     * values of truth.
     *
     * @param wanted what it is to be: true, or false for its opposite
     */
    private static boolean mayBe(boolean wanted, SearchCondition condition) {
        if (condition instanceof SearchCondition.All all) {
            return wanted
                    ? all.conditions().stream().allMatch(one -> mayBe(true, one))
                    : all.conditions().stream().anyMatch(one -> mayBe(false, one));
        } else if (condition instanceof SearchCondition.AnyOf any) {
            return wanted
                    ? any.conditions().stream().anyMatch(one -> mayBe(true, one))
                    : any.conditions().stream().allMatch(one -> mayBe(false, one));
        } else if (condition instanceof Negation negation) {
            return mayBe(!wanted, negation.condition());
        }
        boolean missing = condition
                .terms()
                .flatMap(Term::all)
                .noneMatch(term -> term instanceof Term.Call call && call.function() == Term.Function.COALESCE);
        if (!missing || condition.paths().isEmpty()) {
            return true; // something stands in for what is missing, or nothing is
        } else if (condition instanceof Absence) {
            return wanted;
        }
        boolean onNoList = condition instanceof SearchCondition.Membership membership
                && membership.values().isEmpty();
        return onNoList && !wanted;
    }
}
