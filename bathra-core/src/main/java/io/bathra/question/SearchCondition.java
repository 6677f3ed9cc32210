package io.bathra.question;

import java.util.List;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** A predicate over rows; prints itself in SQL's own words. Immutable. */
public sealed interface SearchCondition {
    /** How two values are compared. */
    enum Operator {
        IS("="),
        IS_NOT("<>"),
        ABOVE(">"),
        AT_LEAST(">="),
        BELOW("<"),
        AT_MOST("<=");

        private final String sql;

        Operator(String sql) {
            this.sql = sql;
        }

        /** The operator in standard SQL. */
        public String sql() {
            return sql;
        }
    }

    record Comparison(Term left, Operator operator, Term right) implements SearchCondition {
        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    record Membership(Term term, List<Term> values) implements SearchCondition {
        public Membership {
            values = List.copyOf(values);
        }

        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    record Absence(Term term) implements SearchCondition {
        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    /**
     * A text that looks like another one.
     *
     * @param part what to look for; for a pattern, the pattern itself
     * @param ignoringCase whether capitals and small letters are the same
     */
    record Like(Term term, Kind kind, Term part, boolean ignoringCase) implements SearchCondition {
        /** Where the part stands in the text. */
        public enum Kind {
            STARTS_WITH,
            ENDS_WITH,
            CONTAINS,
            /** The part is a pattern: {@code %} is any text, {@code _} one character, and {@code !} takes that away. */
            PATTERN;

            /** The pattern around a part whose own wildcards are escaped already. */
            public String pattern(String escapedPart, String wildcard) {
                return switch (this) {
                    case STARTS_WITH -> escapedPart + wildcard;
                    case ENDS_WITH -> wildcard + escapedPart;
                    case CONTAINS -> wildcard + escapedPart + wildcard;
                    case PATTERN -> escapedPart;
                };
            }
        }

        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    /**
     * What holds for elements of a collection: links, parts or pairs.
     *
     * @param collection the way to it
     * @param conditions what is asked of an element
     */
    record Elements(Quantifier quantifier, Path collection, List<SearchCondition> conditions)
            implements SearchCondition {
        /** How many elements it has to hold for. */
        public enum Quantifier {
            /** One at least. */
            ANY,
            /** None. */
            NO,
            /** Each of them, if there are any. */
            ALL
        }

        public Elements {
            conditions = List.copyOf(conditions);
        }

        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    record All(List<SearchCondition> conditions) implements SearchCondition {
        public All {
            conditions = List.copyOf(conditions);
        }

        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    record AnyOf(List<SearchCondition> conditions) implements SearchCondition {
        public AnyOf {
            conditions = List.copyOf(conditions);
        }

        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    record Negation(SearchCondition condition) implements SearchCondition {
        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    /** The conditions that it is made of, without those that only put others together. */
    default Stream<SearchCondition> simple() {
        if (this instanceof All all) {
            return all.conditions().stream().flatMap(SearchCondition::simple);
        } else if (this instanceof AnyOf any) {
            return any.conditions().stream().flatMap(SearchCondition::simple);
        } else if (this instanceof Negation negation) {
            return negation.condition().simple();
        }
        return Stream.of(this);
    }

    /** The terms that the condition is made of; of elements, those that lead to the collection are not among them. */
    default Stream<Term> terms() {
        return simple().flatMap(condition -> {
            if (condition instanceof Comparison comparison) {
                return Stream.of(comparison.left(), comparison.right());
            } else if (condition instanceof Membership membership) {
                return Stream.concat(Stream.of(membership.term()), membership.values().stream());
            } else if (condition instanceof Absence absence) {
                return Stream.of(absence.term());
            }
            return condition instanceof Like like ? Stream.of(like.term()) : Stream.of();
        });
    }

    /** Whether any of its {@link #terms} is such a one; found without a stream, since each query asks. */
    default boolean anyTerm(Predicate<Term> such) {
        if (this instanceof Comparison comparison) {
            return such.test(comparison.left()) || such.test(comparison.right());
        } else if (this instanceof Membership membership) {
            return such.test(membership.term()) || any(membership.values(), such);
        } else if (this instanceof Absence absence) {
            return such.test(absence.term());
        } else if (this instanceof Like like) {
            return such.test(like.term());
        } else if (this instanceof All all) {
            return any(all.conditions(), condition -> condition.anyTerm(such));
        } else if (this instanceof AnyOf anyOf) {
            return any(anyOf.conditions(), condition -> condition.anyTerm(such));
        }
        return this instanceof Negation negation && negation.condition().anyTerm(such);
    }

    private static <T> boolean any(List<T> list, Predicate<T> such) {
        for (T one : list) {
            if (such.test(one)) {
                return true;
            }
        }
        return false;
    }

    /** The collections whose elements the condition speaks of. */
    default Stream<Elements> elements() {
        return simple().filter(Elements.class::isInstance).map(Elements.class::cast);
    }

    /** The attributes that the condition speaks of, beside those of elements. */
    default List<Path> paths() {
        return terms().flatMap(Term::paths).toList();
    }
}
