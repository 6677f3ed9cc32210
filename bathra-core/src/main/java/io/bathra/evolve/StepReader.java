package io.bathra.evolve;

import io.bathra.attr.DeleteRule;
import io.bathra.evolve.Tree.Branch;
import io.bathra.evolve.Tree.Entry;
import io.bathra.evolve.Tree.Leaf;
import io.bathra.history.DataStep;
import io.bathra.history.FieldStep;
import io.bathra.history.Fill;
import io.bathra.history.Nearest;
import io.bathra.history.RuleStep;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.mapping.ColumnType;
import io.bathra.mapping.KeySource;
import io.bathra.question.Term;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Steps out of trees of words. What a file leaves to convention is made of the layout before the step. */
final class StepReader {
    private static final List<String> PRODUCTS = List.of("any", "h2", "sqlite", "postgresql", "mariadb");

    private final Layout before;
    private final SheetWords sheets;
    private final Map<String, Function<Lines, SchemaStep>> steps = new LinkedHashMap<>();

    /** What the step speaks of. */
    private Leaf subject = new Leaf("", true, Tree.Place.NOWHERE);

    /**
     * @param before the layout before the step
     */
    StepReader(Layout before) {
        this.before = before;
        this.sheets = new SheetWords(before);
        for (Sheet.Kind kind : Sheet.Kind.values()) {
            String word = SheetWords.words(kind);
            steps.put("create " + word, lines -> create(lines, kind));
            steps.put("drop " + word, lines -> drop(lines, kind));
            steps.put("rename " + word, lines -> rename(lines, kind));
        }
        steps.put("add attribute", this::addAttribute);
        steps.put("add link", this::addLink);
        steps.put("change attribute", this::changeAttribute);
        steps.put("change link", this::changeLink);
        steps.put("rename attribute", lines -> renameField(lines, false));
        steps.put("rename link", lines -> renameField(lines, true));
        steps.put("drop attribute", lines -> dropField(lines, false));
        steps.put("drop link", lines -> dropField(lines, true));
        steps.put("add unique", this::addUnique);
        steps.put("drop unique", lines -> new RuleStep.DropUnique(owner().name(), several()));
        steps.put("add index", this::addIndex);
        steps.put("drop index", lines -> new RuleStep.DropIndex(owner().name(), several()));
        steps.put("add check", this::addCheck);
        steps.put(
                "drop check",
                lines -> new RuleStep.DropCheck(
                        sheet(subject).name(),
                        Lines.leaf(lines.need("name"), "'name'").text()));
        steps.put("change key", this::changeKey);
        steps.put("create commit tokens", lines -> new SheetStep.Tokens(null, subject.text()));
        steps.put(
                "rename commit tokens",
                lines -> new SheetStep.Tokens(
                        subject.text(), Lines.leaf(lines.need("to"), "'to'").text()));
        steps.put("drop commit tokens", lines -> new SheetStep.Tokens(subject.text(), null));
        steps.put("backfill", this::backfill);
        steps.put("move values out of", lines -> move(lines, true));
        steps.put("move values into", lines -> move(lines, false));
        steps.put("sql", this::sql);
    }

    SchemaStep read(Tree tree) {
        Lines lines = Lines.of(tree, "a step");
        if (lines.branch().entries().isEmpty()) {
            throw new Misread(tree, "the step says nothing; write 'add attribute: Entity.name' say");
        }
        Entry first = lines.branch().entries().get(0);
        String what = first.key().text();
        Function<Lines, SchemaStep> step = steps.get(what);
        if (step == null) {
            throw new Misread(
                    first.key(),
                    "there is no step '" + what + "'"
                            + Nearest.to(what, steps.keySet())
                                    .map(one -> "; did you mean '" + one + "'?")
                                    .orElse("; there is " + String.join(", ", steps.keySet())));
        }
        Lines inside = new Lines(lines.branch(), "'" + what + "'");
        subject = Lines.leaf(first.value(), "'" + what + "'");
        inside.find(what);
        SchemaStep read = step.apply(inside);
        inside.end();
        return read;
    }

    // ---- whom the step speaks of

    private Sheet sheet(Leaf leaf) {
        return before.sheet(leaf.text())
                .orElseThrow(() -> new Misread(leaf, "there is no '" + leaf.text() + "' here" + near(leaf.text())));
    }

    private String near(String name) {
        return Nearest.to(name, before.sheets().keySet())
                .map(one -> "; did you mean '" + one + "'?")
                .orElse(
                        before.sheets().isEmpty()
                                ? "; nothing was created before"
                                : "; there is "
                                        + String.join(", ", before.sheets().keySet()));
    }

    private String kindIs(Sheet.Kind kind) {
        Sheet sheet = sheet(subject);
        if (sheet.kind() != kind) {
            throw new Misread(
                    subject,
                    sheet.name() + " is " + SheetWords.words(sheet.kind()) + ", not " + SheetWords.words(kind));
        }
        return sheet.name();
    }

    /** The sheet of {@code Sheet.field}: the longest beginning that is one. */
    private Sheet owner() {
        String text = subject.text();
        Sheet found = null;
        for (int dot = text.indexOf('.'); dot > 0; dot = text.indexOf('.', dot + 1)) {
            Sheet sheet = before.sheets().get(text.substring(0, dot));
            found = sheet == null ? found : sheet;
        }
        if (found != null) {
            return found;
        }
        int dot = text.indexOf('.');
        if (dot < 0) {
            throw new Misread(subject, "'" + text + "' names no attribute; write Entity.attribute");
        }
        throw new Misread(subject, "there is no '" + text.substring(0, dot) + "' here" + near(text.substring(0, dot)));
    }

    private String fieldName() {
        return subject.text().substring(owner().name().length() + 1);
    }

    private Field field(boolean link) {
        Field field = SheetWords.need(subject, owner(), fieldName());
        if (field instanceof Field.OfLink != link) {
            throw new Misread(
                    subject,
                    subject.text() + " is " + (link ? "an attribute, not a link" : "a link, not an attribute"));
        }
        return field;
    }

    /** The fields of {@code Sheet.[a, b]}, or the one of {@code Sheet.a}. */
    private List<String> several() {
        String name = fieldName();
        List<String> names = name.startsWith("[") && name.endsWith("]")
                ? List.of(name.substring(1, name.length() - 1).trim().split("\\s*,\\s*"))
                : List.of(name);
        names.forEach(one -> SheetWords.need(subject, owner(), one));
        return names;
    }

    // ---- sheets

    private SchemaStep create(Lines lines, Sheet.Kind kind) {
        String name = subject.text();
        if (kind == Sheet.Kind.ENTITY == name.contains(".")) {
            throw new Misread(
                    subject,
                    kind == Sheet.Kind.ENTITY
                            ? "an entity's name has no point: '" + name + "'"
                            : SheetWords.words(kind)
                                    + " are named by their entity and attribute, such as Vessel.remarks");
        }
        return new SheetStep.Create(sheets.read(lines, kind, name));
    }

    private SchemaStep drop(Lines lines, Sheet.Kind kind) {
        consent(lines, "rows");
        return new SheetStep.Drop(kind, kindIs(kind));
    }

    private void consent(Lines lines, String what) {
        Tree lost = lines.find(what);
        if (lost == null || !Lines.leaf(lost, "'" + what + "'").text().equals("lost")) {
            throw new Misread(lost == null ? subject : lost, what + " go with it; say so with '" + what + ": lost'");
        }
    }

    private SchemaStep rename(Lines lines, Sheet.Kind kind) {
        String name = kindIs(kind);
        String to = lines.word("to");
        String table = lines.word("table");
        if (to == null && table == null) {
            throw new Misread(subject, "a rename says 'to', or 'table' where the table alone has another name");
        }
        int dot = name.lastIndexOf('.');
        String newName = to == null ? name : dot < 0 ? to : name.substring(0, dot + 1) + to;
        return new SheetStep.Rename(
                kind, name, newName, table == null ? StepWriter.renamedTable(sheet(subject), newName) : table);
    }

    private SchemaStep changeKey(Lines lines) {
        Sheet sheet = sheet(subject);
        List<String> key = sheet.key().stream().map(Field::name).toList();
        List<String> fields = key;
        List<String> newFields = key;
        Tree tree = lines.find("fields");
        if (tree != null) {
            Lines both = fromTo(tree, "'fields'");
            fields = Lines.words(both.need("from"), "'from'");
            newFields = SheetWords.fields(both.need("to"), sheet);
            both.end();
        }
        KeySource source = sheet.keySource();
        KeySource newSource = source;
        Tree keys = lines.find("keys");
        if (keys != null) {
            Lines both = fromTo(keys, "'keys'");
            source = SheetWords.readSource(both.need("from"));
            newSource = SheetWords.readSource(both.need("to"));
            both.end();
        }
        return new SheetStep.ChangeKey(sheet.name(), fields, newFields, source, newSource);
    }

    // ---- fields

    private SchemaStep addAttribute(Lines lines) {
        Sheet owner = owner();
        Field field = SheetWords.readColumn(fieldName(), lines, false);
        return new FieldStep.Add(owner.name(), field, readFill(lines, owner, field));
    }

    private SchemaStep addLink(Lines lines) {
        Sheet owner = owner();
        Map<String, String> given = new HashMap<>();
        Field.OfLink link = sheets.readLink(fieldName(), lines, owner, given, false);
        Field.OfLink named = StepWriter.conventional(owner, link);
        link = link.with(
                given.getOrDefault(link.name() + " constraint", named.constraint()),
                given.getOrDefault(link.name() + " index", named.index()));
        return new FieldStep.Add(owner.name(), link, readFill(lines, owner, link));
    }

    private SchemaStep changeAttribute(Lines lines) {
        Sheet owner = owner();
        Field.OfColumn there = (Field.OfColumn) field(false);
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

    private SchemaStep changeLink(Lines lines) {
        Sheet owner = owner();
        Field.OfLink there = (Field.OfLink) field(true);
        Field.OfLink old = there;
        Field.OfLink now = there;
        Lines required = pair(lines, "required");
        if (required != null) {
            old = link(old, Lines.truth(required.need("from"), "'from'"), old.onDelete(), old.deferrable());
            now = link(now, Lines.truth(required.need("to"), "'to'"), now.onDelete(), now.deferrable());
        }
        Lines rule = pair(lines, "on delete");
        if (rule != null) {
            old = link(old, old.required(), SheetWords.readRule(rule.need("from")), old.deferrable());
            now = link(now, now.required(), SheetWords.readRule(rule.need("to")), now.deferrable());
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
            throw new Misread(subject, "a required link cannot become empty; take cascade or restrict");
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
            throw new Misread(subject, "the step changes nothing; say what was and will be: type: { from: …, to: … }");
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

    private static Lines fromTo(Tree tree, String what) {
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

    private SchemaStep renameField(Lines lines, boolean link) {
        Field field = field(link);
        String to = lines.word("to");
        List<String> columns = lines.words(link ? "columns" : "column");
        if (to == null && columns == null) {
            throw new Misread(
                    subject,
                    "a rename says 'to', or '" + (link ? "columns" : "column") + "' where that alone has another name");
        }
        String newName = to == null ? field.name() : to;
        return new FieldStep.Rename(
                owner().name(),
                field.name(),
                newName,
                columns == null ? StepWriter.renamedColumns(field, newName) : columns);
    }

    private SchemaStep dropField(Lines lines, boolean link) {
        consent(lines, "values");
        return new FieldStep.Drop(owner().name(), field(link).name(), link);
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
    Fill fill(Tree fill, Sheet owner) {
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
        return new Fill.OfSql(texts(Objects.requireNonNull(sql)));
    }

    // ---- rules

    private SchemaStep addUnique(Lines lines) {
        Sheet owner = owner();
        Sheet.Unique unique = new Sheet.Unique("", several(), lines.isTrue("deferrable"));
        String name = lines.word("name");
        String convention = owner.withUniques(List.of(unique))
                .conventional()
                .uniques()
                .get(0)
                .name();
        return new RuleStep.AddUnique(
                owner.name(), new Sheet.Unique(name == null ? convention : name, unique.fields(), unique.deferrable()));
    }

    private SchemaStep addIndex(Lines lines) {
        Sheet owner = owner();
        Sheet.Listed index = new Sheet.Listed("", several());
        String name = lines.word("name");
        String convention = owner.withIndexes(List.of(index))
                .conventional()
                .indexes()
                .get(0)
                .name();
        return new RuleStep.AddIndex(owner.name(), new Sheet.Listed(name == null ? convention : name, index.fields()));
    }

    private SchemaStep addCheck(Lines lines) {
        Sheet owner = sheet(subject);
        Sheet.Held check = new Sheet.Held("", new ConditionWords(owner).read(lines.need("that")));
        String name = lines.word("name");
        String convention =
                owner.withChecks(List.of(check)).conventional().checks().get(0).name();
        return new RuleStep.AddCheck(owner.name(), new Sheet.Held(name == null ? convention : name, check.condition()));
    }

    // ---- rows

    private SchemaStep backfill(Lines lines) {
        Field field = SheetWords.need(subject, owner(), fieldName());
        Tree of = lines.find("term");
        Term term = of == null ? null : new ConditionWords(owner()).readTerm(of);
        Map<String, String> sql = of == null ? texts(lines.need("sql")) : Map.of();
        Tree portions = lines.find("portions");
        long size = portions == null ? 0 : SheetWords.number(portions);
        if (portions != null && size < 1 || size > Integer.MAX_VALUE) {
            throw new Misread(portions == null ? subject : portions, "'portions' is a number of rows, at least 1");
        }
        return new DataStep.Backfill(owner().name(), field.name(), term, sql, (int) size);
    }

    /** Each attribute of the one with that of the other. */
    private SchemaStep move(Lines lines, boolean out) {
        Sheet owner = sheet(subject);
        Tree by = lines.need("by");
        String link = Lines.leaf(by, "'by'").text();
        if (!(SheetWords.need(by, owner, link) instanceof Field.OfLink way)) {
            throw new Misread(
                    by, owner.name() + "." + link + " is no link; name the one that leads to the other entity");
        }
        Sheet target = before.sheet(way.to()).orElse(owner);
        Map<String, String> fields = new LinkedHashMap<>();
        Tree attributes = lines.need("attributes");
        for (Entry entry : Lines.of(attributes, "'attributes'").branch().entries()) {
            SheetWords.need(entry.key(), owner, entry.key().text());
            Leaf other = Lines.leaf(entry.value(), "an attribute");
            SheetWords.need(other, target, other.text());
            fields.put(entry.key().text(), other.text());
        }
        if (fields.isEmpty()) {
            throw new Misread(attributes, "no attribute is named; write { address.city: city }");
        }
        return new DataStep.Move(owner.name(), link, out, fields);
    }

    private SchemaStep sql(Lines lines) {
        return new DataStep.Sql(subject.text(), texts(lines.need("of")));
    }

    private static Map<String, String> texts(Tree tree) {
        Map<String, String> texts = new LinkedHashMap<>();
        for (Entry entry : Lines.of(tree, "SQL").branch().entries()) {
            String product = entry.key().text();
            if (!PRODUCTS.contains(product)) {
                throw new Misread(
                        entry.key(),
                        "there is no product '" + product + "'"
                                + Nearest.to(product, PRODUCTS)
                                        .map(one -> "; did you mean '" + one + "'?")
                                        .orElse("; there is " + String.join(", ", PRODUCTS)));
            }
            if (texts.put(product, Lines.leaf(entry.value(), "SQL").text()) != null) {
                throw new Misread(entry.key(), "'" + product + "' is said twice");
            }
        }
        if (texts.isEmpty()) {
            throw new Misread(tree, "SQL is said by product: { any: \"…\" }, or { postgresql: \"…\", h2: \"…\" }");
        }
        return texts;
    }
}
