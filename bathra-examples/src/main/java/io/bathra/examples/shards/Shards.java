package io.bathra.examples.shards;

import static io.bathra.Terms.reading;
import static io.bathra.Terms.retrying;
import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.Terms;
import io.bathra.UnitOfWork;
import io.bathra.query.Query;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Function;
import java.util.stream.IntStream;

/**
 * A store for each shard, and a directory that says which port is where. A unit of work is on one shard; a question
 * may go to all of them.
 */
public final class Shards implements AutoCloseable {
    static final Terms RIDING = retrying(100).upTo(Duration.ofSeconds(30));

    private final Store directory;
    private final List<Store> shards;
    private final Map<String, Integer> placed = new ConcurrentHashMap<>();
    private final ExecutorService askers;

    /** The shards keep their places in the list; new ones come at its end. */
    public Shards(Store directory, List<Store> shards) {
        this.directory = directory;
        this.shards = List.copyOf(shards);
        this.askers = Executors.newCachedThreadPool(work -> {
            Thread thread = new Thread(work, "asks a shard");
            thread.setDaemon(true);
            return thread;
        });
    }

    /** Makes the tables that are missing, everywhere. */
    public void createMissing() {
        directory.schema().createMissing();
        shards.forEach(shard -> shard.schema().createMissing());
    }

    List<Store> all() {
        return shards;
    }

    /** The store with what a port has. A port that is new comes to the shard with the fewest ports, and stays there. */
    public Store of(String port) {
        return shards.get(shardOf(port));
    }

    /** The number of that shard. */
    public int shardOf(String port) {
        return placed.computeIfAbsent(port, this::place);
    }

    private int place(String port) {
        return directory.call(
                RIDING,
                work -> work.findOrAdd(
                                Placement.class,
                                the(Placement::port).is(port),
                                () -> new Placement(port, emptiest(work)))
                        .shard());
    }

    private int emptiest(UnitOfWork work) {
        int[] ports = new int[shards.size()];
        work.from(Placement.class).list().forEach(placement -> ports[placement.shard()]++);
        return IntStream.range(0, ports.length)
                .reduce((fewest, shard) -> ports[shard] < ports[fewest] ? shard : fewest)
                .orElseThrow();
    }

    /** Asks all shards at once, and gives the first of what they answer, in one order. */
    public <E> List<E> ask(Function<UnitOfWork, Query<E>> question, Merged<E> order, int limit) {
        return order.merge(
                onAll(work -> question.apply(work)
                        .orderBy(order.onShard())
                        .limit(limit)
                        .list()),
                limit);
    }

    /** How many there are on all shards together. */
    public <E> long count(Function<UnitOfWork, Query<E>> question) {
        return onAll(work -> question.apply(work).count()).stream()
                .mapToLong(Long::longValue)
                .sum();
    }

    /** What has this key, on whatever shard; of keys that are drawn everywhere no two are the same. */
    public <E> Optional<E> find(Class<E> type, UUID key) {
        return onAll(work -> work.find(type, key)).stream()
                .flatMap(Optional::stream)
                .findFirst();
    }

    /** An answer that lacks a shard would be a wrong answer, so all of them have to give theirs. */
    private <T> List<T> onAll(Store.Work<T, RuntimeException> question) {
        List<Future<T>> asked = new ArrayList<>();
        for (Store shard : shards) {
            asked.add(askers.submit(() -> shard.call(reading(), question)));
        }
        List<T> answers = new ArrayList<>();
        IllegalStateException failure = null;
        for (int shard = 0; shard < shards.size(); shard++) {
            try {
                answers.add(asked.get(shard).get()); // all are waited for, so that nobody is at work any longer
            } catch (ExecutionException e) {
                failure = new IllegalStateException(
                        "shard " + shard + " has not answered: " + e.getCause().getMessage(), e.getCause());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new IllegalStateException("nobody waits for the shards any longer", e);
            }
        }
        if (failure != null) {
            throw failure;
        }
        return answers;
    }

    /** Ends the threads that ask. The stores are whoever's they were. */
    @Override
    public void close() {
        askers.shutdownNow();
    }
}
