package io.bathra.ledger;

import io.bathra.error.BathraException;
import io.bathra.error.StatementException;
import io.bathra.flush.Environment;
import io.bathra.schema.Column;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.sql.Definitions;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.locks.LockSupport;
import org.jspecify.annotations.Nullable;

/** The table of what a database has had, a line for each file, and beside it that of who is at work. */
public final class Ledger {
    static final String LINES = Schema.LEDGER;

    private static final int LOOKS = 50;
    private static final long PAUSE_NANOS = 100_000_000;

    private final Environment environment;

    Ledger(Environment environment) {
        this.environment = environment;
    }

    /**
     * A file that this database has had, or is having.
     *
     * @param done how many of its statements are done
     * @param intended the number of the statement that was about to be executed; 0 for none
     * @param endedAt when it was done; null while it is not
     * @param breaking what breaks programs of releases before it, as whoever wrote the file has it; null for nothing
     */
    public record Line(
            String name,
            String fingerprint,
            long done,
            long intended,
            Instant begunAt,
            @Nullable Instant endedAt,
            String host,
            String process,
            @Nullable String breaking) {
        /** Who has applied it, for people to read. */
        public String by() {
            return Worker.words(host, process);
        }

        /** Whether all of it is done. */
        public boolean isDone() {
            return endedAt != null;
        }

        /** Whether nothing of it was done, so that it may still be changed. */
        public boolean isUntouched() {
            return !isDone() && done == 0 && intended == 0;
        }
    }

    /** Whether a database has had change files, so that its tables are made by them alone. */
    public static boolean isIn(Environment environment) {
        try (Session session = new Session(environment)) {
            return new Ledger(environment).isThere(session);
        }
    }

    private List<Table> tables() {
        return List.of(Schema.ledgerTable(), Schema.claimTable());
    }

    boolean isThere(Session session) {
        return isThere(session, LINES);
    }

    /** The table itself is asked: the catalogue might wait for whoever changes another table. */
    private boolean isThere(Session session, String table) {
        try {
            session.rows("select 1 from " + table(table) + " where 1 = 0");
            return true;
        } catch (StatementException e) {
            if (e.getCause() instanceof SQLException cause
                    && environment.database().isTableMissing(cause)) {
                return false;
            }
            throw e;
        }
    }

    /** Makes both tables where they are not there; several may do so at once. */
    void createMissing(Session session) {
        List<Table> missing = tables().stream()
                .filter(table -> !isThere(session, table.name()))
                .toList();
        Definitions definitions = environment.dialect().definitions();
        List<String> statements = new ArrayList<>(definitions.create(missing));
        String schema = environment.dialect().schema();
        if (schema != null && !missing.isEmpty() && session.live().of(missing) == null) {
            statements.add(0, definitions.createSchema(schema));
        }
        for (String sql : statements) {
            try {
                session.execute(sql);
            } catch (BathraException e) {
                if (!appear(session)) {
                    throw e;
                }
                return; // somebody else has made them
            }
        }
    }

    /** Whoever is making the tables at this moment may fail others, in whatever words the database has for it. */
    private boolean appear(Session session) {
        for (int i = 0; i < LOOKS; i++) {
            if (isThere(session, LINES) && isThere(session, Schema.CLAIM)) {
                return true;
            }
            LockSupport.parkNanos(PAUSE_NANOS);
        }
        return false;
    }

    /** All lines, in the order in which they were begun. */
    List<Line> lines(Session session) {
        List<Column> columns = Schema.ledgerTable().columns();
        List<String> names = columns.stream().map(Column::name).toList();
        List<Line> lines = new ArrayList<>();
        String sql = "select " + String.join(", ", names) + " from " + table(LINES) + " order by place";
        for (List<@Nullable Object> row :
                session.rows(sql, columns.stream().map(Column::type).toList())) {
            lines.add(new Line(
                    (String) there(row, names, "name"),
                    (String) there(row, names, "fingerprint"),
                    (Long) there(row, names, "done"),
                    (Long) there(row, names, "intended"),
                    (Instant) there(row, names, "begun_at"),
                    (Instant) row.get(names.indexOf("ended_at")),
                    (String) there(row, names, "host"),
                    (String) there(row, names, "process"),
                    (String) row.get(names.indexOf("breaking"))));
        }
        return lines;
    }

    private static Object there(List<@Nullable Object> row, List<String> names, String name) {
        return Objects.requireNonNull(row.get(names.indexOf(name)), name);
    }

    /** A file begins. */
    void begin(Session session, FileSteps file) {
        Instant now = now();
        session.update(
                "delete from " + table(LINES) + " where name = ? and done = 0 and ended_at is null", file.name());
        session.update(
                "insert into " + table(LINES) + " (name, fingerprint, place, done, intended, begun_at, host, process,"
                        + " breaking) select ?, ?, coalesce(max(place), 0) + 1, 0, 0, ?, ?, ?, ? from " + table(LINES),
                file.name(),
                file.fingerprint(),
                now,
                Worker.HOST,
                Worker.PROCESS,
                file.breaking());
    }

    /** So many of its statements are done, and one may be about to be executed. */
    void note(Session session, String name, long done, long intended) {
        session.update("update " + table(LINES) + " set done = ?, intended = ? where name = ?", done, intended, name);
    }

    /** All of it is done. */
    void end(Session session, String name) {
        session.update("update " + table(LINES) + " set intended = 0, ended_at = ? where name = ?", now(), name);
    }

    private Instant now() {
        Clock clock = environment.clock();
        return clock.instant();
    }

    String table(String name) {
        return environment.dialect().qualified(name);
    }
}
