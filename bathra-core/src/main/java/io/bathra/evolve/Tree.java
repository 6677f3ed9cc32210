package io.bathra.evolve;

import java.util.ArrayList;
import java.util.List;

/** What stands in a change file, whatever its notation is: words, lists and maps, each with its place. Immutable. */
public sealed interface Tree {
    /** {@return where it stands} */
    Place place();

    /**
     * A place in a text.
     *
     * @param line counted from 1; 0 where there is no text
     * @param column counted from 1
     */
    record Place(int line, int column) {
        /** Nowhere: of what was not read. */
        public static final Place NOWHERE = new Place(0, 0);
    }

    /**
     * A word, a number or a text.
     *
     * @param plain whether it stands without quotes, so that it may be a number or name something
     */
    record Leaf(String text, boolean plain, Place place) implements Tree {
        @Override
        public String toString() {
            return plain ? text : '"' + text + '"';
        }
    }

    /** A list. */
    record Items(List<Tree> items, Place place) implements Tree {
        /**
         * Checks what it is made of, and copies what could be changed.
         *
         * @param items what is in the list
         * @param place where it stands in its file
         */
        public Items {
            items = List.copyOf(items);
        }

        @Override
        public String toString() {
            return items.toString();
        }
    }

    /** A map, in the order in which it is written. */
    record Branch(List<Entry> entries, Place place) implements Tree {
        /**
         * Checks what it is made of, and copies what could be changed.
         *
         * @param entries what is inside, by name
         * @param place where it stands in its file
         */
        public Branch {
            entries = List.copyOf(entries);
        }

        @Override
        public String toString() {
            return "{" + String.join(", ", entries.stream().map(Entry::toString).toList()) + "}";
        }
    }

    /** A line of a map. */
    record Entry(Leaf key, Tree value) {
        @Override
        public String toString() {
            return key + ": " + value;
        }
    }

    /**
     * {@return a name, a number, or any other word that needs no quotes}
     *
     * @param word a text, a number, true or false
     */
    static Tree word(Object word) {
        return new Leaf(String.valueOf(word), true, Place.NOWHERE);
    }

    /**
     * {@return a text}
     *
     * @param text the text
     */
    static Tree text(String text) {
        return new Leaf(text, false, Place.NOWHERE);
    }

    /**
     * {@return a list}
     *
     * @param items what is in the list
     */
    static Tree list(List<? extends Tree> items) {
        return new Items(List.copyOf(items), Place.NOWHERE);
    }

    /**
     * {@return a list of words}
     *
     * @param words what is in the list
     */
    static Tree words(List<String> words) {
        return list(words.stream().map(Tree::word).toList());
    }

    /** {@return a map that grows} */
    static Growing map() {
        return new Growing();
    }

    /** Makes a map, line by line. */
    final class Growing {
        private final List<Entry> entries = new ArrayList<>();

        private Growing() {}

        /**
         * {@return one more line}
         *
         * @param key the key
         * @param value the value
         */
        public Growing put(String key, Tree value) {
            entries.add(new Entry(new Leaf(key, true, Place.NOWHERE), value));
            return this;
        }

        /**
         * {@return one more line, if something holds}
         *
         * @param holds whether there is something to say
         * @param key the key
         * @param word a text, a number, true or false
         */
        public Growing putIf(boolean holds, String key, Object word) {
            return holds ? put(key, word(word)) : this;
        }

        /** {@return whether it has no line} */
        public boolean isEmpty() {
            return entries.isEmpty();
        }

        /** {@return the map} */
        public Branch branch() {
            return new Branch(entries, Place.NOWHERE);
        }
    }
}
