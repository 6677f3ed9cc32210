package io.bathra.ledger;

import io.bathra.error.BathraException;
import io.bathra.flush.Environment;
import io.bathra.ledger.Ledger.Line;
import io.bathra.model.Difference;
import io.bathra.schema.Comparison;
import io.bathra.schema.Layout;
import io.bathra.schema.LiveTable;
import io.bathra.schema.Table;
import io.bathra.sql.SessionSetting;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/** Applies change files to a database, as the only one who does. */
public final class Applier {
    /** A lock is waited for so long; who waits lets nobody pass. */
    private static final long MOMENT_MILLIS = 300;

    private final Environment environment;
    private final Ledger ledger;
    private final Consumer<String> told;

    /**
     * @param told is told what is done, and for whom one waits
     */
    public Applier(Environment environment, Consumer<String> told) {
        this.environment = environment;
        this.ledger = new Ledger(environment);
        this.told = told;
    }

    /** What the ledger says; nothing where there is none. */
    public List<Line> lines() {
        try (Session session = new Session(environment)) {
            return ledger.isThere(session) ? ledger.lines(session) : List.of();
        }
    }

    /** The files that are still to come. */
    public List<String> pending(List<FileSteps> files, Order order) {
        return Pending.of(files, lines(), order.until()).stream()
                .map(FileSteps::name)
                .toList();
    }

    /**
     * Applies what this database has not had.
     *
     * @return the names of the files
     * @throws BathraException when the ledger and the files differ, the tables are not what the files before have made, rows
     *     are in the way of a step, or something would be lost that nobody has agreed to
     */
    public List<String> apply(List<FileSteps> files, Order order) {
        refusePooler();
        try (Session session = new Session(environment)) {
            ledger.createMissing(session);
            List<String> before = new ArrayList<>();
            try {
                set(session, before);
                return claimed(session, files, order);
            } finally {
                session.quietly(before);
            }
        }
    }

    private List<String> claimed(Session session, List<FileSteps> files, Order order) {
        try (Claim claim = Claim.take(environment, session, order.claimed(), told)) {
            List<Line> lines = ledger.lines(session);
            List<FileSteps> pending = Pending.of(files, lines, order.until());
            Line open = Pending.open(lines);
            consent(pending, order);
            if (!pending.isEmpty() && open == null) {
                fits(session, pending.get(0).before(), !lines.isEmpty(), pending.get(0));
            }
            for (FileSteps file : pending) {
                Line line = open != null && open.name().equals(file.name()) ? open : null;
                new FileApplier(environment, ledger, session, claim, order, told).apply(file, line);
            }
            return pending.stream().map(FileSteps::name).toList();
        }
    }

    /**
     * Sets the session to what changes want.
     *
     * @param before gets what makes it what it was
     */
    private void set(Session session, List<String> before) {
        for (SessionSetting one : environment.dialect().alterations().settings(MOMENT_MILLIS)) {
            String was = one.setting() + session.value(one.question());
            session.execute(one.setting() + one.value());
            before.add(was);
        }
    }

    /** Of several, the one who applies is told by his session. */
    private void refusePooler() {
        if (environment.database().isThroughPooler()) {
            throw new BathraException(
                    "change files are applied in one session of the server, which a pooler does not give;"
                            + " open a store with the server's own address for that");
        }
    }

    private static void consent(List<FileSteps> pending, Order order) {
        List<FileSteps> losing = pending.stream()
                .filter(file -> file.isLosing() && !order.losing().contains(file.name()))
                .toList();
        if (!losing.isEmpty()) {
            String steps = losing.get(0).steps().stream()
                    .filter(step -> step.isLosing())
                    .map(step -> step.title())
                    .collect(Collectors.joining(", "));
            throw new BathraException("rows or values would be lost by '"
                    + losing.get(0).name() + "' (" + steps + "), and nobody has agreed to that; agree with --losing "
                    + losing.get(0).name());
        }
    }

    /** The tables are what the files have made that this database has had. */
    private void fits(Session session, Layout layout, boolean hasHad, FileSteps next) {
        List<Difference> differences = differences(session, layout);
        if (!differences.isEmpty()) {
            throw new BathraException("the tables are not what the files before '" + next.name() + "' have made: "
                    + differences.stream().limit(10).map(String::valueOf).collect(Collectors.joining("; "))
                    + "; mend them, or the files");
        }
        if (!hasHad) {
            List<Table> first = next.after().tables();
            Map<String, LiveTable> there = session.live().of(first);
            if (there != null && !there.isEmpty()) {
                throw new BathraException("this database has tables that no file has made here: "
                        + String.join(", ", there.keySet()) + "; if they are what the files make, adopt them");
            }
        }
    }

    /** What a layout asks for, and the database does not have. */
    List<Difference> differences(Session session, Layout layout) {
        List<Table> tables = layout.tables();
        Map<String, LiveTable> listed = session.live().of(tables);
        Map<String, LiveTable> live = listed == null ? Map.of() : listed;
        return Comparison.of(
                        tables,
                        live,
                        session.live().twins(tables, live),
                        environment.dialect().definitions())
                .stream()
                .filter(Difference::missing)
                .toList();
    }

    /**
     * Takes files for applied on a database that was made otherwise.
     *
     * @return their names
     * @throws BathraException when its tables are not what the files make
     */
    public List<String> adopt(List<FileSteps> files, Order order) {
        refusePooler();
        try (Session session = new Session(environment)) {
            ledger.createMissing(session);
            try (Claim claim = Claim.take(environment, session, order.claimed(), told)) {
                List<Line> lines = ledger.lines(session);
                List<FileSteps> pending = Pending.of(files, lines, order.until());
                if (pending.isEmpty()) {
                    return List.of();
                }
                List<Difference> differences =
                        differences(session, pending.get(pending.size() - 1).after());
                if (!differences.isEmpty()) {
                    throw new BathraException("the tables are not what the files make: "
                            + differences.stream()
                                    .limit(10)
                                    .map(String::valueOf)
                                    .collect(Collectors.joining("; "))
                            + "; mend them, or adopt fewer files with --until");
                }
                List<String> adopted = new ArrayList<>();
                for (FileSteps file : pending) {
                    claim.check();
                    ledger.begin(session, file);
                    ledger.end(session, file.name());
                    adopted.add(file.name());
                }
                return adopted;
            }
        }
    }
}
