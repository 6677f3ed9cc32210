package io.bathra.query;

import io.bathra.answer.QueryText;
import io.bathra.error.NotExactlyOneException;
import io.bathra.question.Answers;
import io.bathra.question.Selection;
import io.bathra.question.Term;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A question for values of rows, or of groups of rows. Made by {@code as(...)} of a query. Immutable.
 *
 * @param <R> what a row becomes
 */
public final class Projection<R> {
    private final Answers answers;
    private final Selection<R> selection;

    Projection(Answers answers, Selection<R> selection) {
        this.answers = answers;
        this.selection = selection;
    }

    /**
     * Equal rows count once.
     *
     * @return a selection like this one, with that
     */
    public Projection<R> distinct() {
        return new Projection<>(
                answers, new Selection<>(selection.question(), selection.terms(), true, selection.maker()));
    }

    /** {@return all, in order} */
    public List<R> list() {
        return answers.list(selection);
    }

    /**
     * {@return the rows one after the other, in bounded memory; the stream closes itself behind the last one} On
     * MariaDB the unit can execute nothing else meanwhile without reading the rest into memory.
     */
    public Stream<R> stream() {
        return answers.stream(selection);
    }

    /** {@return the first row, if there is any} */
    public Optional<R> first() {
        return answers.list(limited(1)).stream().findFirst();
    }

    /**
     * {@return the only row}
     *
     * @throws NotExactlyOneException when there is none, or more than one
     */
    public R one() {
        List<R> rows = answers.list(limited(2));
        if (rows.size() != 1) {
            throw new NotExactlyOneException(
                    answers.describe(selection.question()),
                    rows.isEmpty() ? 0 : answers.list(selection).size());
        }
        return rows.get(0);
    }

    private Selection<R> limited(int rows) {
        return new Selection<>(
                selection.question().atMost(rows), selection.terms(), selection.distinct(), selection.maker());
    }

    /** {@return the statement and its parameters; nothing is executed} */
    public QueryText sql() {
        return answers.sql(selection);
    }

    /** {@return the database's own plan for the statement} */
    public String explain() {
        return answers.explain(selection);
    }

    @Override
    public String toString() {
        return "select " + (selection.distinct() ? "distinct " : "")
                + selection.terms().stream().map(Term::toString).collect(Collectors.joining(", ")) + " "
                + answers.describe(selection.question());
    }
}
