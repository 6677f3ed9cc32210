package io.bathra.bench;

import static io.bathra.bulk.On.on;
import static io.bathra.model.Declare.length;
import static io.bathra.model.Declare.required;
import static io.bathra.model.Declare.table;
import static io.bathra.model.Declare.unique;

import io.bathra.Store;
import io.bathra.bulk.BulkResult;
import io.bathra.bulk.Pair;
import io.bathra.link.Links;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Bulk work in large numbers, to be run with a small heap: a million containers, the same once more with new and
 * changed ones among them, rows with bad ones among them, and pairs.
 */
public final class ManyRows {
    private static final int ROWS = 1_000_000;
    private static final int WITH_BAD = 200_000;
    private static final int BAD = 50;

    private final Store store;

    private ManyRows(Store store) {
        this.store = store;
    }

    /** Takes the name of a database. */
    public static void main(String[] args) {
        try (Server server = Server.start(args[0].equals("h2") ? "h2 file" : args[0])) {
            System.out.printf(
                    Locale.ROOT,
                    "%s, a heap of %d MB%n",
                    args[0],
                    Runtime.getRuntime().maxMemory() >> 20);
            try (Store store = Store.open(Container.MODEL, server.source)) {
                store.schema().createMissing();
                ManyRows many = new ManyRows(store);
                many.insertAndUpsert();
                many.rejectSome();
            }
            try (Store store = Store.open(Crew.MODEL, server.source)) {
                store.schema().createMissing();
                new ManyRows(store).pair();
            }
        }
        System.exit(0);
    }

    private static BulkResult tell(String what, Supplier<BulkResult> work) {
        BulkResult result = work.get();
        System.out.printf(Locale.ROOT, "%-52s %s%n", what, result);
        return result;
    }

    private void insertAndUpsert() {
        tell("insert of a million containers", () -> store.bulk(Container.class).insert(Container.some(0, ROWS)));
        Stream<Container> again = Container.some(0, ROWS / 10 * 11).peek(container -> {
            if (container.slot % 20 == 7 && Integer.parseInt(container.serial.substring(4)) < 2 * ROWS) {
                container.owner = "sold to " + container.owner;
            }
        });
        tell(
                "upsert of them, a tenth new, a twentieth changed",
                () -> store.bulk(Container.class).upsert(again, on(Container::serial)));
    }

    private void rejectSome() {
        for (int round = 1; round <= 3; round++) {
            store.sql("delete from container").execute();
            BulkResult clean = tell(
                    "200,000 rows, none of them bad",
                    () -> store.bulk(Container.class).rejectTo(rejection -> {}).insert(Container.some(0, WITH_BAD)));
            store.sql("delete from container").execute();
            List<String> reasons = new ArrayList<>();
            Stream<Container> some = Container.some(0, WITH_BAD).peek(container -> {
                int number = Integer.parseInt(container.serial.substring(4)) - 1_000_000;
                if (number % (WITH_BAD / BAD) == WITH_BAD / BAD - 1) {
                    container.serial = number % 8_000 < 4_000 ? "BATU1000001" : "far too long a serial";
                }
            });
            BulkResult bad = tell(
                    "200,000 rows, 50 of them bad",
                    () -> store.bulk(Container.class)
                            .rejectTo(rejection -> reasons.add(rejection.toString()))
                            .insert(some));
            System.out.printf(
                    Locale.ROOT,
                    "%-52s %.2f times as long; the first two: %s%n",
                    "",
                    (double) bad.time().toNanos() / clean.time().toNanos(),
                    reasons.subList(0, 2));
        }
    }

    private void pair() {
        store.bulk(Ship.class).insert(IntStream.range(0, 10_000).mapToObj(i -> new Ship("S" + i)));
        store.bulk(Crew.class).insert(IntStream.range(0, 1_000).mapToObj(i -> new Crew("C" + i)));
        var pairs = store.bulk(Ship.class)
                .rejectTo(rejection -> {})
                .pairs(Ship::crew)
                .owners(Ship::code)
                .others(Crew::code);
        tell("10,000 pairs that are there before", () -> pairs.add(some(10_000)));
        tell("100,000 pairs, 10 with an end that is not", () -> pairs.add(some(100_000)));
    }

    private static Stream<Pair> some(int pairs) {
        return IntStream.range(0, pairs)
                .mapToObj(i -> Pair.of(
                        i % 10_000 == 9_999 && pairs > 10_000 ? "nobody" : "S" + i % 10_000,
                        "C" + (i / 10_000 + i % 10_000) % 1_000));
    }

    static final class Ship {
        @Nullable
        Long id;

        String code = "";
        final Links<Crew> crew = Links.empty();

        Ship() {}

        Ship(String code) {
            this.code = code;
        }

        String code() {
            return code;
        }

        Links<Crew> crew() {
            return crew;
        }
    }

    static final class Crew {
        static final Model MODEL = Model.of(
                "crews",
                Entity.of(Ship.class, Ship::new)
                        .column(Ship::code, required(), length(10), unique())
                        .pivot(Ship::crew, table("crew_of_ship")),
                Entity.of(Crew.class, Crew::new).column(Crew::code, required(), length(10), unique()));

        @Nullable
        Long id;

        String code = "";

        Crew() {}

        Crew(String code) {
            this.code = code;
        }

        String code() {
            return code;
        }
    }
}
