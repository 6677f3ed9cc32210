package io.bathra.evolve;

import io.bathra.attr.DeleteRule;
import io.bathra.evolve.Tree.Branch;
import io.bathra.evolve.Tree.Entry;
import io.bathra.evolve.Tree.Leaf;
import io.bathra.history.FieldStep;
import io.bathra.history.Fill;
import io.bathra.history.SchemaStep;
import io.bathra.mapping.ColumnType;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Steps that concern an attribute or a link, out of trees of words. */
final class FieldStepReader {
    private final FieldWords fields;
    private final Subject subject;

    FieldStepReader(Layout before, Subject subject) {
        this.fields = new FieldWords(before);
        this.subject = subject;
    }

    SchemaStep addAttribute(Lines lines) {
        Sheet owner = subject.owner();
        Field field = FieldWords.readColumn(subject.fieldName(), lines, false);
        return new FieldStep.Add(owner.name(), field, readFill(lines, owner, field));
    }

    SchemaStep addLink(Lines lines) {
        Sheet owner = subject.owner();
        Map<String, String> given = new HashMap<>();
        Field.OfLink link = fields.readLink(subject.fieldName(), lines, owner, given, false);
        Field.OfLink named = StepWriter.conventional(owner, link);
        link = link.with(
                given.getOrDefault(link.name() + " constraint", named.constraint()),
                given.getOrDefault(link.name() + " index", named.index()));
        return new FieldStep.Add(owner.name(), link, readFill(lines, owner, link));
    }

    SchemaStep changeAttribute(Lines lines) {
        Sheet owner = subject.owner();
        Field.OfColumn there = (Field.OfColumn) subject.field(false);
        Field.OfColumn old = there;
        Field.OfColumn now = there;
        Lines type = pair(lines, "type");
        if (type != null) {
            old = column(old, TypeWords.read(type.need("from")), old.required(), old.byDefault());
            now = column(now, TypeWords.read(type.need("to")), now.required(), now.byDefault());
        }
        Lines required = pair(lines, "required");
        if (required != null) {
            old = column(old, old.type(), Lines.truth(required.need("from"), "'from'"), old.byDefault());
            now = column(now, now.type(), Lines.truth(required.need("to"), "'to'"), now.byDefault());
        }
        Lines byDefault = pair(lines, "default");
        if (byDefault != null) {
            old = column(old, old.type(), old.required(), textOrNone(byDefault.need("from")));
            now = column(now, now.type(), now.required(), textOrNone(byDefault.need("to")));
        }
        changes(old.equals(now));
        return new FieldStep.Change(owner.name(), old, now, readFill(lines, owner, now));
    }

    private static Field.OfColumn column(
            Field.OfColumn one, ColumnType type, boolean required, @Nullable String byDefault) {
        return new Field.OfColumn(one.name(), one.column(), type, required, byDefault, one.computed());
    }

    SchemaStep changeLink(Lines lines) {
        Sheet owner = subject.owner();
        Field.OfLink there = (Field.OfLink) subject.field(true);
        Field.OfLink old = there;
        Field.OfLink now = there;
        Lines required = pair(lines, "required");
        if (required != null) {
            old = link(old, Lines.truth(required.need("from"), "'from'"), old.onDelete(), old.deferrable());
            now = link(now, Lines.truth(required.need("to"), "'to'"), now.onDelete(), now.deferrable());
        }
        Lines rule = pair(lines, "on delete");
        if (rule != null) {
            old = link(old, old.required(), FieldWords.readRule(rule.need("from")), old.deferrable());
            now = link(now, now.required(), FieldWords.readRule(rule.need("to")), now.deferrable());
        }
        Lines deferrable = pair(lines, "deferrable");
        if (deferrable != null) {
            old = link(old, old.required(), old.onDelete(), Lines.truth(deferrable.need("from"), "'from'"));
            now = link(now, now.required(), now.onDelete(), Lines.truth(deferrable.need("to"), "'to'"));
        }
        Lines constraint = pair(lines, "constraint");
        if (constraint != null) {
            old = old.with(Lines.leaf(constraint.need("from"), "'from'").text(), old.index());
            now = now.with(Lines.leaf(constraint.need("to"), "'to'").text(), now.index());
        }
        Lines index = pair(lines, "index");
        if (index != null) {
            old = old.with(
                    old.constraint(), Lines.leaf(index.need("from"), "'from'").text());
            now = now.with(
                    now.constraint(), Lines.leaf(index.need("to"), "'to'").text());
        }
        if (now.required() && now.onDelete() == DeleteRule.SET_NULL) {
            throw new Misread(subject.leaf(), "a required link cannot become empty; take cascade or restrict");
        }
        changes(old.equals(now));
        return new FieldStep.Change(owner.name(), old, now, readFill(lines, owner, now));
    }

    private static Field.OfLink link(Field.OfLink one, boolean required, DeleteRule rule, boolean deferrable) {
        return new Field.OfLink(
                one.name(), one.columns(), one.to(), required, rule, deferrable, one.constraint(), one.index());
    }

    private void changes(boolean nothing) {
        if (nothing) {
            throw new Misread(
                    subject.leaf(), "the step changes nothing; say what was and will be: type: { from: …, to: … }");
        }
    }

    private static @Nullable String textOrNone(Tree tree) {
        Leaf leaf = Lines.leaf(tree, "a default");
        return leaf.plain() && leaf.text().equals(StepWriter.NONE) ? null : leaf.text();
    }

    private static @Nullable Lines pair(Lines lines, String key) {
        Tree tree = lines.find(key);
        return tree == null ? null : fromTo(tree, "'" + key + "'");
    }

    /** What was and what will be. */
    static Lines fromTo(Tree tree, String what) {
        if (!(tree instanceof Branch)) {
            throw new Misread(tree, what + " says what was and will be: { from: …, to: … }");
        }
        Lines lines = Lines.of(tree, what);
        for (Entry entry : lines.branch().entries()) {
            if (!List.of("from", "to").contains(entry.key().text())) {
                throw new Misread(
                        entry.key(),
                        what + " knows 'from' and 'to', not '" + entry.key().text() + "'");
            }
        }
        return lines;
    }

    SchemaStep renameField(Lines lines, boolean link) {
        Field field = subject.field(link);
        String to = lines.word("to");
        List<String> columns = lines.words(link ? "columns" : "column");
        if (to == null && columns == null) {
            throw new Misread(
                    subject.leaf(),
                    "a rename says 'to', or '" + (link ? "columns" : "column") + "' where that alone has another name");
        }
        String newName = to == null ? field.name() : to;
        return new FieldStep.Rename(
                subject.owner().name(),
                field.name(),
                newName,
                columns == null ? StepWriter.renamedColumns(field, newName) : columns);
    }

    SchemaStep dropField(Lines lines, boolean link) {
        subject.consent(lines, "values");
        return new FieldStep.Drop(subject.owner().name(), subject.field(link).name(), link);
    }

    private @Nullable Fill readFill(Lines lines, Sheet owner, Field field) {
        Tree fill = lines.find("fill");
        if (fill == null) {
            return null;
        }
        if (!field.required()) {
            throw new Misread(fill, "only what must have a value is filled; add 'required: true', or take a backfill");
        }
        return fill(fill, owner);
    }

    /** What rows get. */
    static Fill fill(Tree fill, Sheet owner) {
        Lines inside = Lines.of(fill, "'fill'");
        Tree value = inside.find("value");
        Tree term = inside.find("term");
        Tree sql = inside.find("sql");
        inside.end();
        if ((value == null ? 0 : 1) + (term == null ? 0 : 1) + (sql == null ? 0 : 1) != 1) {
            throw new Misread(fill, "'fill' says one of value, term and sql");
        }
        if (value != null) {
            return new Fill.OfValue(ConditionWords.readLiteral(Lines.leaf(value, "'value'")));
        } else if (term != null) {
            return new Fill.OfTerm(new ConditionWords(owner).readTerm(term));
        }
        return new Fill.OfSql(StepReader.texts(Objects.requireNonNull(sql)));
    }
}
