package io.bathra.changes;

import io.bathra.evolve.Change;
import io.bathra.evolve.FaultyChange;
import io.bathra.evolve.Tree;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.nodes.Tag;
import org.snakeyaml.engine.v2.schema.FailsafeSchema;

/** Reads YAML as nodes, so that each word keeps its place, and {@code NO} and {@code 0042} stay texts. */
final class ChangeReader {
    private final String name;

    private ChangeReader(String name) {
        this.name = name;
    }

    /**
     * The change that a file holds.
     *
     * @param name the file's name without its extension
     * @throws FaultyChange when it is no YAML, or no change
     */
    static Change read(String name, String text) {
        return Change.read(name, new ChangeReader(name).only(text));
    }

    /**
     * A single value.
     *
     * @param name what messages call it
     */
    static Tree value(String name, String text) {
        return new ChangeReader(name).only(text);
    }

    private Tree only(String text) {
        LoadSettings settings = LoadSettings.builder()
                .setLabel(name)
                .setSchema(new FailsafeSchema())
                .setMaxAliasesForCollections(0)
                .build();
        try {
            Iterator<Node> documents =
                    new Compose(settings).composeAllFromString(text).iterator();
            if (!documents.hasNext()) {
                throw new FaultyChange(
                        name,
                        Tree.Place.NOWHERE,
                        "there is nothing in it; write 'bathra: 1', 'after: …' and" + " 'steps:'");
            }
            Node first = documents.next();
            if (documents.hasNext()) {
                throw fault(place(documents.next()), "a second document begins here; a file holds one");
            }
            return tree(first);
        } catch (MarkedYamlEngineException e) {
            throw fault(e.getProblemMark().map(ChangeReader::place).orElse(Tree.Place.NOWHERE), words(e));
        } catch (YamlEngineException e) {
            throw fault(Tree.Place.NOWHERE, String.valueOf(e.getMessage()));
        }
    }

    private static String words(MarkedYamlEngineException e) {
        String problem = String.valueOf(e.getProblem());
        if (problem.contains("\\t") || problem.contains("TAB")) {
            return "a tab stands where blanks are wanted; indent with blanks";
        }
        return "this is no YAML: " + (e.getContext() == null ? "" : e.getContext() + ", ") + problem;
    }

    private FaultyChange fault(Tree.Place place, String words) {
        return new FaultyChange(name, place, words);
    }

    private static Tree.Place place(Node node) {
        return node.getStartMark().map(ChangeReader::place).orElse(Tree.Place.NOWHERE);
    }

    private static Tree.Place place(Mark mark) {
        return new Tree.Place(mark.getLine() + 1, mark.getColumn() + 1);
    }

    private static boolean isNothing(ScalarNode scalar) {
        return scalar.getScalarStyle() == ScalarStyle.PLAIN && scalar.getValue().isEmpty();
    }

    private Tree tree(Node node) {
        if (node.getTag().equals(Tag.NULL) || (node instanceof ScalarNode empty && isNothing(empty))) {
            throw fault(place(node), "something is missing here, behind the colon or the dash");
        }
        boolean usual = node.getTag().equals(Tag.STR)
                || node.getTag().equals(Tag.MAP)
                || node.getTag().equals(Tag.SEQ);
        Optional<?> anchor = node.getAnchor();
        if (!usual || anchor.isPresent()) {
            throw fault(place(node), "tags and anchors have no meaning here; write what is meant");
        }
        if (node instanceof ScalarNode scalar) {
            boolean plain = scalar.getScalarStyle() == ScalarStyle.PLAIN;
            return new Tree.Leaf(scalar.getValue(), plain, place(node));
        } else if (node instanceof SequenceNode sequence) {
            List<Tree> items = new ArrayList<>();
            sequence.getValue().forEach(item -> items.add(tree(item)));
            return new Tree.Items(items, place(node));
        }
        List<Tree.Entry> entries = new ArrayList<>();
        for (NodeTuple tuple : ((MappingNode) node).getValue()) {
            if (!(tree(tuple.getKeyNode()) instanceof Tree.Leaf key)) {
                throw fault(place(tuple.getKeyNode()), "what stands before a colon is a word");
            }
            entries.add(new Tree.Entry(key, tree(tuple.getValueNode())));
        }
        return new Tree.Branch(entries, place(node));
    }
}
