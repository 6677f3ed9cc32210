package io.bathra.query;

import io.bathra.question.Term;
import io.bathra.question.Term.Part;
import io.bathra.question.Term.TimePart;
import java.time.ZoneId;
import java.time.temporal.Temporal;
import org.jspecify.annotations.Nullable;

/**
 * A date with a time of day in a question, an instant's in some zone among them. Made by
 * {@link Ask#dateTime(io.bathra.attr.Attr)} and {@link Ask#instant(io.bathra.attr.Attr, java.time.ZoneId)}.
 *
 * @param <E> the entity that is asked about
 * @param <V> the type of the attribute
 */
public final class OnDateTime<E, V extends Temporal> extends Expr<E, V> {
    private final @Nullable ZoneId zone;

    OnDateTime(Term term, @Nullable ZoneId zone) {
        super(term);
        this.zone = zone;
    }

    /** {@return the year} */
    public Num<E, Integer> year() {
        return new Num<>(new TimePart(Part.YEAR, term(), zone));
    }

    /** {@return the month, 1 for January} */
    public Num<E, Integer> month() {
        return new Num<>(new TimePart(Part.MONTH, term(), zone));
    }

    /** {@return the day of the month} */
    public Num<E, Integer> day() {
        return new Num<>(new TimePart(Part.DAY, term(), zone));
    }

    /** {@return the hour of the day, from 0 to 23} */
    public Num<E, Integer> hour() {
        return new Num<>(new TimePart(Part.HOUR, term(), zone));
    }

    /** {@return the minute, from 0} */
    public Num<E, Integer> minute() {
        return new Num<>(new TimePart(Part.MINUTE, term(), zone));
    }

    /** {@return the whole seconds} */
    public Num<E, Integer> second() {
        return new Num<>(new TimePart(Part.SECOND, term(), zone));
    }
}
