package io.bathra.query;

import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Like;
import io.bathra.question.SearchCondition.Like.Kind;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.Term;
import io.bathra.question.Term.Call;
import io.bathra.question.Term.Function;
import java.util.List;
import java.util.Objects;

/**
 * A text in a question. Made by {@link Ask#text(io.bathra.attr.Attr)}. What is looked for is bound as a value: a {@code
 * %} or
 * {@code _} in it stands for itself, but in {@link #like}.
 *
 * @param <E> the entity that is asked about
 */
public final class Text<E> extends Expr<E, String> {
    private final boolean ignoringCase;

    Text(Term term) {
        this(term, false);
    }

    private Text(Term term, boolean ignoringCase) {
        super(term);
        this.ignoringCase = ignoringCase;
    }

    /**
     * {@return the condition that it starts with a text}
     *
     * @param start how it starts
     */
    public Condition<E> startsWith(String start) {
        return like(Kind.STARTS_WITH, start);
    }

    /**
     * {@return the condition that it ends with a text}
     *
     * @param end how it ends
     */
    public Condition<E> endsWith(String end) {
        return like(Kind.ENDS_WITH, end);
    }

    /**
     * {@return the condition that it contains a text}
     *
     * @param part what it contains
     */
    public Condition<E> contains(String part) {
        return like(Kind.CONTAINS, part);
    }

    /**
     * Fits a pattern: {@code %} is any text, {@code _} one character, and a {@code !} makes the next one stand for
     * itself.
     *
     * @param pattern the pattern
     * @return the condition
     */
    public Condition<E> like(String pattern) {
        return like(Kind.PATTERN, pattern);
    }

    private Condition<E> like(Kind kind, String part) {
        Objects.requireNonNull(part, () -> term() + " was compared with null");
        Term looked = ignoringCase ? ((Call) term()).arguments().get(0) : term();
        return new Condition<>(new Like(looked, kind, new Term.Value(part), ignoringCase));
    }

    /**
     * {@return the same text, for which capitals and small letters are alike in what follows} The database decides
     * which letters are; SQLite knows those of ASCII.
     */
    public Text<E> ignoringCase() {
        return ignoringCase ? this : new Text<>(call(Function.LOWER), true);
    }

    /** {@return the text in small letters; on SQLite those of ASCII alone} */
    public Text<E> lower() {
        return new Text<>(call(Function.LOWER));
    }

    /** {@return the text in capitals; on SQLite those of ASCII alone} */
    public Text<E> upper() {
        return new Text<>(call(Function.UPPER));
    }

    /** {@return how many characters the text has} H2 counts one beyond the basic plane as two. */
    public Num<E, Integer> length() {
        return new Num<>(call(Function.LENGTH));
    }

    @Override
    public Text<E> orElse(String instead) {
        return new Text<>(coalesce(new Term.Value(instead)));
    }

    private Term call(Function function) {
        return new Call(function, List.of(term()));
    }

    @Override
    Term operand(String value) {
        Term plain = new Term.Value(value);
        return ignoringCase ? new Call(Function.LOWER, List.of(plain)) : plain;
    }

    @Override
    Condition<E> compare(Operator operator, Expr<?, String> other) {
        return ignoringCase
                ? new Condition<>(new Comparison(term(), operator, new Call(Function.LOWER, List.of(other.term()))))
                : super.compare(operator, other);
    }
}
