package io.bathra.query;

import io.bathra.question.Term;
import io.bathra.question.Term.Part;
import io.bathra.question.Term.TimePart;
import java.time.LocalTime;

/**
 * A time of day in a question. Made by {@link Ask#time(io.bathra.attr.Attr)}.
 *
 * @param <E> the entity that is asked about
 */
public final class AtTime<E> extends Expr<E, LocalTime> {
    AtTime(Term term) {
        super(term);
    }

    /** {@return the hour of the day, from 0 to 23} */
    public Num<E, Integer> hour() {
        return new Num<>(new TimePart(Part.HOUR, term(), null));
    }

    /** {@return the minute, from 0} */
    public Num<E, Integer> minute() {
        return new Num<>(new TimePart(Part.MINUTE, term(), null));
    }

    /** {@return the whole seconds} */
    public Num<E, Integer> second() {
        return new Num<>(new TimePart(Part.SECOND, term(), null));
    }
}
