package io.bathra.sql;

import io.bathra.answer.Mark;
import io.bathra.question.SortKey;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The condition that a row lies behind a mark: in the first value that differs, missing ones among them. */
final class SeekWriter {
    private final TermWriter terms;
    private final List<Place> places;
    private final List<SortKey> orderings;
    private final Mark mark;

    /**
     * @param places what rows are ordered by: the orderings, then the key
     */
    SeekWriter(TermWriter terms, List<Place> places, List<SortKey> orderings, Mark mark) {
        this.terms = terms;
        this.places = places;
        this.orderings = orderings;
        this.mark = mark;
    }

    String behind() {
        List<String> ways = new ArrayList<>();
        for (int i = 0; i < places.size(); i++) {
            int paramsBefore = params().size();
            List<String> alike = new ArrayList<>();
            for (int j = 0; j < i; j++) {
                alike.add(same(j));
            }
            String beyond = beyond(i);
            if (beyond == null) {
                params().subList(paramsBefore, params().size()).clear(); // nothing lies behind on this way
                continue;
            }
            alike.add(beyond);
            ways.add(String.join(" and ", alike));
        }
        return ways.isEmpty() ? "1 = 0" : "((" + String.join(") or (", ways) + "))";
    }

    private List<SqlText.Param> params() {
        return Objects.requireNonNull(terms.params());
    }

    private String same(int i) {
        Object value = value(i);
        String term = sql(i);
        return value == null
                ? term + " is null"
                : term + " = " + terms.literalOrBound(places.get(i).type(), value);
    }

    private @Nullable String beyond(int i) {
        boolean descending = i < orderings.size() && orderings.get(i).descending();
        boolean nullsFirst = i >= orderings.size() || orderings.get(i).nullsFirst();
        Object value = value(i);
        if (value == null) {
            return nullsFirst ? sql(i) + " is not null" : null;
        }
        String beyond = sql(i)
                + (descending ? " < " : " > ")
                + terms.literalOrBound(places.get(i).type(), value);
        return nullsFirst || !places.get(i).nullable() ? beyond : "(" + beyond + " or " + sql(i) + " is null)";
    }

    /** The term again, with its own values bound again. */
    private String sql(int i) {
        return i < orderings.size()
                ? terms.write(orderings.get(i).term(), null).sql()
                : places.get(i).sql();
    }

    private @Nullable Object value(int i) {
        String text = mark.values().get(i);
        return text == null ? null : MarkValues.parse(places.get(i).gate(), text);
    }
}
