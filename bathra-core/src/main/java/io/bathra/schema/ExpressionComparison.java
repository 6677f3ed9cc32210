package io.bathra.schema;

import io.bathra.mapping.DatabaseMade.Computed;
import io.bathra.mapping.DatabaseMade.Default;
import io.bathra.schema.Comparison.Spelling;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Compares what a database does by itself in a table: it draws values, fills them in, computes them, and checks rows. */
final class ExpressionComparison {
    private final Table table;
    private final LiveTable live;
    private final ListedNames names;
    private final Spelling spelling;
    private final Findings findings;

    /** What there is on both sides, so that its words have to be compared. */
    private final List<Column> defaults = new ArrayList<>();

    private final List<Column> computed = new ArrayList<>();

    ExpressionComparison(Table table, LiveTable live, Spelling spelling, Findings findings) {
        this.table = table;
        this.live = live;
        this.names = new ListedNames(spelling);
        this.spelling = spelling;
        this.findings = findings;
    }

    /** Whether there are expressions on both sides, so that a copy is needed to compare their words. */
    static boolean needsCopy(Table table, LiveTable live, Spelling spelling) {
        ExpressionComparison comparison = new ExpressionComparison(table, live, spelling, new Findings());
        comparison.presence();
        return comparison.hasBoth();
    }

    /** Tells the differences. */
    void compare(@Nullable Twin twin) {
        presence();
        if (twin == null || !hasBoth()) {
            return;
        }
        LiveTable copy = twin.copy();
        if (copy == null) {
            findings.notCompared(table.name(), both() + ", since no copy of the table could be made: " + twin.why());
            return;
        }
        words(twin.live(), copy);
    }

    private boolean hasBoth() {
        return !defaults.isEmpty() || !computed.isEmpty() || hasBothChecks();
    }

    private boolean hasBothChecks() {
        return !table.checks().isEmpty() && !live.checks().isEmpty();
    }

    /** What cannot be compared without a copy. */
    private String both() {
        List<String> parts = new ArrayList<>();
        if (!defaults.isEmpty()) {
            parts.add("the defaults of " + defaults.stream().map(Column::name).toList());
        }
        if (!computed.isEmpty()) {
            parts.add("what computes " + computed.stream().map(Column::name).toList());
        }
        if (hasBothChecks()) {
            parts.add("the checks " + table.checks().stream().map(Check::name).toList());
        }
        return String.join(", ", parts);
    }

    // ---- whether there is an expression

    private void presence() {
        for (Column column : table.columns()) {
            find(column, live).ifPresent(one -> presence(column, one));
        }
        if (live.checks().isEmpty()) {
            table.checks().forEach(check -> findings.lacking(table.name(), "there is no check " + check.name()));
        } else if (table.checks().isEmpty()) {
            live.checks().forEach(this::unknown);
        }
    }

    private void presence(Column column, LiveColumn listed) {
        String place = Comparison.place(table, column.name());
        if (column.generated() && !listed.drawn()) {
            findings.lacking(place, "the database draws no values for it, but should");
        }
        presence(
                place,
                "default",
                column.made() instanceof Default made ? made.sql() : null,
                column.generated() ? null : listed.byDefault(),
                () -> defaults.add(column));
        boolean isComputed = column.made() instanceof Computed;
        if (!isComputed && listed.computed() != null) {
            findings.lacking(place, "it is computed from (" + listed.computed() + "), but should take values");
        }
        presence(
                place,
                "computed value",
                column.made() instanceof Computed made ? made.sql() : null,
                isComputed ? listed.computed() : null,
                () -> computed.add(column));
    }

    private void presence(String place, String what, @Nullable String asked, @Nullable String there, Runnable both) {
        if (asked != null && there != null) {
            both.run();
        } else if (asked != null) {
            findings.lacking(place, "it has no " + what + ", but should have (" + asked + ")");
        } else if (there != null) {
            findings.beyond(place, "it has the " + what + " (" + there + "), of which the model knows nothing");
        }
    }

    private void unknown(LiveCheck check) {
        findings.beyond(table.name(), "the model knows no check " + check.name() + ": " + check.condition());
    }

    // ---- what the expressions say

    private void words(LiveTable there, LiveTable copy) {
        boolean typesAgree = table.columns().stream()
                .allMatch(column -> find(column, live)
                        .filter(listed ->
                                spelling.typeMismatch(table, column, listed).isEmpty())
                        .isPresent());
        for (Column column : defaults) {
            String is = find(column, there).map(LiveColumn::byDefault).orElse(null);
            String wanted = find(column, copy).map(LiveColumn::byDefault).orElse(null);
            differs(Comparison.place(table, column.name()), "its default", is, wanted, typesAgree);
        }
        for (Column column : computed) {
            String is = find(column, there).map(LiveColumn::computed).orElse(null);
            String wanted = find(column, copy).map(LiveColumn::computed).orElse(null);
            differs(Comparison.place(table, column.name()), "its computed value", is, wanted, typesAgree);
        }
        if (hasBothChecks()) {
            checks(new ArrayList<>(there.checks()), new ArrayList<>(copy.checks()), typesAgree);
        }
    }

    /** Checks are told by what they say, and those that say something else by their names. */
    private void checks(List<LiveCheck> there, List<LiveCheck> wanted, boolean typesAgree) {
        wanted.removeIf(check -> {
            Optional<LiveCheck> same = there.stream()
                    .filter(one -> one.condition().equals(check.condition()))
                    .findFirst();
            same.ifPresent(there::remove);
            return same.isPresent();
        });
        for (LiveCheck check : wanted) {
            Optional<LiveCheck> named = there.stream()
                    .filter(one -> one.name().equalsIgnoreCase(check.name()))
                    .findFirst();
            if (named.isPresent()) {
                there.remove(named.get());
                String which = "the check " + check.name();
                differs(table.name(), which, named.get().condition(), check.condition(), typesAgree);
            } else {
                findings.lacking(table.name(), "there is no check " + check.name() + ": " + check.condition());
            }
        }
        there.forEach(this::unknown);
    }

    /** The words of an expression follow the types of the columns in it. */
    private void differs(String place, String what, @Nullable String is, @Nullable String wanted, boolean typesAgree) {
        if (Objects.equals(is, wanted)) {
            return;
        }
        if (typesAgree) {
            findings.lacking(place, what + " is (" + is + "), but should be (" + wanted + ")");
        } else {
            findings.notCompared(place, what + ", before all columns of the table have their types");
        }
    }

    private Optional<LiveColumn> find(Column column, LiveTable in) {
        return names.find(column.name(), in.columns(), LiveColumn::name);
    }
}
