package io.bathra.evolve;

import io.bathra.attr.DeleteRule;
import io.bathra.history.Convention;
import io.bathra.history.Nearest;
import io.bathra.mapping.ColumnType;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Attributes and links as trees of words. What follows from convention is not said. */
final class FieldWords {
    private static final Map<String, DeleteRule> RULES = new LinkedHashMap<>();

    static {
        for (DeleteRule rule : DeleteRule.values()) {
            RULES.put(SheetWords.words(rule), rule);
        }
    }

    private final Layout before;

    /**
     * @param before the layout into which the words are said
     */
    FieldWords(Layout before) {
        this.before = before;
    }

    /**
     * An attribute.
     *
     * @param key whether it belongs to the key, so that it must have a value
     */
    static Tree.Growing write(Field.OfColumn field, boolean key) {
        Tree.Growing map = Tree.map().put("type", Tree.word(TypeWords.of(field.type())));
        map.putIf(field.required() && !key, "required", true);
        if (field.byDefault() != null) {
            map.put("default", Tree.text(field.byDefault()));
        }
        if (field.computed() != null) {
            map.put("computed", Tree.text(field.computed()));
        }
        return map.putIf(!field.column().equals(Convention.column(field.name())), "column", field.column());
    }

    static Field.OfColumn readColumn(String name, Lines lines, boolean key) {
        ColumnType type = TypeWords.read(lines.need("type"));
        boolean required = lines.isTrue("required") || key;
        String byDefault = lines.word("default");
        Tree computed = lines.find("computed");
        String column = lines.word("column");
        if (computed != null && byDefault != null) {
            throw new Misread(computed, "what is computed has no default; leave one of them out");
        }
        return new Field.OfColumn(
                name,
                column == null ? Convention.column(name) : column,
                type,
                required,
                byDefault,
                computed == null ? null : Lines.leaf(computed, "'computed'").text());
    }

    /**
     * A link.
     *
     * @param owner the sheet that it belongs to, as far as it is known
     * @param named the same with the names that convention gives
     * @param key whether it belongs to the key, so that it must lead somewhere
     */
    Tree.Growing write(Sheet owner, Field.OfLink link, Field.OfLink named, boolean key) {
        Tree.Growing map = Tree.map().put("to", Tree.word(link.to()));
        map.putIf(link.required() && !key, "required", true);
        map.putIf(link.onDelete() != DeleteRule.RESTRICT, "on delete", SheetWords.words(link.onDelete()));
        map.putIf(link.deferrable(), "deferrable", true);
        Sheet target = link.to().equals(owner.name()) ? owner : before.sheets().get(link.to());
        if (target == null || !link.columns().equals(Convention.columns(link.name(), target))) {
            map.put("columns", Tree.words(link.columns()));
        }
        map.putIf(!link.constraint().equals(named.constraint()), "constraint", link.constraint());
        return map.putIf(!link.index().equals(named.index()), "index", link.index());
    }

    /**
     * A link without the names of its constraint and index.
     *
     * @param given takes these, where they are said
     */
    Field.OfLink readLink(String name, Lines lines, Sheet owner, Map<String, String> given, boolean key) {
        Tree to = lines.need("to");
        String target = Lines.leaf(to, "'to'").text();
        boolean required = lines.isTrue("required") || key;
        Tree rule = lines.find("on delete");
        boolean deferrable = lines.isTrue("deferrable");
        List<String> columns = lines.words("columns");
        take(given, name + " constraint", lines.word("constraint"));
        take(given, name + " index", lines.word("index"));
        DeleteRule onDelete = rule == null ? DeleteRule.RESTRICT : readRule(rule);
        if (required && onDelete == DeleteRule.SET_NULL) {
            throw new Misread(
                    rule == null ? to : rule, "a required link cannot become empty; take cascade or restrict");
        }
        Sheet there = target.equals(owner.name())
                ? owner
                : before.sheet(target)
                        .orElseThrow(() -> new Misread(
                                to,
                                "there is no '" + target + "' here"
                                        + Nearest.to(target, before.sheets().keySet())
                                                .map(one -> "; did you mean '" + one + "'?")
                                                .orElse("; create it before")));
        return new Field.OfLink(
                name,
                columns == null ? Convention.columns(name, there) : columns,
                target,
                required,
                onDelete,
                deferrable,
                "",
                "");
    }

    private static void take(Map<String, String> given, String key, @Nullable String value) {
        if (value != null) {
            given.put(key, value);
        }
    }

    static DeleteRule readRule(Tree tree) {
        String word = Lines.leaf(tree, "'on delete'").text();
        DeleteRule rule = RULES.get(word);
        if (rule == null) {
            throw new Misread(
                    tree, "'on delete' is one of " + String.join(", ", RULES.keySet()) + ", not '" + word + "'");
        }
        return rule;
    }

    // ---- by name

    /** Fields of a sheet that a list names. */
    static List<String> fields(Tree tree, Sheet sheet) {
        List<String> names = Lines.words(tree, "a list of attributes and links");
        if (names.isEmpty()) {
            throw new Misread(tree, "the list names no attribute");
        }
        names.forEach(name -> need(tree, sheet, name));
        return names;
    }

    /** The field of a name, which must be there. */
    static Field need(Tree tree, Sheet sheet, String name) {
        return sheet.field(name)
                .orElseThrow(() -> new Misread(
                        tree,
                        sheet.name() + " has no '" + name + "'"
                                + Nearest.to(
                                                name,
                                                sheet.fields().stream()
                                                        .map(Field::name)
                                                        .toList())
                                        .map(one -> "; did you mean '" + one + "'?")
                                        .orElse("; it has "
                                                + String.join(
                                                        ", ",
                                                        sheet.fields().stream()
                                                                .map(Field::name)
                                                                .toList()))));
    }
}
