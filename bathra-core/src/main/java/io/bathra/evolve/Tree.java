package io.bathra.evolve;

import java.util.ArrayList;
import java.util.List;

/** What stands in a change file, whatever its notation is: words, lists and maps, each with its place. Immutable. */
public sealed interface Tree {
    /** Where it stands. */
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

    /** A name, a number, or any other word that needs no quotes. */
    static Tree word(Object word) {
        return new Leaf(String.valueOf(word), true, Place.NOWHERE);
    }

    /** A text. */
    static Tree text(String text) {
        return new Leaf(text, false, Place.NOWHERE);
    }

    /** A list. */
    static Tree list(List<? extends Tree> items) {
        return new Items(List.copyOf(items), Place.NOWHERE);
    }

    /** A list of words. */
    static Tree words(List<String> words) {
        return list(words.stream().map(Tree::word).toList());
    }

    /** A map that grows. */
    static Growing map() {
        return new Growing();
    }

    /** Makes a map, line by line. */
    final class Growing {
        private final List<Entry> entries = new ArrayList<>();

        private Growing() {}

        /** One more line. */
        public Growing put(String key, Tree value) {
            entries.add(new Entry(new Leaf(key, true, Place.NOWHERE), value));
            return this;
        }

        /** One more line, if something holds. */
        public Growing putIf(boolean holds, String key, Object word) {
            return holds ? put(key, word(word)) : this;
        }

        /** Whether it has no line. */
        public boolean isEmpty() {
            return entries.isEmpty();
        }

        /** The map. */
        public Branch branch() {
            return new Branch(entries, Place.NOWHERE);
        }
    }
}
