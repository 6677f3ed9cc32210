package io.bathra.evolve;

import io.bathra.evolve.Tree.Entry;
import io.bathra.evolve.Tree.Leaf;
import io.bathra.history.DataStep;
import io.bathra.history.Nearest;
import io.bathra.history.RuleStep;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.mapping.KeySource;
import io.bathra.question.Term;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/** Steps out of trees of words. What a file leaves to convention is made of the layout before the step. */
final class StepReader {
    private static final List<String> PRODUCTS = List.of("any", "h2", "sqlite", "postgresql", "mariadb");

    private final Layout before;
    private final SheetWords sheets;
    private final Map<String, Function<Lines, SchemaStep>> steps = new LinkedHashMap<>();

    private Subject subject;

    /**
     * @param before the layout before the step
     */
    StepReader(Layout before) {
        this.before = before;
        this.subject = new Subject(before, new Leaf("", true, Tree.Place.NOWHERE));
        this.sheets = new SheetWords(before);
        for (Sheet.Kind kind : Sheet.Kind.values()) {
            String word = SheetWords.words(kind);
            steps.put("create " + word, lines -> create(lines, kind));
            steps.put("drop " + word, lines -> drop(lines, kind));
            steps.put("rename " + word, lines -> rename(lines, kind));
        }
        steps.put("add attribute", lines -> fieldStep().addAttribute(lines));
        steps.put("add link", lines -> fieldStep().addLink(lines));
        steps.put("change attribute", lines -> fieldStep().changeAttribute(lines));
        steps.put("change link", lines -> fieldStep().changeLink(lines));
        steps.put("rename attribute", lines -> fieldStep().renameField(lines, false));
        steps.put("rename link", lines -> fieldStep().renameField(lines, true));
        steps.put("drop attribute", lines -> fieldStep().dropField(lines, false));
        steps.put("drop link", lines -> fieldStep().dropField(lines, true));
        steps.put("add unique", this::addUnique);
        steps.put(
                "drop unique", lines -> new RuleStep.DropUnique(subject.owner().name(), subject.several()));
        steps.put("add index", this::addIndex);
        steps.put("drop index", lines -> new RuleStep.DropIndex(subject.owner().name(), subject.several()));
        steps.put("add check", this::addCheck);
        steps.put(
                "drop check",
                lines -> new RuleStep.DropCheck(
                        subject.sheet().name(),
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
        subject = new Subject(before, Lines.leaf(first.value(), "'" + what + "'"));
        inside.find(what);
        SchemaStep read = step.apply(inside);
        inside.end();
        return read;
    }

    private FieldStepReader fieldStep() {
        return new FieldStepReader(before, subject);
    }

    // ---- sheets

    private SchemaStep create(Lines lines, Sheet.Kind kind) {
        String name = subject.text();
        if (kind == Sheet.Kind.ENTITY == name.contains(".")) {
            throw new Misread(
                    subject.leaf(),
                    kind == Sheet.Kind.ENTITY
                            ? "an entity's name has no point: '" + name + "'"
                            : SheetWords.words(kind)
                                    + " are named by their entity and attribute, such as Vessel.remarks");
        }
        return new SheetStep.Create(sheets.read(lines, kind, name));
    }

    private SchemaStep drop(Lines lines, Sheet.Kind kind) {
        subject.consent(lines, "rows");
        return new SheetStep.Drop(kind, subject.kindIs(kind));
    }

    private SchemaStep rename(Lines lines, Sheet.Kind kind) {
        String name = subject.kindIs(kind);
        String to = lines.word("to");
        String table = lines.word("table");
        if (to == null && table == null) {
            throw new Misread(subject.leaf(), "a rename says 'to', or 'table' where the table alone has another name");
        }
        int dot = name.lastIndexOf('.');
        String newName = to == null ? name : dot < 0 ? to : name.substring(0, dot + 1) + to;
        return new SheetStep.Rename(
                kind, name, newName, table == null ? StepWriter.renamedTable(subject.sheet(), newName) : table);
    }

    private SchemaStep changeKey(Lines lines) {
        Sheet sheet = subject.sheet();
        List<String> key = sheet.key().stream().map(Field::name).toList();
        List<String> fields = key;
        List<String> newFields = key;
        Tree tree = lines.find("fields");
        if (tree != null) {
            Lines both = FieldStepReader.fromTo(tree, "'fields'");
            fields = Lines.words(both.need("from"), "'from'");
            newFields = FieldWords.fields(both.need("to"), sheet);
            both.end();
        }
        KeySource source = sheet.keySource();
        KeySource newSource = source;
        Tree keys = lines.find("keys");
        if (keys != null) {
            Lines both = FieldStepReader.fromTo(keys, "'keys'");
            source = KeyWords.read(both.need("from"));
            newSource = KeyWords.read(both.need("to"));
            both.end();
        }
        return new SheetStep.ChangeKey(sheet.name(), fields, newFields, source, newSource);
    }

    // ---- rules

    private SchemaStep addUnique(Lines lines) {
        Sheet owner = subject.owner();
        Sheet.Unique unique = new Sheet.Unique("", subject.several(), lines.isTrue("deferrable"));
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
        Sheet owner = subject.owner();
        Sheet.Listed index = new Sheet.Listed("", subject.several());
        String name = lines.word("name");
        String convention = owner.withIndexes(List.of(index))
                .conventional()
                .indexes()
                .get(0)
                .name();
        return new RuleStep.AddIndex(owner.name(), new Sheet.Listed(name == null ? convention : name, index.fields()));
    }

    private SchemaStep addCheck(Lines lines) {
        Sheet owner = subject.sheet();
        Sheet.Held check = new Sheet.Held("", new ConditionWords(owner).read(lines.need("that")));
        String name = lines.word("name");
        String convention =
                owner.withChecks(List.of(check)).conventional().checks().get(0).name();
        return new RuleStep.AddCheck(owner.name(), new Sheet.Held(name == null ? convention : name, check.condition()));
    }

    // ---- rows

    private SchemaStep backfill(Lines lines) {
        Field field = FieldWords.need(subject.leaf(), subject.owner(), subject.fieldName());
        Tree of = lines.find("term");
        Term term = of == null ? null : new ConditionWords(subject.owner()).readTerm(of);
        Map<String, String> sql = of == null ? texts(lines.need("sql")) : Map.of();
        Tree portions = lines.find("portions");
        long size = portions == null ? 0 : Lines.number(portions);
        if ((portions != null && size < 1) || size > Integer.MAX_VALUE) {
            throw new Misread(
                    portions == null ? subject.leaf() : portions, "'portions' is a number of rows, at least 1");
        }
        return new DataStep.Backfill(subject.owner().name(), field.name(), term, sql, (int) size);
    }

    /** Each attribute of the one with that of the other. */
    private SchemaStep move(Lines lines, boolean out) {
        Sheet owner = subject.sheet();
        Tree by = lines.need("by");
        String link = Lines.leaf(by, "'by'").text();
        if (!(FieldWords.need(by, owner, link) instanceof Field.OfLink way)) {
            throw new Misread(
                    by, owner.name() + "." + link + " is no link; name the one that leads to the other entity");
        }
        Sheet target = before.sheet(way.to()).orElse(owner);
        Map<String, String> fields = new LinkedHashMap<>();
        Tree attributes = lines.need("attributes");
        for (Entry entry : Lines.of(attributes, "'attributes'").branch().entries()) {
            FieldWords.need(entry.key(), owner, entry.key().text());
            Leaf other = Lines.leaf(entry.value(), "an attribute");
            FieldWords.need(other, target, other.text());
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

    /** SQL by product. */
    static Map<String, String> texts(Tree tree) {
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
