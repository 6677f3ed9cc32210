package io.bathra.evolve;

import io.bathra.evolve.Tree.Branch;
import io.bathra.evolve.Tree.Entry;
import io.bathra.evolve.Tree.Items;
import io.bathra.evolve.Tree.Leaf;
import io.bathra.history.Nearest;
import io.bathra.question.SearchCondition;
import io.bathra.question.SearchCondition.Absence;
import io.bathra.question.SearchCondition.All;
import io.bathra.question.SearchCondition.AnyOf;
import io.bathra.question.SearchCondition.Comparison;
import io.bathra.question.SearchCondition.Like;
import io.bathra.question.SearchCondition.Membership;
import io.bathra.question.SearchCondition.Negation;
import io.bathra.question.SearchCondition.Operator;
import io.bathra.question.Term;
import io.bathra.schema.Field;
import io.bathra.schema.FieldPath;
import io.bathra.schema.Literal;
import io.bathra.schema.Sheet;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Pattern;

/** Conditions and terms as trees of words: {@code { above: [grossKilos, 0] }}. */
final class ConditionWords {
    private static final Map<String, Operator> OPERATORS = new LinkedHashMap<>();
    private static final Map<String, Like.Kind> LIKES = new LinkedHashMap<>();
    private static final Map<String, Term.Function> FUNCTIONS = new LinkedHashMap<>();
    private static final Pattern NUMBER = Pattern.compile("-?\\d+(\\.\\d+)?");

    static {
        for (Operator operator : Operator.values()) {
            OPERATORS.put(words(operator), operator);
        }
        for (Like.Kind kind : Like.Kind.values()) {
            LIKES.put(kind == Like.Kind.PATTERN ? "like" : words(kind), kind);
        }
        for (Term.Function function : Term.Function.values()) {
            FUNCTIONS.put(function == Term.Function.COALESCE ? "first of" : words(function), function);
        }
    }

    private final Sheet sheet;

    /**
     * @param sheet whose fields are spoken of
     */
    ConditionWords(Sheet sheet) {
        this.sheet = sheet;
    }

    private static String words(Enum<?> constant) {
        return constant.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    // ---- out

    static Tree write(SearchCondition condition) {
        if (condition instanceof Comparison comparison) {
            return one(
                    words(comparison.operator()),
                    Tree.list(List.of(term(comparison.left()), term(comparison.right()))));
        } else if (condition instanceof Membership membership) {
            List<Tree> all = new ArrayList<>();
            all.add(term(membership.term()));
            membership.values().forEach(value -> all.add(term(value)));
            return one("in", Tree.list(all));
        } else if (condition instanceof Absence absence) {
            return one("missing", term(absence.term()));
        } else if (condition instanceof Like like) {
            String word = like.kind() == Like.Kind.PATTERN ? "like" : words(like.kind());
            Tree.Growing map = Tree.map().put(word, Tree.list(List.of(term(like.term()), term(like.part()))));
            return map.putIf(like.ignoringCase(), "ignoring case", true).branch();
        } else if (condition instanceof All all) {
            return one(
                    "all",
                    Tree.list(
                            all.conditions().stream().map(ConditionWords::write).toList()));
        } else if (condition instanceof AnyOf any) {
            return one(
                    "any",
                    Tree.list(
                            any.conditions().stream().map(ConditionWords::write).toList()));
        }
        return one("not", write(((Negation) condition).condition()));
    }

    static Tree term(Term term) {
        if (term instanceof Term.Attribute attribute) {
            return Tree.word(FieldPath.name(attribute.path()));
        } else if (term instanceof Term.Link link) {
            return Tree.word(FieldPath.name(link.path()));
        } else if (term instanceof Term.Value value) {
            return literal(value.value());
        } else if (term instanceof Term.Call call) {
            String word = call.function() == Term.Function.COALESCE ? "first of" : words(call.function());
            List<Tree> arguments =
                    call.arguments().stream().map(ConditionWords::term).toList();
            return one(word, arguments.size() == 1 ? arguments.get(0) : Tree.list(arguments));
        }
        Term.TimePart part = (Term.TimePart) term;
        return one(words(part.part()) + " of", term(part.of()));
    }

    static Tree literal(Object literal) {
        return literal instanceof String text
                ? Tree.text(text)
                : Tree.word(literal instanceof BigDecimal decimal ? decimal.toPlainString() : literal);
    }

    private static Branch one(String word, Tree value) {
        return Tree.map().put(word, value).branch();
    }

    // ---- in

    SearchCondition read(Tree tree) {
        Lines lines = Lines.of(tree, "a condition");
        if (lines.branch().entries().isEmpty()) {
            throw new Misread(tree, "a condition says something; write { above: [attribute, 0] } say");
        }
        Entry first = lines.branch().entries().get(0);
        String word = first.key().text();
        lines.find(word);
        SearchCondition condition = condition(lines, word, first);
        lines.end();
        return condition;
    }

    private SearchCondition condition(Lines lines, String word, Entry entry) {
        Tree value = entry.value();
        if (OPERATORS.containsKey(word)) {
            List<Tree> both = items(value, word, 2);
            return new Comparison(readTerm(both.get(0)), OPERATORS.get(word), readTerm(both.get(1)));
        } else if (LIKES.containsKey(word)) {
            List<Tree> both = items(value, word, 2);
            return new Like(
                    readTerm(both.get(0)), LIKES.get(word), readTerm(both.get(1)), lines.isTrue("ignoring case"));
        }
        return switch (word) {
            case "in" -> {
                List<Tree> all = items(value, word, 0);
                if (all.isEmpty()) {
                    throw new Misread(value, "'in' begins with an attribute: [attribute, value, value]");
                }
                yield new Membership(
                        readTerm(all.get(0)),
                        all.subList(1, all.size()).stream().map(this::readTerm).toList());
            }
            case "missing" -> {
                Leaf leaf = Lines.leaf(value, "'missing'");
                yield new Absence(
                        field(leaf) instanceof Field.OfLink
                                ? new Term.Link(FieldPath.of(leaf.text()))
                                : readTerm(value));
            }
            case "all" -> new All(items(value, word, 0).stream().map(this::read).toList());
            case "any" ->
                new AnyOf(items(value, word, 0).stream().map(this::read).toList());
            case "not" -> new Negation(read(value));
            default -> {
                List<String> known = new ArrayList<>(OPERATORS.keySet());
                known.addAll(LIKES.keySet());
                known.addAll(List.of("in", "missing", "all", "any", "not"));
                throw unknown(entry.key(), "no condition", known);
            }
        };
    }

    Term readTerm(Tree tree) {
        if (tree instanceof Leaf leaf) {
            if (!leaf.plain() || NUMBER.matcher(leaf.text()).matches() || isTruth(leaf)) {
                return new Term.Value(readLiteral(leaf));
            }
            field(leaf);
            return new Term.Attribute(FieldPath.of(leaf.text()));
        }
        Lines lines = Lines.of(tree, "a term");
        if (lines.branch().entries().size() != 1) {
            throw new Misread(tree, "a term is an attribute, a value, or { function: term }");
        }
        Entry entry = lines.branch().entries().get(0);
        String word = entry.key().text();
        if (word.equals("value")) {
            return new Term.Value(readLiteral(Lines.leaf(entry.value(), "'value'")));
        } else if (FUNCTIONS.containsKey(word)) {
            Term.Function function = FUNCTIONS.get(word);
            boolean single = function == Term.Function.LOWER
                    || function == Term.Function.UPPER
                    || function == Term.Function.LENGTH;
            List<Tree> arguments = single ? List.of(entry.value()) : items(entry.value(), word, 0);
            return new Term.Call(
                    function, arguments.stream().map(this::readTerm).toList());
        }
        for (Term.Part part : Term.Part.values()) {
            if (word.equals(words(part) + " of")) {
                return new Term.TimePart(part, readTerm(entry.value()), null);
            }
        }
        List<String> known = new ArrayList<>(FUNCTIONS.keySet());
        known.add("value");
        throw unknown(entry.key(), "no term", known);
    }

    private static boolean isTruth(Leaf leaf) {
        return leaf.text().equals("true") || leaf.text().equals("false");
    }

    /** A value: a number or a truth without quotes, else a text. */
    static Object readLiteral(Leaf leaf) {
        if (leaf.plain() && NUMBER.matcher(leaf.text()).matches()) {
            return Literal.decimal(new BigDecimal(leaf.text()));
        }
        return leaf.plain() && isTruth(leaf) ? (Object) Boolean.valueOf(leaf.text()) : leaf.text();
    }

    private Field field(Leaf leaf) {
        return sheet.field(leaf.text())
                .orElseThrow(() -> new Misread(
                        leaf,
                        sheet.name() + " has no '" + leaf.text() + "'"
                                + Nearest.to(
                                                leaf.text(),
                                                sheet.fields().stream()
                                                        .map(Field::name)
                                                        .toList())
                                        .map(one -> "; did you mean '" + one + "'?")
                                        .orElse("; a text stands in quotes")));
    }

    private static List<Tree> items(Tree tree, String word, int wanted) {
        if (tree instanceof Items items && (wanted == 0 || items.items().size() == wanted)) {
            return items.items();
        }
        throw new Misread(
                tree, "'" + word + "' is followed by a list" + (wanted == 2 ? " of two: [attribute, value]" : ""));
    }

    private static Misread unknown(Leaf key, String what, List<String> known) {
        return new Misread(
                key,
                "there is " + what + " '" + key.text() + "'"
                        + Nearest.to(key.text(), known)
                                .map(one -> "; did you mean '" + one + "'?")
                                .orElse("; there is " + String.join(", ", known)));
    }
}
