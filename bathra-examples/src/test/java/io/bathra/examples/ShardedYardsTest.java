package io.bathra.examples;

import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.examples.shards.Box;
import io.bathra.examples.shards.Courier;
import io.bathra.examples.shards.Dispatch;
import io.bathra.examples.shards.Merged;
import io.bathra.examples.shards.Receipt;
import io.bathra.examples.shards.Shards;
import io.bathra.examples.shards.Yards;
import io.bathra.junit.StoreExtension;
import io.bathra.junit.WithStore.Database;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.UUID;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;

/** Four shards, each of another product. */
class ShardedYardsTest {
    private static final List<String> PORTS = List.of("Nordhaven", "Sandby", "Skerries", "Ness", "Old Quay");
    private static final Instant MORNING = Instant.parse("2026-05-04T04:00:00.000001Z");

    @RegisterExtension
    final StoreExtension directory = StoreExtension.of(Yards.DIRECTORY);

    @RegisterExtension
    final StoreExtension h2 = StoreExtension.of(Yards.SHARD);

    @RegisterExtension
    final StoreExtension sqlite = StoreExtension.of(Yards.SHARD).on(Database.SQLITE);

    @RegisterExtension
    final StoreExtension postgresql = StoreExtension.of(Yards.SHARD).on(Database.POSTGRESQL);

    @RegisterExtension
    final StoreExtension mariadb = StoreExtension.of(Yards.SHARD).on(Database.MARIADB);

    private final List<Box> boxes = new ArrayList<>();
    private Shards shards;

    @BeforeEach
    void boxesInFivePorts() {
        shards = new Shards(directory.store(), shardStores());
        Random random = new Random(31);
        for (int i = 0; i < 200; i++) {
            String port = PORTS.get(random.nextInt(PORTS.size()));
            Box box = new Box("BTHU" + i, port, random.nextInt(50), MORNING.plusNanos(1000L * random.nextInt(100)));
            shards.of(port).run(work -> work.add(box));
            boxes.add(box);
        }
    }

    @AfterEach
    void close() {
        shards.close();
    }

    @Test
    void aPortStaysWhereItIsAndShardsFillUpEvenly() {
        assertThat(PORTS.stream().map(shards::shardOf).sorted()).containsExactly(0, 0, 1, 2, 3);
        try (Shards others = new Shards(directory.store(), shardStores())) {
            PORTS.forEach(port -> assertThat(others.shardOf(port)).isEqualTo(shards.shardOf(port)));
        }
    }

    private List<Store> shardStores() {
        return Stream.of(h2, sqlite, postgresql, mariadb)
                .map(StoreExtension::store)
                .toList();
    }

    @Test
    void oneAnswerComesOfAllShards() {
        Comparator<Box> byKey = Comparator.comparing(box -> box.id().toString());
        assertThat(shards.ask(work -> work.from(Box.class), Merged.byTime(Box::landed), 60))
                .extracting(Box::landed)
                .isEqualTo(boxes.stream().map(Box::landed).sorted().limit(60).toList());
        assertThat(shards.ask(
                        work -> work.from(Box.class).where(the(Box::kilograms).below(40)),
                        Merged.byNumberDescending(Box::kilograms),
                        300))
                .extracting(Box::kilograms)
                .isEqualTo(boxes.stream()
                        .map(Box::kilograms)
                        .filter(kilograms -> kilograms < 40)
                        .sorted(Comparator.reverseOrder())
                        .toList());
        assertThat(shards.ask(work -> work.from(Box.class), Merged.byKey(Box::id), 300))
                .extracting(Box::id)
                .isEqualTo(boxes.stream().sorted(byKey).map(Box::id).toList());
        assertThat(shards.count(work -> work.from(Box.class))).isEqualTo(boxes.size());
        Box some = boxes.get(77);
        assertThat(shards.find(Box.class, some.id()).orElseThrow().number()).isEqualTo(some.number());
        assertThat(shards.find(Box.class, UUID.randomUUID())).isEmpty();
    }

    @Test
    void keysWithAnyFirstBitHaveOneOrderEverywhere() {
        Random random = new Random(8);
        for (int i = 0; i < 100; i++) {
            UUID key = new UUID(random.nextLong(), random.nextLong());
            shardStores().get(i % 4).run(work -> work.add(new Receipt(key, MORNING)));
        }
        List<Receipt> answer = shards.ask(work -> work.from(Receipt.class), Merged.byKey(Receipt::dispatch), 200);
        assertThat(answer)
                .hasSize(100)
                .extracting(receipt -> receipt.dispatch().toString())
                .isSorted();
    }

    @Test
    void aShardThatDoesNotAnswerIsTold() {
        postgresql.faults().on(1).failsWith(() -> new SQLException("out of order"));
        assertThatThrownBy(() -> shards.count(work -> work.from(Box.class)))
                .hasMessageContaining("shard 2 has not answered")
                .hasMessageContaining("out of order");
    }

    /** A courier that dies at its first statement, at its second one, and so on, on each of the shards. */
    @Test
    void whereverACourierDiesEachBoxIsLandedOnce() {
        Courier courier = new Courier(shards);
        int deaths = 0;
        List<StoreExtension> all = List.of(h2, sqlite, postgresql, mariadb);
        for (int shard = 0; shard < all.size(); shard++) {
            StoreExtension dying = all.get(shard);
            boolean dead = true;
            for (int statement = 1; dead; statement++) {
                sendToAndFro(courier, shard);
                dying.faults().on(statement).failsWith(() -> new SQLException("dead"));
                try {
                    courier.deliver();
                } catch (RuntimeException e) {
                    deaths++;
                }
                dead = dying.faults().waiting().isEmpty();
                dying.faults().clear();
                courier.deliver();
                allAreThereOnce();
            }
        }
        assertThat(deaths).isGreaterThan(12);
        courier.forget(Duration.ofDays(30));
        assertThat(shards.count(work -> work.from(Receipt.class))).isPositive();
        courier.forget(Duration.ofSeconds(-5));
        assertThat(shards.count(work -> work.from(Receipt.class))).isZero();
    }

    /** One box from the shard to another one, and one the other way. */
    private void sendToAndFro(Courier courier, int shard) {
        String here = PORTS.stream()
                .filter(port -> shards.shardOf(port) == shard)
                .findFirst()
                .orElseThrow();
        String there = PORTS.stream()
                .filter(port -> shards.shardOf(port) != shard)
                .findFirst()
                .orElseThrow();
        send(courier, here, there);
        send(courier, there, here);
    }

    private void send(Courier courier, String from, String to) {
        Box box = shards.of(from)
                .call(work -> work.from(Box.class)
                        .where(the(Box::port).is(from))
                        .first()
                        .orElseThrow());
        courier.send(from, box.id(), to);
    }

    private void allAreThereOnce() {
        assertThat(shards.count(work -> work.from(Dispatch.class))).isZero();
        List<Box> all = shards.ask(work -> work.from(Box.class), Merged.byTime(Box::landed), 1_000);
        assertThat(all).extracting(Box::number).doesNotHaveDuplicates().hasSize(boxes.size());
        assertThat(all)
                .allMatch(box -> shards.of(box.port())
                        .call(work -> work.find(Box.class, box.id()).isPresent()));
    }

    @Test
    void whatCannotBeLandedWaitsAndIsToldOfAndNothingWaitsForIt() {
        Courier courier = new Courier(shards);
        Store ness = shards.of("Ness");
        ness.run(work -> work.add(new Box("BTHU0999", "Ness", 1, MORNING)));
        Store sandby = shards.of("Sandby");
        Box taken = new Box("BTHU0999", "Sandby", 1, MORNING);
        Box single = new Box("BTHU0998", "Sandby", 1, MORNING);
        sandby.run(work -> {
            work.add(taken);
            work.add(single);
        });
        courier.send("Sandby", taken.id(), "Ness");
        courier.send("Sandby", single.id(), "Ness");
        assertThatThrownBy(courier::deliver)
                .hasMessageContaining("1 of the boxes could not be landed")
                .hasMessageContaining("BTHU0999");
        long landed = ness.call(work ->
                work.from(Box.class).where(the(Box::number).is("BTHU0998")).count());
        assertThat(landed).isEqualTo(1);
        assertThat(shards.count(work -> work.from(Dispatch.class))).isEqualTo(1);
    }
}
