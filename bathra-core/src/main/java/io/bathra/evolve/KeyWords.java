package io.bathra.evolve;

import io.bathra.evolve.Tree.Leaf;
import io.bathra.history.Convention;
import io.bathra.mapping.KeySource;
import java.util.List;

/** Where keys come from, as trees of words. */
final class KeyWords {
    private KeyWords() {}

    static Tree write(KeySource source) {
        if (source instanceof KeySource.Sequence sequence) {
            return Tree.map()
                    .put("sequence", Tree.word(sequence.name()))
                    .put("block", Tree.word(sequence.block()))
                    .branch();
        } else if (source instanceof KeySource.KeyTable table) {
            return Tree.map()
                    .put("key table", Tree.word(table.name()))
                    .put("begin", Tree.word(table.startAt()))
                    .branch();
        }
        return Tree.word(Convention.words(source));
    }

    static KeySource read(Tree tree) {
        if (tree instanceof Leaf leaf) {
            for (KeySource source : List.of(KeySource.GENERATED, KeySource.ASSIGNED, KeySource.TIME_ORDERED)) {
                if (Convention.words(source).equals(leaf.text())) {
                    return source;
                }
            }
            throw new Misread(
                    tree,
                    "'keys' are generated, assigned, ordered by time, { sequence: name, block: 10 } or"
                            + " { key table: name, begin: 1 }, not " + leaf);
        }
        Lines lines = Lines.of(tree, "'keys'");
        Tree sequence = lines.find("sequence");
        if (sequence != null) {
            KeySource source = new KeySource.Sequence(
                    Lines.leaf(sequence, "'sequence'").text(), Math.toIntExact(Lines.number(lines.need("block"))));
            lines.end();
            return source;
        }
        KeySource source = new KeySource.KeyTable(
                Lines.leaf(lines.need("key table"), "'key table'").text(), Lines.number(lines.need("begin")));
        lines.end();
        return source;
    }
}
