package io.bathra.query;

import java.time.temporal.Temporal;
import java.util.List;
import java.util.stream.Collectors;

/**
 * A typed predicate over an entity. Immutable and reusable; prints itself in SQL's own words. Made from
 * {@link Ask#the} and {@link Ask#text}, combined with {@link Ask#allOf}, {@link Ask#anyOf} and {@link Ask#not}.
 *
 * @param <E> the entity that is asked about
 */
public sealed interface Condition<E> {
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

    record Comparison<E>(Path path, Operator operator, Object value) implements Condition<E> {
        @Override
        public String toString() {
            return path + " " + operator.sql() + " " + literal(value);
        }
    }

    record Membership<E>(Path path, List<Object> values) implements Condition<E> {
        public Membership {
            values = List.copyOf(values);
        }

        @Override
        public String toString() {
            return path + " in " + values.stream().map(Condition::literal).collect(Collectors.joining(", ", "(", ")"));
        }
    }

    record Absence<E>(Path path) implements Condition<E> {
        @Override
        public String toString() {
            return path + " is null";
        }
    }

    record Like<E>(Path path, Kind kind, String part) implements Condition<E> {
        /** Where the part stands in the text. */
        public enum Kind {
            STARTS_WITH,
            ENDS_WITH,
            CONTAINS;

            /** The pattern around a part whose own wildcards are escaped already. */
            public String pattern(String escapedPart, String wildcard) {
                return switch (this) {
                    case STARTS_WITH -> escapedPart + wildcard;
                    case ENDS_WITH -> wildcard + escapedPart;
                    case CONTAINS -> wildcard + escapedPart + wildcard;
                };
            }
        }

        @Override
        public String toString() {
            return path + " like " + literal(kind.pattern(part, "%"));
        }
    }

    record All<E>(List<Condition<? super E>> conditions) implements Condition<E> {
        public All {
            conditions = List.copyOf(conditions);
        }

        @Override
        public String toString() {
            return join(conditions, " and ");
        }
    }

    record AnyOf<E>(List<Condition<? super E>> conditions) implements Condition<E> {
        public AnyOf {
            conditions = List.copyOf(conditions);
        }

        @Override
        public String toString() {
            return conditions.size() == 1 ? join(conditions, "") : "(" + join(conditions, " or ") + ")";
        }
    }

    record Negation<E>(Condition<? super E> condition) implements Condition<E> {
        @Override
        public String toString() {
            return condition instanceof Absence<?> absence
                    ? absence.path() + " is not null"
                    : "not (" + condition + ")";
        }
    }

    record Match<E>(Path path, Operator operator, Path other) implements Condition<E> {
        @Override
        public String toString() {
            return path + " " + operator.sql() + " " + other;
        }
    }

    /** The attributes that the condition speaks of. */
    default List<Path> paths() {
        if (this instanceof Comparison<E> comparison) {
            return List.of(comparison.path());
        } else if (this instanceof Match<E> match) {
            return List.of(match.path(), match.other());
        } else if (this instanceof Membership<E> membership) {
            return List.of(membership.path());
        } else if (this instanceof Absence<E> absence) {
            return List.of(absence.path());
        } else if (this instanceof Like<E> like) {
            return List.of(like.path());
        } else if (this instanceof All<E> all) {
            return paths(all.conditions());
        } else if (this instanceof AnyOf<E> any) {
            return paths(any.conditions());
        } else if (this instanceof Negation<E> negation) {
            return negation.condition().paths();
        }
        throw new IllegalStateException("no condition: " + this);
    }

    private static List<Path> paths(List<? extends Condition<?>> conditions) {
        return conditions.stream()
                .flatMap(condition -> condition.paths().stream())
                .toList();
    }

    private static String join(List<? extends Condition<?>> conditions, String word) {
        return conditions.stream().map(Condition::toString).collect(Collectors.joining(word));
    }

    private static String literal(Object value) {
        boolean quoted = value instanceof CharSequence || value instanceof Temporal || value instanceof Enum<?>;
        return quoted ? "'" + value.toString().replace("'", "''") + "'" : String.valueOf(value);
    }
}
