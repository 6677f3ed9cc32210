package io.bathra.fleet;

import static io.bathra.bulk.On.on;
import static io.bathra.bulk.Overwrite.overwrite;
import static io.bathra.query.Ask.the;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.error.SerializationFailure;
import io.bathra.error.StatementException;
import io.bathra.error.StatementTimeout;
import io.bathra.examples.shards.Box;
import io.bathra.examples.shards.Courier;
import io.bathra.examples.shards.Dispatch;
import io.bathra.examples.shards.ForeignPartitions;
import io.bathra.examples.shards.Merged;
import io.bathra.examples.shards.Passage;
import io.bathra.examples.shards.Receipt;
import io.bathra.examples.shards.ShardedYards;
import io.bathra.examples.shards.Shards;
import io.bathra.testing.OtherProcess;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfEnvironmentVariable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The examples with several servers that know nothing of one another. */
@EnabledIfEnvironmentVariable(named = "FLEET", matches = ".+")
class ShardsTest {
    private static final List<String> PORTS = List.of("Nordhaven", "Sandby", "Skerries", "Ness");
    private static final int BOXES = 400;
    private static final int DEATHS = Fleet.LONG ? 100 : 4;

    /** Empty databases on two servers. */
    private static List<String> two(String product, String name) {
        List<String> servers = product.equals("postgres")
                ? List.of(Fleet.tell("pooler", "server"), freshPrimary("postgres"))
                : List.of(Fleet.urls("galera", "test").get(0), freshPrimary("mariadb"));
        List<String> urls = new ArrayList<>();
        for (String server : servers) {
            Fleet.execute(server, "drop database if exists " + name, "create database " + name);
            urls.add(server.replaceFirst("/[^/?]*\\?", "/" + name + "?"));
        }
        return urls;
    }

    private static String freshPrimary(String product) {
        Fleet.tell(product, "again");
        return Fleet.urls(product, product.equals("postgres") ? "postgres" : "test")
                .get(0);
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgres", "mariadb"})
    void eachBoxIsLandedOnceThoughItsCouriersAreKilled(String product) throws Exception {
        List<String> stores = two(product, "yards");
        List<String> urls = CourierProcess.urls(stores.get(0), stores);
        Shards shards = CourierProcess.shards(urls, 8);
        shards.createMissing();
        for (int i = 0; i < BOXES; i++) {
            String port = PORTS.get(i % PORTS.size());
            Box box = new Box("BTHU" + i, port, i, Instant.EPOCH);
            shards.of(port).run(work -> work.add(box));
        }
        AtomicBoolean sending = new AtomicBoolean(true);
        AtomicInteger sent = new AtomicInteger();
        List<Thread> senders = new ArrayList<>();
        for (String from : PORTS) {
            Thread sender = new Thread(() -> send(shards, from, sending, sent), "sends from " + from);
            sender.start();
            senders.add(sender);
        }
        Random random = new Random(31);
        String[] arguments = urls.toArray(String[]::new);
        for (int death = 0; death < DEATHS; death += 2) {
            OtherProcess one = OtherProcess.run(CourierProcess.class, arguments);
            OtherProcess other = OtherProcess.run(CourierProcess.class, arguments);
            one.await(CourierProcess.AT_WORK);
            other.await(CourierProcess.AT_WORK);
            Fleet.sleep(random.nextInt(400));
            one.kill();
            Fleet.sleep(random.nextInt(200));
            other.kill();
        }
        sending.set(false);
        for (Thread sender : senders) {
            sender.join();
        }
        int left = new Courier(shards).deliver();
        Fleet.say(
                "%s, two shards: %,d boxes sent from one to the other by %d couriers, two at once, each ended by kill"
                        + " -9; %d were left at the end; each landed once",
                product, sent.get(), DEATHS, left);
        assertThat(shards.count(work -> work.from(Dispatch.class))).isZero();
        assertThat(shards.count(work -> work.from(Receipt.class))).isEqualTo(sent.get());
        assertThat(shards.ask(work -> work.from(Box.class), Merged.byNumber(Box::kilograms), 2 * BOXES))
                .extracting(Box::kilograms)
                .containsExactlyElementsOf(IntStream.range(0, BOXES).boxed().toList());
    }

    /** One sender a port, so that nobody else sends the same box. */
    private static void send(Shards shards, String from, AtomicBoolean sending, AtomicInteger sent) {
        Random random = new Random(from.hashCode());
        Courier courier = new Courier(shards);
        while (sending.get()) {
            List<Box> here = shards.of(from)
                    .call(work -> work.from(Box.class)
                            .where(the(Box::port).is(from))
                            .limit(1)
                            .list());
            String destination = PORTS.get(random.nextInt(PORTS.size()));
            for (Box box : here) {
                courier.send(from, box.id(), destination);
                sent.addAndGet(shards.of(from) == shards.of(destination) ? 0 : 1);
            }
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgres", "mariadb"})
    void theProgramOfTheExampleRuns(String product) {
        List<String> stores = two(product, "example");
        ShardedYards.main(CourierProcess.urls(stores.get(0), stores).toArray(String[]::new));
    }

    private static void oldRowsAreChangedThroughTheFirstServer(Store front, Store archive, String second) {
        UUID key = archive.call(work -> work.from(Passage.class)
                .where(the(Passage::vessel).is("Nordgull"))
                .one()
                .id());
        front.run(work -> work.require(Passage.class, key).rename("Nordgull II"));
        assertThat(archive.<String, RuntimeException>call(
                        work -> work.require(Passage.class, key).vessel()))
                .isEqualTo("Nordgull II");
        assertThatThrownBy(() -> front.run(work -> {
                    work.from(Passage.class)
                            .where(the(Passage::vessel).is("Lomvi"))
                            .forUpdate()
                            .list(); // since then the other server shows one state
                    archive.run(other -> other.require(Passage.class, key).rename("Nordgull III"));
                    work.from(Passage.class)
                            .where(the(Passage::id).is(key))
                            .update(the(Passage::vessel).to("Nordgull IV"));
                    work.flush();
                }))
                .isInstanceOf(SerializationFailure.class);
        assertThatThrownBy(() -> front.bulk(Passage.class)
                        .upsert(
                                List.of(new Passage(key, Instant.parse("2025-08-01T10:00:00Z"), "Nordgull V")),
                                on(Passage::id),
                                overwrite(Passage::vessel)))
                .hasMessageContaining("ON CONFLICT");
        Terms impatient = Terms.retrying(1).lockTimeout(Duration.ofMillis(200)).statementTimeout(Duration.ofSeconds(1));
        try (UnitOfWork holder = archive.begin()) {
            holder.from(Passage.class).forUpdate().list();
            assertThatThrownBy(() -> front.run(
                            impatient, work -> work.require(Passage.class, key).rename("Nordgull VI")))
                    .as("the time-out for locks is not passed on")
                    .isInstanceOf(StatementTimeout.class);
        }
        front.run(work -> work.remove(work.require(Passage.class, key)));
        assertThat(archive.<Long, RuntimeException>call(
                        work -> work.from(Passage.class).count()))
                .isEqualTo(3);
    }

    @Test
    void oldRowsAreOnAnotherServerWhichCommitsByItself() {
        List<String> urls = two("postgres", "passages");
        ForeignPartitions.main(urls.toArray(String[]::new));
        Store front = Store.open(ForeignPartitions.MODEL, Fleet.pool(urls.get(0), 2));
        Store archive = Store.open(ForeignPartitions.ON_SECOND, Fleet.pool(urls.get(1), 2));
        long last = archive.call(work -> work.from(Passage.class).count());
        assertThat(last).as("Nordgull, Skua twice, Lomvi").isEqualTo(4);
        oldRowsAreChangedThroughTheFirstServer(front, archive, urls.get(1));
        Fleet.tell("postgres", "kill", "1");
        Instant thisYear = Instant.parse("2026-08-02T10:00:00Z");
        Instant lastYear = Instant.parse("2025-08-02T10:00:00Z");
        front.run(work -> work.add(new Passage(UUID.randomUUID(), thisYear, "Ternros")));
        assertThatThrownBy(() -> front.run(
                        Terms.retrying(2), work -> work.add(new Passage(UUID.randomUUID(), lastYear, "Nordgull"))))
                .isInstanceOf(StatementException.class)
                .hasMessageContaining("a server was not reached that PostgreSQL asks for a foreign table")
                .hasMessageContaining("there it may be, since servers commit one after the other");
        assertThatThrownBy(() -> front.call(work -> work.from(Passage.class).count()))
                .hasMessageContaining("a server was not reached");
        long current = front.call(work -> work.from(Passage.class)
                .where(the(Passage::at).atLeast(thisYear))
                .count());
        assertThat(current).isEqualTo(1);
        Fleet.say("postgres, old rows on another server that is gone: the others are read and written");
    }
}
