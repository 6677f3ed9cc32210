package io.bathra.fleet;

import io.bathra.Isolation;
import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.History.Wish;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.stream.IntStream;

/** A program of its own whose clerks enter ships. */
final class ClerkProcess {
    private static final String ACKNOWLEDGED = "ACKNOWLEDGED ";

    private ClerkProcess() {}

    /**
     * @param args how it begins (tables: it makes those that are missing; changes: it applies files; pooler: it works
     *     through one; plain), the URL, how its clerks are called, how many there are, and how many ships each enters
     */
    public static void main(String[] args) throws IOException {
        Store store = Store.open(Docks.MODEL, Fleet.pool(args[1], Integer.parseInt(args[3])));
        switch (args[0]) {
            case "tables" -> store.schema().createMissing();
            case "changes" -> applyChanges(store);
            case "pooler" -> store = store.throughPooler();
            default -> {}
        }
        Terms terms = Terms.retrying(10_000).upTo(Duration.ofSeconds(60));
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

    /** How many units were acknowledged to a process, by what it has printed. */
    static int acknowledged(List<String> printed) {
        return printed.stream()
                .filter(line -> line.startsWith(ACKNOWLEDGED))
                .mapToInt(line -> Integer.parseInt(line.substring(ACKNOWLEDGED.length())))
                .sum();
    }
}
