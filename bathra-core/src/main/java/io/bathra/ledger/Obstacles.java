package io.bathra.ledger;

import io.bathra.error.BathraException;
import io.bathra.flush.Environment;
import io.bathra.history.SchemaStep;
import io.bathra.sql.Offence;
import io.bathra.sql.StepSql;
import java.util.ArrayList;
import java.util.List;
import java.util.StringJoiner;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Rows that are in the way of a step, told by their keys or values; secret ones stay so. */
final class Obstacles {
    private static final int SHOWN = 10;

    private final Environment environment;
    private final Session session;

    Obstacles(Environment environment, Session session) {
        this.environment = environment;
        this.session = session;
    }

    /**
     * Looks before anything of a step is done.
     *
     * @throws BathraException when there are some
     */
    void look(FileSteps file, int step) {
        SchemaStep next = file.steps().get(step);
        List<String> found = new ArrayList<>();
        for (Offence one : environment
                .dialect()
                .alterations()
                .offences(next, file.layouts().get(step))) {
            long count = Long.parseLong(String.valueOf(session.value(one.count())));
            if (count > 0) {
                found.add(one.what() + ": " + count + " (" + shown(one) + (count > SHOWN ? ", …)" : ")"));
            }
        }
        if (!found.isEmpty()) {
            throw new BathraException(
                    "rows are in the way of '" + next.title() + "' in " + file.name() + ", and nothing of it"
                            + " was done:\n  " + String.join("\n  ", found) + "\nmend them, and apply again");
        }
    }

    /**
     * Asks for rows of which there must be none: what is wrong with them, and then what tells them.
     *
     * @throws BathraException when there are some
     */
    void none(FileSteps file, int step, String question) {
        List<List<@Nullable String>> rows = session.rows(question);
        if (!rows.isEmpty()) {
            String first = rows.stream()
                    .limit(SHOWN)
                    .map(row -> told(row.subList(1, row.size())))
                    .collect(Collectors.joining(", "));
            throw new BathraException("rows are in the way of '"
                    + file.steps().get(step).title() + "' in " + file.name() + ":\n  "
                    + rows.get(0).get(0) + ": " + rows.size() + (rows.size() == StepSql.MOST_ROWS ? " or more" : "")
                    + " (" + first
                    + (rows.size() > SHOWN ? ", …)" : ")") + "\nmend them, and apply again");
        }
    }

    private String shown(Offence offence) {
        boolean secret = environment.model().tables().stream()
                .filter(entity -> entity.table().equals(offence.table()))
                .flatMap(entity -> entity.columns().stream())
                .anyMatch(
                        column -> column.gate().isSecret() && offence.columns().contains(column.name()));
        String names = String.join(", ", offence.columns()) + " ";
        if (secret) {
            return names + "(secret)";
        }
        StringJoiner rows = new StringJoiner(", ");
        for (List<@Nullable String> row : session.rows(offence.rows())) {
            rows.add(told(row, offence.columns().size()));
        }
        return names + rows;
    }

    /** What comes behind the columns is how often it is there. */
    private static String told(List<@Nullable String> row, int columns) {
        String values = told(row.subList(0, columns));
        return row.size() == columns ? values : "'" + values + "' " + row.get(columns) + " times";
    }

    private static String told(List<@Nullable String> row) {
        return row.size() == 1
                ? String.valueOf(row.get(0))
                : row.stream().map(String::valueOf).collect(Collectors.joining(", ", "(", ")"));
    }
}
