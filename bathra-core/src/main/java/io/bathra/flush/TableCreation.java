package io.bathra.flush;

import io.bathra.error.ContentionException;
import io.bathra.error.StatementException;
import io.bathra.error.UniqueViolation;
import io.bathra.jdbc.LiveTables;
import io.bathra.jdbc.Transaction;
import io.bathra.model.Difference;
import io.bathra.schema.Comparison;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Schema;
import io.bathra.schema.Table;
import io.bathra.sql.Dialect;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.locks.LockSupport;

/** Creates the tables of a model that a database lacks, though others may do the same at that moment. */
public final class TableCreation {
    /** For so long others are waited for. */
    private static final long LONGEST = 30_000_000_000L;

    /** Whoever has created a table may be about to give it its indexes; when so many looks see no difference, he is not. */
    private static final int ENOUGH_LOOKS = 3;

    private static final long LONGEST_PAUSE = 100_000_000;

    private final Environment environment;
    private final Dialect dialect;
    private final long begun = System.nanoTime();
    private final List<String> executed = new ArrayList<>();

    /** Whether each statement that creates something stands by itself, so that a failure takes nothing back. */
    private final boolean eachForItself;

    /** Whether somebody else has been met on the way since the latest look. */
    private boolean met;

    public TableCreation(Environment environment) {
        this.environment = environment;
        this.dialect = environment.dialect();
        this.eachForItself = dialect.commitsByItself(List.of("create"));
    }

    /**
     * What has been done.
     *
     * @param statements the statements that were executed here
     * @param lacking what tables that were there already lack
     */
    public record Created(List<String> statements, List<Difference> lacking) {}

    /** Looks, and creates what is missing; where somebody else was faster, again, until nothing is missing. */
    public Created create() {
        List<Difference> before = List.of();
        int same = 0;
        while (true) {
            met = false;
            try {
                List<Difference> lacking = once();
                same = lacking.equals(before) ? same + 1 : 0;
                before = lacking;
                boolean settled = lacking.isEmpty() || !eachForItself || same == ENOUGH_LOOKS;
                if (!met && settled) {
                    return new Created(executed, lacking);
                }
            } catch (StatementException e) {
                if (!isOfOthers(e) || isPast(LONGEST)) {
                    throw e;
                }
            }
            pause();
        }
    }

    private List<Difference> once() {
        try (Transaction transaction = environment.transaction()) {
            List<Table> tables = Schema.of(environment.model()).tables();
            Map<String, LiveTable> listed = new LiveTables(transaction).of(tables);
            Map<String, LiveTable> live = listed == null ? Map.of() : listed;
            List<Table> missing = tables.stream()
                    .filter(table -> !live.containsKey(table.name()))
                    .toList();
            List<Table> there = tables.stream()
                    .filter(table -> live.containsKey(table.name()))
                    .toList();
            List<Difference> lacking = Comparison.of(there, live, Map.of(), dialect.definitions()).stream()
                    .filter(Difference::missing)
                    .toList();
            List<String> statements = new ArrayList<>(dialect.definitions().create(missing));
            if (listed == null && dialect.schema() != null) {
                statements.add(0, dialect.definitions().createSchema(dialect.schema()));
            }
            for (String sql : statements) {
                if (eachForItself) {
                    executeForItself(transaction, sql);
                } else {
                    transaction.execute("create schema", sql);
                }
            }
            transaction.commit();
            if (!eachForItself) {
                executed.addAll(statements);
            }
            return lacking;
        }
    }

    /** What somebody else has just made is left alone; but what belongs to it may be left to this caller. */
    private void executeForItself(Transaction transaction, String sql) {
        while (true) {
            try {
                transaction.execute("create schema", sql);
                executed.add(sql);
                return;
            } catch (StatementException e) {
                if (!isOfOthers(e) || isPast(LONGEST)) {
                    throw e;
                }
                met = true;
                if (!(e instanceof ContentionException)) {
                    return;
                }
            }
            pause();
        }
    }

    private boolean isOfOthers(StatementException e) {
        return e instanceof ContentionException
                || e instanceof UniqueViolation // of the catalogue's own tables
                || (e.getCause() instanceof SQLException cause
                        && environment.database().isThereAlready(cause));
    }

    private boolean isPast(long nanos) {
        return System.nanoTime() - begun > nanos;
    }

    private static void pause() {
        LockSupport.parkNanos(ThreadLocalRandom.current().nextLong(LONGEST_PAUSE));
    }
}
