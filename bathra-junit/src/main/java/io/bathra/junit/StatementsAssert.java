package io.bathra.junit;

import io.bathra.junit.Statements.Deed;
import io.bathra.trace.Repetition;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.assertj.core.api.AbstractAssert;

/** Asserts what a store has executed. */
public final class StatementsAssert extends AbstractAssert<StatementsAssert, Statements> {
    StatementsAssert(Statements actual) {
        super(actual, StatementsAssert.class);
    }

    /**
     * {@return so many statements altogether}
     *
     * @param statements how many
     */
    public StatementsAssert exactly(int statements) {
        return check(actual.count() == statements, "exactly " + counted(statements), actual.count());
    }

    /**
     * {@return so many statements or fewer}
     *
     * @param statements how many
     */
    public StatementsAssert atMost(int statements) {
        return check(actual.count() <= statements, "at most " + counted(statements), actual.count());
    }

    /**
     * None at all.
     *
     * @return this assertion
     */
    public StatementsAssert none() {
        return exactly(0);
    }

    /**
     * {@return so many statements that read}
     *
     * @param statements how many
     */
    public StatementsAssert selects(int statements) {
        return deeds(Deed.SELECT, statements, "select");
    }

    /**
     * {@return so many statements that insert, among them those that insert or update}
     *
     * @param statements how many
     */
    public StatementsAssert inserts(int statements) {
        return deeds(Deed.INSERT, statements, "insert");
    }

    /**
     * {@return so many statements that update}
     *
     * @param statements how many
     */
    public StatementsAssert updates(int statements) {
        return deeds(Deed.UPDATE, statements, "update");
    }

    /**
     * {@return so many statements that delete}
     *
     * @param statements how many
     */
    public StatementsAssert deletes(int statements) {
        return deeds(Deed.DELETE, statements, "delete");
    }

    /**
     * {@return the program waited so often or less, for statements, savepoints, commits and rollbacks}
     *
     * @param trips how many round trips
     */
    public StatementsAssert atMostRoundTrips(int trips) {
        return check(actual.roundTrips() <= trips, "at most " + trips + " round trips", actual.roundTrips());
    }

    /**
     * {@return no statement was executed again with other values, as in a loop that reads what lies behind each row}
     */
    public StatementsAssert noneRepeated() {
        isNotNull();
        List<Repetition> repeated = actual.repeated();
        if (!repeated.isEmpty()) {
            failWithMessage(
                    "%s",
                    told("no statement was to be repeated, but "
                            + (repeated.size() == 1 ? "this one was:" : "these were:") + "\n"
                            + repeated.stream().map(Repetition::toString).collect(Collectors.joining("\n"))));
        }
        return this;
    }

    /**
     * {@return no other tables of the model were read or written}
     *
     * @param tables the tables
     */
    public StatementsAssert touchingOnly(String... tables) {
        isNotNull();
        Set<String> others = new LinkedHashSet<>(actual.tables());
        Set<String> allowed = Set.of(tables);
        others.removeAll(allowed);
        if (!others.isEmpty()) {
            failWithMessage(
                    "%s", told("only " + new TreeSet<>(allowed) + " were to be touched, but so were " + others));
        }
        return this;
    }

    private StatementsAssert deeds(Deed deed, int expected, String word) {
        int found = actual.count(deed);
        return check(found == expected, counted(expected, word + " statement"), found);
    }

    private StatementsAssert check(boolean fulfilled, String expected, int found) {
        isNotNull();
        if (!fulfilled) {
            failWithMessage("%s", told(expected + " expected, but there " + (found == 1 ? "was 1" : "were " + found)));
        }
        return this;
    }

    private String told(String what) {
        return what + "\nexecuted:\n" + (actual.toString().isEmpty() ? "   nothing" : actual);
    }

    private static String counted(int count) {
        return counted(count, "statement");
    }

    private static String counted(int count, String what) {
        return count + " " + what + (count == 1 ? "" : "s");
    }
}
