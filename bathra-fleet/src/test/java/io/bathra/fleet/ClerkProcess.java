package io.bathra.fleet;

import io.bathra.Isolation;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.History.Wish;
import io.bathra.model.Model;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.stream.IntStream;

/** A program of its own whose clerks enter ships. */
final class ClerkProcess {
    private static final String ACKNOWLEDGED = "ACKNOWLEDGED ";
    private static final String MILLIS = "MILLIS ";

    private ClerkProcess() {}

    /**
     * @param args how it begins (tables: it makes those that are missing; changes: it applies files; pooler: it works
     *     through one; apart: on a berth of its own; tokenless: the same without commit tokens), the URL, how its clerks are called, how many there are, and how many ships each enters
     */
    public static void main(String[] args) throws IOException {
        Model model = args[0].equals("tokenless") ? Docks.WITHOUT_TOKENS : Docks.MODEL;
        Store store = Store.open(model, Fleet.pool(args[1], Integer.parseInt(args[3])));
        switch (args[0]) {
            case "tables" -> store.schema().createMissing();
            case "changes" -> applyChanges(store);
            case "pooler" -> store = store.throughPooler();
            default -> {}
        }
        Terms terms = Fleet.RETRYING;
        if (args[0].equals("apart") || args[0].equals("tokenless")) {
            apart(store, terms, args[2], Integer.parseInt(args[4]));
            return;
        }
        if (!args[0].equals("pooler")) {
            berthsAreThere(store, terms);
        }
        List<Terms> all = args[0].equals("pooler") ? settings(terms) : List.of(terms);
        int acknowledged = 0;
        int each = Integer.parseInt(args[4]) / all.size();
        for (int i = 0; i < all.size(); i++) {
            Clerks clerks = Clerks.run(args[2] + i + " ", Integer.parseInt(args[3]), List.of(store), all.get(i), each);
            acknowledged += clerks.acknowledged();
            clerks.failures().forEach((what, times) -> System.out.println("FAILED " + times + " times: " + what));
        }
        System.out.println(ACKNOWLEDGED + acknowledged);
    }

    /**
     * Enters ships on a berth that nobody else wants; tells how long that takes, without the time that a program
     * needs to begin.
     */
    private static void apart(Store store, Terms terms, String clerk, int ships) {
        int own = Docks.BERTHS + Math.floorMod(clerk.hashCode(), 1_000_000);
        store.run(terms, work -> work.add(new Docks.Berth(own)));
        for (int number = 0; number < ships / 10; number++) {
            enter(store, terms, own, clerk + "first", number);
        }
        long begun = System.nanoTime();
        for (int number = 0; number < ships; number++) {
            enter(store, terms, own, clerk, number);
        }
        System.out.println(MILLIS + (System.nanoTime() - begun) / 1_000_000);
    }

    private static void enter(Store store, Terms terms, int berth, String clerk, int number) {
        store.run(terms, work -> work.add(new Docks.Docking(clerk, number, work.require(Docks.Berth.class, berth))));
    }

    /** Terms that say something to the session. */
    private static List<Terms> settings(Terms terms) {
        return List.of(
                terms,
                terms.isolation(Isolation.SERIALIZABLE),
                terms.lockTimeout(Duration.ofSeconds(20)).statementTimeout(Duration.ofSeconds(30)),
                terms.isolation(Isolation.REPEATABLE_READ));
    }

    private static void berthsAreThere(Store store, Terms terms) {
        IntStream.range(0, Docks.BERTHS)
                .forEach(number -> store.run(
                        terms,
                        work -> work.findOrAdd(
                                Docks.Berth.class,
                                io.bathra.query.Ask.the(Docks.Berth::number).is(number),
                                () -> new Docks.Berth(number))));
    }

    private static void applyChanges(Store store) throws IOException {
        Path folder = Files.createTempDirectory("bathra-fleet");
        SchemaChanges drafts = SchemaChanges.of(folder);
        drafts.write(drafts.draft("docks", Docks.MODEL, Wish.NONE));
        SchemaChanges.of(store, folder).apply();
    }

    /** How long a process has worked, by what it has printed. */
    static int millis(List<String> printed) {
        return told(printed, MILLIS);
    }

    private static int told(List<String> printed, String what) {
        return printed.stream()
                .filter(line -> line.startsWith(what))
                .mapToInt(line -> Integer.parseInt(line.substring(what.length())))
                .sum();
    }

    /** How many units were acknowledged to a process, by what it has printed. */
    static int acknowledged(List<String> printed) {
        return told(printed, ACKNOWLEDGED);
    }
}
