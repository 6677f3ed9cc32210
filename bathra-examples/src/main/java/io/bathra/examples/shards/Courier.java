package io.bathra.examples.shards;

import static io.bathra.query.Ask.the;

import io.bathra.Store;
import io.bathra.error.UniqueViolation;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;

/**
 * Brings boxes from one shard to another, each once. A unit on the first shard takes the box away and adds a dispatch,
 * both or neither. A unit on the other one lands the box and adds a receipt with the key of the dispatch, both or
 * neither, and does nothing where the receipt is there. Then the dispatch goes. Whoever dies in between leaves the
 * dispatch, and somebody brings it again, which does no harm.
 */
public final class Courier {
    private static final int AT_ONCE = 50;
    private static final UUID BEFORE_ALL = new UUID(0, 0);

    private final Shards shards;

    public Courier(Shards shards) {
        this.shards = shards;
    }

    /** Sends a box to another port: at once where both are on one shard, else it waits for a courier. */
    public void send(String from, UUID key, String destination) {
        Store source = shards.of(from);
        Store target = shards.of(destination);
        source.run(Shards.RIDING, work -> {
            Box box = work.require(Box.class, key);
            if (source == target) {
                box.moveTo(destination);
            } else {
                work.remove(box);
                work.add(new Dispatch(box, destination));
            }
        });
    }

    /**
     * Brings what waits on all shards, and gives how many boxes that were. Several couriers at once do no harm. A box
     * that cannot be landed waits further; the others do not wait for it.
     *
     * @throws IllegalStateException at the end, when there were such boxes; the reasons are suppressed in it
     */
    public int deliver() {
        int landed = 0;
        List<RuntimeException> failures = new ArrayList<>();
        for (Store source : shards.all()) {
            landed += deliverFrom(source, failures);
        }
        if (!failures.isEmpty()) {
            IllegalStateException told =
                    new IllegalStateException(failures.size() + " of the boxes could not be landed, the first since "
                            + failures.get(0).getMessage());
            failures.forEach(told::addSuppressed);
            throw told;
        }
        return landed;
    }

    private int deliverFrom(Store source, List<RuntimeException> failures) {
        int landed = 0;
        List<Dispatch> waiting = behind(BEFORE_ALL, source);
        while (!waiting.isEmpty()) {
            List<UUID> done = new ArrayList<>();
            for (Dispatch dispatch : waiting) {
                try {
                    land(dispatch);
                    done.add(dispatch.id());
                } catch (RuntimeException e) {
                    failures.add(e);
                }
            }
            source.run(
                    Shards.RIDING,
                    work -> work.from(Dispatch.class)
                            .where(the(Dispatch::id).in(done))
                            .delete());
            landed += done.size();
            waiting = behind(waiting.get(waiting.size() - 1).id(), source);
        }
        return landed;
    }

    private static List<Dispatch> behind(UUID last, Store source) {
        return source.call(
                Shards.RIDING,
                work -> work.from(Dispatch.class)
                        .where(the(Dispatch::id).above(last))
                        .orderBy(the(Dispatch::id).ascending())
                        .limit(AT_ONCE)
                        .list());
    }

    private void land(Dispatch dispatch) {
        Store target = shards.of(dispatch.destination());
        try {
            target.run(Shards.RIDING, work -> {
                if (work.find(Receipt.class, dispatch.id()).isEmpty()) {
                    work.add(new Receipt(dispatch.id(), Instant.now()));
                    work.add(new Box(dispatch));
                }
            });
        } catch (UniqueViolation e) {
            if (target.call(Shards.RIDING, work -> work.find(Receipt.class, dispatch.id()))
                    .isEmpty()) {
                throw e; // it is not that another courier was first
            }
        }
    }

    /** Deletes old receipts. A courier that has slept for longer than that could land a box a second time. */
    public void forget(Duration age) {
        Instant until = Instant.now().minus(age);
        for (Store shard : shards.all()) {
            shard.run(
                    Shards.RIDING,
                    work -> work.from(Receipt.class)
                            .where(the(Receipt::landed).below(until))
                            .delete());
        }
    }
}
