package io.bathra.evolve;

import io.bathra.evolve.Tree.Branch;
import io.bathra.evolve.Tree.Entry;
import io.bathra.evolve.Tree.Items;
import io.bathra.evolve.Tree.Leaf;
import io.bathra.history.Nearest;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** The lines of a map, each of which is asked for once; one that nobody has asked for is a mistake. */
final class Lines {
    private final Branch branch;
    private final String what;
    private final Map<String, Entry> left = new LinkedHashMap<>();
    private final List<String> asked = new ArrayList<>();

    /**
     * @param what what the map describes, as messages call it
     */
    Lines(Branch branch, String what) {
        this.branch = branch;
        this.what = what;
        for (Entry entry : branch.entries()) {
            if (left.put(entry.key().text(), entry) != null) {
                throw new Misread(entry.key(), what + " says '" + entry.key().text() + "' twice");
            }
        }
    }

    static Lines of(Tree tree, String what) {
        if (tree instanceof Branch branch) {
            return new Lines(branch, what);
        }
        throw new Misread(tree, what + " is a map such as { name: value }, not " + tree);
    }

    Branch branch() {
        return branch;
    }

    String what() {
        return what;
    }

    @Nullable
    Tree find(String key) {
        asked.add(key);
        Entry entry = left.remove(key);
        return entry == null ? null : entry.value();
    }

    Tree need(String key) {
        Tree value = find(key);
        if (value == null) {
            throw new Misread(branch, what + " has no '" + key + "'");
        }
        return value;
    }

    /** A word or text. */
    @Nullable
    String word(String key) {
        Tree value = find(key);
        return value == null ? null : leaf(value, "'" + key + "'").text();
    }

    /** A word that is true or false; false where it is not said. */
    boolean isTrue(String key) {
        Tree value = find(key);
        return value != null && truth(value, "'" + key + "'");
    }

    static boolean truth(Tree value, String what) {
        Leaf leaf = leaf(value, what);
        if (leaf.plain() && leaf.text().equals("true")) {
            return true;
        } else if (leaf.plain() && leaf.text().equals("false")) {
            return false;
        }
        throw new Misread(value, what + " is true or false, not " + leaf);
    }

    /** A list of words, or a single one. */
    @Nullable
    List<String> words(String key) {
        Tree value = find(key);
        return value == null ? null : words(value, "'" + key + "'");
    }

    static List<String> words(Tree value, String what) {
        if (value instanceof Items items) {
            List<String> words = new ArrayList<>();
            items.items().forEach(item -> words.add(leaf(item, what).text()));
            return words;
        }
        return List.of(leaf(value, what).text());
    }

    static Leaf leaf(Tree value, String what) {
        if (value instanceof Leaf leaf) {
            return leaf;
        }
        throw new Misread(value, what + " is a single word, not " + value);
    }

    /** The lines of a map that is inside. */
    List<Entry> entries(String key) {
        Tree value = find(key);
        if (value == null) {
            return List.of();
        }
        return Lines.of(value, "'" + key + "'").branch.entries();
    }

    /** The items of a list that is inside. */
    List<Tree> items(String key) {
        Tree value = find(key);
        if (value == null) {
            return List.of();
        } else if (value instanceof Items items) {
            return items.items();
        }
        throw new Misread(value, "'" + key + "' is a list such as [a, b], not " + value);
    }

    /** A whole number. */
    static long number(Tree tree) {
        String text = leaf(tree, "a number").text();
        try {
            return Long.parseLong(text);
        } catch (NumberFormatException e) {
            throw new Misread(tree, "'" + text + "' is no whole number");
        }
    }

    /** Nothing else may be said. */
    void end() {
        left.values().stream().findFirst().ifPresent(entry -> {
            String word = entry.key().text();
            throw new Misread(
                    entry.key(),
                    what + " knows no '" + word + "'"
                            + Nearest.to(word, asked)
                                    .map(one -> "; did you mean '" + one + "'?")
                                    .orElse("; it knows "
                                            + String.join(
                                                    ", ",
                                                    asked.stream().distinct().toList())));
        });
    }
}
