package io.bathra.changes;

import io.bathra.evolve.Change;
import io.bathra.evolve.Tree;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** Writes YAML as a person would: a line for each thing that is said, and short maps and lists within a line. */
final class ChangeWriter {
    /** A longer line is broken up. */
    private static final int LONGEST = 110;

    private static final int INDENT = 2;

    /** What has a line for each thing that it names. */
    private static final Set<String> SEVERAL_LINES = Set.of("attributes", "links");

    /** What may stand without quotes anywhere. */
    private static final Pattern SAFE = Pattern.compile("[\\p{L}\\p{N}_][\\p{L}\\p{N}_ .$+/-]*|-?\\d+(\\.\\d+)?");

    /** What may stand without quotes where no map and no list is open. */
    private static final Pattern SAFE_IN_BLOCK = Pattern.compile("[\\p{L}\\p{N}_][\\p{L}\\p{N}_ .,$+/\\[\\]-]*");

    private final StringBuilder text = new StringBuilder();

    private ChangeWriter() {}

    static String write(Change change) {
        ChangeWriter writer = new ChangeWriter();
        writer.all(change);
        return writer.text.toString();
    }

    private void all(Change change) {
        for (Tree.Entry entry : change.content().entries()) {
            if (entry.key().text().equals("steps")) {
                text.append("steps:\n");
            } else {
                entry(entry, 0);
            }
        }
        Map<Integer, String> notes = change.notes();
        for (int i = 0; i < change.steps().size(); i++) {
            if (notes.containsKey(i)) {
                for (String line : notes.get(i).split("\n")) {
                    text.append("  # ").append(line).append('\n');
                }
            }
            text.append("  - ");
            block(change.steps().get(i), INDENT * 2, true);
        }
    }

    /** A map or list over several lines; what begins behind a dash is indented already. */
    private void block(Tree tree, int indent, boolean begun) {
        boolean first = begun;
        if (tree instanceof Tree.Branch branch) {
            for (Tree.Entry entry : branch.entries()) {
                entry(entry, first ? 0 : indent, indent);
                first = false;
            }
        } else if (tree instanceof Tree.Items items) {
            for (Tree item : items.items()) {
                text.append(" ".repeat(first ? 0 : indent)).append("- ");
                first = false;
                String line = flow(item);
                if (indent + line.length() <= LONGEST || item instanceof Tree.Leaf) {
                    text.append(line).append('\n');
                } else {
                    block(item, indent + INDENT, true);
                }
            }
        }
    }

    private void entry(Tree.Entry entry, int indent) {
        entry(entry, indent, indent);
    }

    private void entry(Tree.Entry entry, int now, int indent) {
        String key = leaf(entry.key(), SAFE_IN_BLOCK);
        text.append(" ".repeat(now)).append(key).append(':');
        if (entry.value() instanceof Tree.Leaf leaf) {
            text.append(' ').append(leaf(leaf, SAFE_IN_BLOCK)).append('\n');
            return;
        }
        String line = flow(entry.value());
        if (!SEVERAL_LINES.contains(key) && indent + key.length() + 2 + line.length() <= LONGEST) {
            text.append(' ').append(line).append('\n');
        } else {
            text.append('\n');
            block(entry.value(), indent + INDENT, false);
        }
    }

    private static String flow(Tree tree) {
        if (tree instanceof Tree.Leaf leaf) {
            return leaf(leaf, SAFE);
        } else if (tree instanceof Tree.Items items) {
            return items.items().stream().map(ChangeWriter::flow).collect(Collectors.joining(", ", "[", "]"));
        }
        List<Tree.Entry> entries = ((Tree.Branch) tree).entries();
        return entries.stream()
                .map(entry -> leaf(entry.key(), SAFE) + ": " + flow(entry.value()))
                .collect(Collectors.joining(", ", "{ ", " }"));
    }

    private static String leaf(Tree.Leaf leaf, Pattern safe) {
        boolean plain = leaf.plain()
                && safe.matcher(leaf.text()).matches()
                && !leaf.text().endsWith(" ");
        return plain ? leaf.text() : quoted(leaf.text());
    }

    private static String quoted(String text) {
        StringBuilder quoted = new StringBuilder("\"");
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            switch (c) {
                case '"' -> quoted.append("\\\"");
                case '\\' -> quoted.append("\\\\");
                case '\n' -> quoted.append("\\n");
                case '\t' -> quoted.append("\\t");
                default -> {
                    if (c < ' ' || c == 0x7f || (c >= 0x80 && c < 0xa0) || c == 0x2028 || c == 0x2029 || c == 0xfeff) {
                        quoted.append(String.format("\\u%04x", (int) c));
                    } else {
                        quoted.append(c);
                    }
                }
            }
        }
        return quoted.append('"').toString();
    }
}
