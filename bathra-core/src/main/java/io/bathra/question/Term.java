package io.bathra.question;

import io.bathra.query.Expr;
import java.time.ZoneId;
import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A value in a question as data, without the types that {@link Expr} gives it. Immutable; prints itself in SQL's own
 * words.
 */
public sealed interface Term {
    /** An attribute, over links or inside a value if need be. */
    record Attribute(Path path) implements Term {
        @Override
        public String toString() {
            return path.toString();
        }
    }

    /** A link, over other links if need be; it is compared with what it leads to. */
    record Link(Path path) implements Term {
        @Override
        public String toString() {
            return path.toString();
        }
    }

    /** What a row gives for an attribute, where rows are written over those that are there. */
    record Given(Path path) implements Term {
        @Override
        public String toString() {
            return "given(" + path + ")";
        }
    }

    /** An entity's object, which stands for the key of its row. */
    record Target(Object object) implements Term {
        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    /** A simple element of a collection of parts: the text itself in a collection of texts. */
    record Element() implements Term {
        @Override
        public String toString() {
            return "element";
        }
    }

    /** A value, which is bound. */
    record Value(Object value) implements Term {
        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    /**
     * A value that the query is given by name.
     *
     * @param many whether it stands for any number of values
     */
    record Parameter(String name, Class<?> type, boolean many) implements Term {
        @Override
        public String toString() {
            return ":" + name;
        }
    }

    /**
     * The place of a value in the shape of a question.
     *
     * @param index which of the values belongs there
     * @param type the value's class
     */
    record Slot(int index, Class<?> type) implements Term {
        @Override
        public String toString() {
            return "?";
        }
    }

    /** What is made of other terms. */
    record Call(Function function, List<Term> arguments) implements Term {
        public Call {
            arguments = List.copyOf(arguments);
        }

        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    /** What a call does. */
    enum Function {
        LOWER(""),
        UPPER(""),
        LENGTH(""),
        COALESCE(""),
        PLUS("+"),
        MINUS("-"),
        TIMES("*"),
        DIVIDED("/");

        private final String sign;

        Function(String sign) {
            this.sign = sign;
        }

        /** The operator; empty for a function with a name. */
        public String sign() {
            return sign;
        }
    }

    /**
     * A part of a date or time.
     *
     * @param zone where an instant is looked at from; null for a local date or time
     */
    record TimePart(Part part, Term of, @Nullable ZoneId zone) implements Term {
        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    /** The parts of dates and times. */
    enum Part {
        YEAR,
        MONTH,
        DAY,
        HOUR,
        MINUTE,
        SECOND
    }

    /**
     * What is made of all rows of a group.
     *
     * @param of what is looked at in each row; null for the rows themselves
     */
    record Aggregate(Kind kind, @Nullable Term of) implements Term {
        /** What an aggregate tells. */
        public enum Kind {
            COUNT,
            COUNT_DISTINCT,
            SUM,
            /** A sum of 64 bits, whatever is added. */
            LONG_SUM,
            MIN,
            MAX,
            AVG
        }

        @Override
        public String toString() {
            return Words.WITHOUT_VALUES.of(this);
        }
    }

    /** The terms that it is made of, itself first. */
    default Stream<Term> all() {
        Stream<Term> inside = Stream.of();
        if (this instanceof Call call) {
            inside = call.arguments().stream().flatMap(Term::all);
        } else if (this instanceof TimePart part) {
            inside = part.of().all();
        } else if (this instanceof Aggregate aggregate && aggregate.of() != null) {
            inside = aggregate.of().all();
        }
        return Stream.concat(Stream.of(this), inside);
    }

    /** The attributes and links that it speaks of. */
    default Stream<Path> paths() {
        return all().flatMap(term -> term instanceof Attribute attribute
                ? Stream.of(attribute.path())
                : term instanceof Link link ? Stream.of(link.path()) : Stream.of());
    }

    /** Whether it is made of whole groups of rows. */
    default boolean isAggregate() {
        if (this instanceof Call call) {
            for (Term argument : call.arguments()) {
                if (argument.isAggregate()) {
                    return true;
                }
            }
            return false;
        }
        return this instanceof Aggregate
                || (this instanceof TimePart part && part.of().isAggregate());
    }
}
