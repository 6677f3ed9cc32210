package io.bathra.examples.shards;

import static io.bathra.query.Ask.the;

import io.bathra.Store;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.UUID;

/** The yards of six ports on three shards. */
public final class ShardedYards {
    private static final List<String> PORTS =
            List.of("Nordhaven", "Sandby", "Skerries", "Old Quay", "Lower Reach", "Ness");
    private static final List<String> IN_MEMORY = List.of(
            "jdbc:h2:mem:directory;DB_CLOSE_DELAY=-1",
            "jdbc:h2:mem:shard0;DB_CLOSE_DELAY=-1",
            "jdbc:h2:mem:shard1;DB_CLOSE_DELAY=-1",
            "jdbc:h2:mem:shard2;DB_CLOSE_DELAY=-1");

    private ShardedYards() {}

    /**
     * @param args the URLs of the directory and of each shard, with empty databases of any product; none for databases
     *     in memory
     */
    public static void main(String[] args) {
        List<String> urls = args.length == 0 ? IN_MEMORY : List.of(args);
        if (urls.size() < 2) {
            throw new IllegalArgumentException("give the URL of the directory, and those of one or more shards");
        }
        Store directory = Store.open(Yards.DIRECTORY, urls.get(0));
        List<Store> stores = new ArrayList<>();
        urls.subList(1, urls.size()).forEach(url -> stores.add(Store.open(Yards.SHARD, url)));
        try (Shards shards = new Shards(directory, stores)) {
            shards.createMissing();
            landBoxes(shards);
            System.out.println("the heaviest:");
            shards.ask(work -> work.from(Box.class), Merged.byNumberDescending(Box::kilograms), 3)
                    .forEach(System.out::println);
            sendSome(shards);
        } finally {
            stores.forEach(Store::close);
            directory.close();
        }
    }

    private static void landBoxes(Shards shards) {
        Random random = new Random(7);
        Instant morning = Instant.parse("2026-05-04T04:00:00Z");
        for (int i = 0; i < 60; i++) {
            String port = PORTS.get(random.nextInt(PORTS.size()));
            Box box = new Box(
                    String.format("BTHU%07d", i), port, 2_000 + random.nextInt(28_000), morning.plusSeconds(60L * i));
            shards.of(port).run(work -> work.add(box));
        }
        for (String port : PORTS) {
            System.out.println(port + " is on shard " + shards.shardOf(port) + ", "
                    + shards.of(port).databaseName());
        }
    }

    private static void sendSome(Shards shards) {
        List<Box> earliest = shards.ask(
                work -> work.from(Box.class).where(the(Box::kilograms).above(15_000)), Merged.byTime(Box::landed), 10);
        Courier courier = new Courier(shards);
        for (Box box : earliest) {
            courier.send(box.port(), box.id(), "Ness");
        }
        System.out.println(shards.count(work -> work.from(Box.class)) + " boxes are in the yards, "
                + shards.count(work -> work.from(Dispatch.class)) + " on their way");
        System.out.println(courier.deliver() + " have been landed in Ness, "
                + shards.count(work -> work.from(Box.class)) + " are in the yards");
        System.out.println(courier.deliver() + " were left for a second courier");
        UUID key = shards.ask(work -> work.from(Box.class), Merged.byTimeDescending(Box::landed), 1)
                .get(0)
                .id();
        System.out.println(
                "found without its port: " + shards.find(Box.class, key).orElseThrow());
    }
}
