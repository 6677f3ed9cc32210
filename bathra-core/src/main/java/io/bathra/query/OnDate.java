package io.bathra.query;

import io.bathra.question.Term;
import io.bathra.question.Term.Part;
import io.bathra.question.Term.TimePart;
import java.time.LocalDate;

/**
 * A date in a question. Made by {@link Ask#date(io.bathra.attr.Attr)}.
 *
 * @param <E> the entity that is asked about
 */
public final class OnDate<E> extends Expr<E, LocalDate> {
    OnDate(Term term) {
        super(term);
    }

    /** {@return the year} */
    public Num<E, Integer> year() {
        return new Num<>(new TimePart(Part.YEAR, term(), null));
    }

    /** {@return the month, 1 for January} */
    public Num<E, Integer> month() {
        return new Num<>(new TimePart(Part.MONTH, term(), null));
    }

    /** {@return the day of the month} */
    public Num<E, Integer> day() {
        return new Num<>(new TimePart(Part.DAY, term(), null));
    }
}
