package io.bathra.examples;

import static io.bathra.bulk.On.on;
import static io.bathra.bulk.Overwrite.overwrite;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.bulk.BulkResult;
import io.bathra.bulk.Pair;
import io.bathra.bulk.Rejection;
import io.bathra.examples.harbour.Container;
import io.bathra.examples.harbour.ContainerKind;
import io.bathra.examples.harbour.Containers;
import io.bathra.examples.harbour.Harbour;
import io.bathra.examples.harbour.Operator;
import io.bathra.examples.harbour.Pilot;
import io.bathra.examples.harbour.PortCall;
import io.bathra.examples.harbour.Season;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Rows in any number, without tracking: inserted, upserted, rejected with a reason, paired. */
public final class BulkLoad {
    /** A line of a weighing list; the operator goes by what is unique in it. */
    record Weighed(String serial, ContainerKind kind, int lengthFeet, int grossKilos, String operatorCode) {}

    private BulkLoad() {}

    public static void main(String[] args) {
        try (Store store = Store.open(Harbour.MODEL, "jdbc:h2:mem:bulk")) {
            store.schema().createMissing();
            Season season = Season.shipped();
            store.run(work -> season.calls().forEach(work::add)); // vessels, operators, berths and pilots come along

            List<Operator> operators = List.of(
                    new Operator("BAT", "Batavia Lijn"),
                    new Operator("KVK", "Kvarken Kust"),
                    new Operator("SUN", "Sundline"));
            BulkResult parents = store.bulk(Operator.class).withKeys().insert(operators);
            System.out.println(parents.keys()); // the objects have them too, so containers can lead there

            BulkResult inserted = store.bulk(Container.class).insert(Containers.of(operators, 50_000));
            System.out.println(inserted); // a stream of any length takes memory for one portion

            BulkResult missing = store.bulk(Container.class).insertMissing(Containers.of(operators, 50_100));
            System.out.println(missing.inserted() + " were missing, " + missing.skipped() + " were there");

            BulkResult upserted = store.bulk(Container.class)
                    .records(Weighed.class)
                    .upsert(
                            List.of(
                                    new Weighed("BATU0000007", ContainerKind.DRY, 40, 18_400, "NLR"),
                                    new Weighed("BATU9000001", ContainerKind.REEFER, 20, 11_050, "SKA")),
                            on(Container::serial),
                            overwrite(Container::grossKilos));
            System.out.println(upserted.inserted() + " inserted, " + upserted.updated() + " updated");

            List<Rejection> rejections = new ArrayList<>();
            BulkResult some = store.bulk(Container.class)
                    .records(Weighed.class)
                    .rejectTo(rejections::add)
                    .insert(List.of(
                            new Weighed("BATU9000002", ContainerKind.TANK, 20, 21_000, "NLR"),
                            new Weighed("BATU9000002", ContainerKind.TANK, 20, 21_000, "NLR"),
                            new Weighed("BATU9000003", ContainerKind.TANK, 20, -5, "NLR"),
                            new Weighed("BATU9000004", ContainerKind.TANK, 20, 20_500, "XYZ")));
            System.out.println(some.inserted() + " inserted, " + some.rejected() + " rejected");
            rejections.forEach(System.out::println);

            pair(store);
            findOrAdd(store);
        }
    }

    /** Pairs of a pivot for many owners, both sides told by what is unique in them; neither is read as objects. */
    private static void pair(Store store) {
        var pilots = store.bulk(PortCall.class)
                .pairs(PortCall::pilots)
                .owners(PortCall::number)
                .others(Pilot::badge);
        BulkResult added = pilots.add(List.of(
                Pair.of("2026-0001", "P13"), // is there
                Pair.of("2026-0001", "P01"),
                Pair.of("2026-0002", "P01")));
        System.out.println(added.inserted() + " pairs added, " + added.skipped() + " was there");
        BulkResult replaced = pilots.replace(Map.of("2026-0001", List.of("P01", "P02")));
        System.out.println(
                replaced.inserted() + " added, " + replaced.removed() + " removed, " + replaced.unchanged() + " left");
    }

    /** A few rows by what is unique in them, tracked: those that are missing are added by one more statement. */
    private static void findOrAdd(Store store) {
        store.run(work -> {
            List<Operator> found = work.findOrAddAll(
                    Operator.class,
                    on(Operator::code),
                    List.of(new Operator("NLR", "unknown"), new Operator("ZZZ", "Zuiderzee Lijn")));
            System.out.println(found.get(0).name() + " and " + found.get(1).name() + ", by "
                    + work.trace().statements().size() + " statements");
            Operator renamed = work.changeOrAdd(
                    Operator.class,
                    the(Operator::code).is("ZZZ"),
                    () -> new Operator("ZZZ", "Zuiderzee Lijn"),
                    operator -> operator.moveTo("NL"));
            System.out.println(renamed.name() + " is in " + renamed.country());
        });
    }
}
