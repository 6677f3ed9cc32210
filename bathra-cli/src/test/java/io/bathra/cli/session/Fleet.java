package io.bathra.cli.session;

import io.bathra.model.Entity;
import io.bathra.model.Model;
import org.jspecify.annotations.Nullable;

/** Tugs, with methods that nobody would want to be called unasked. */
public final class Fleet {
    public static final class Tug {
        private @Nullable Long id;
        private String name = "";

        Tug() {}

        public Tug(String name) {
            this.name = name;
        }

        public @Nullable Long id() {
            return id;
        }

        public String name() {
            return name;
        }

        public void rename(String newName) {
            name = newName;
        }

        String hidden() {
            return name;
        }

        /** Never ends. */
        public int turn() {
            int turns = 0;
            while (turns >= 0) {
                turns = (turns + 1) % 1_000;
            }
            return turns;
        }

        @Override
        public String toString() {
            throw new IllegalStateException("called");
        }
    }

    static final class Secret {
        private @Nullable Long id;

        @Nullable
        Long id() {
            return id;
        }
    }

    public static final Model MODEL =
            Model.of("fleet", Entity.of(Tug.class, Tug::new), Entity.of(Secret.class, Secret::new));

    private Fleet() {}
}
