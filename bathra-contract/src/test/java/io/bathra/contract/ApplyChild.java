package io.bathra.contract;

import io.bathra.Store;
import io.bathra.changes.SchemaChanges;
import io.bathra.evolve.ApplyTerms;
import io.bathra.model.Entity;
import io.bathra.model.Model;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.concurrent.atomic.AtomicInteger;

/** A program of its own that applies change files, and is halted or waits at a certain statement. */
final class ApplyChild {
    private static final int KILLED = 137;

    static final class Nothing {
        Long id;

        Long id() {
            return id;
        }
    }

    static final Model MODEL = Model.of("nothing", Entity.of(Nothing.class, Nothing::new));

    private ApplyChild() {}

    /**
     * @param args the URL, the folder, the number of the event at which something happens, and what: halt or wait
     */
    public static void main(String[] args) {
        int at = Integer.parseInt(args[2]);
        AtomicInteger events = new AtomicInteger();
        Runnable event = () -> {
            if (events.incrementAndGet() == at) {
                happen(args[3]);
            }
        };
        try (Store opened = Store.open(MODEL, args[0], null, null)) {
            Store store = opened.heardBy(statement -> {
                event.run();
                return (ended, failure) -> event.run();
            });
            ApplyTerms terms = ApplyTerms.ALL.losing("2026-12-03-second");
            SchemaChanges.of(store, Path.of(args[1]))
                    .evolution()
                    .apply(terms)
                    .forEach(name -> System.out.println("APPLIED " + name));
        }
        System.out.println("DONE " + events.get());
    }

    private static void happen(String what) {
        if (what.equals("halt")) {
            Runtime.getRuntime().halt(KILLED);
        }
        System.out.println("WAITING");
        try {
            System.in.read();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
