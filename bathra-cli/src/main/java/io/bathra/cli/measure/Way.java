package io.bathra.cli.measure;

import io.bathra.Store;

/**
 * A way of doing something with rows.
 *
 * @param words what it is, in a few words
 * @param group with which others it is compared
 * @param filled whether there have to be rows before; else the table is empty
 */
record Way(String words, Group group, boolean filled, Body body) {
    /** What is compared with what. */
    enum Group {
        STORING("storing rows"),
        READING("reading rows"),
        UNITS("short units of work");

        private final String words;

        Group(String words) {
            this.words = words;
        }

        String words() {
            return words;
        }
    }

    /** Does it. */
    @FunctionalInterface
    interface Body {
        /**
         * @param store on which, with the meter listening
         * @param meter is asked whether to go on, and told what was done
         */
        void run(Store store, Meter meter);
    }
}
