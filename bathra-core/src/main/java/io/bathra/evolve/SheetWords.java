package io.bathra.evolve;

import io.bathra.evolve.Tree.Branch;
import io.bathra.evolve.Tree.Entry;
import io.bathra.evolve.Tree.Items;
import io.bathra.evolve.Tree.Leaf;
import io.bathra.history.Convention;
import io.bathra.mapping.KeySource;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Entities, parts and pivots, and what belongs to them, as trees of words. What follows from convention is not said. */
final class SheetWords {
    private final FieldWords fieldWords;

    /**
     * @param before the layout into which the words are said
     */
    SheetWords(Layout before) {
        this.fieldWords = new FieldWords(before);
    }

    static String words(Enum<?> constant) {
        return constant.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    // ---- a whole sheet

    Tree.Growing write(Sheet sheet) {
        Sheet convention = sheet.conventional();
        Tree.Growing map = Tree.map().put("create " + words(sheet.kind()), Tree.word(sheet.name()));
        map.putIf(!sheet.table().equals(Convention.table(sheet.name())), "table", sheet.table());
        map.put("key", Tree.words(sheet.key().stream().map(Field::name).toList()));
        if (sheet.keySource() != KeySource.ASSIGNED) {
            map.put("keys", KeyWords.write(sheet.keySource()));
        }
        map.putIf(!sheet.primaryKey().equals(convention.primaryKey()), "primary key", sheet.primaryKey());
        Tree.Growing attributes = Tree.map();
        Tree.Growing links = Tree.map();
        for (int i = 0; i < sheet.fields().size(); i++) {
            Field field = sheet.fields().get(i);
            boolean key = i < sheet.keyFields();
            if (field instanceof Field.OfLink link) {
                Field.OfLink named = (Field.OfLink) convention.fields().get(i);
                links.put(link.name(), shortened(fieldWords.write(sheet, link, named, key), "to"));
            } else {
                attributes.put(field.name(), shortened(FieldWords.write((Field.OfColumn) field, key), "type"));
            }
        }
        putAll(map, "attributes", attributes);
        putAll(map, "links", links);
        List<Tree> uniques = new ArrayList<>();
        for (int i = 0; i < sheet.uniques().size(); i++) {
            Sheet.Unique one = sheet.uniques().get(i);
            String name = one.name().equals(convention.uniques().get(i).name()) ? null : one.name();
            uniques.add(rule(one.fields(), name, one.deferrable()));
        }
        List<Tree> indexes = new ArrayList<>();
        for (int i = 0; i < sheet.indexes().size(); i++) {
            Sheet.Listed one = sheet.indexes().get(i);
            String name = one.name().equals(convention.indexes().get(i).name()) ? null : one.name();
            indexes.add(rule(one.fields(), name, false));
        }
        List<Tree> checks = new ArrayList<>();
        for (int i = 0; i < sheet.checks().size(); i++) {
            Sheet.Held one = sheet.checks().get(i);
            boolean conventional = one.name().equals(convention.checks().get(i).name());
            Branch that = (Branch) ConditionWords.write(one.condition());
            checks.add(
                    conventional
                            ? that
                            : Tree.map()
                                    .put("name", Tree.word(one.name()))
                                    .put("that", that)
                                    .branch());
        }
        putAll(map, "unique", uniques);
        putAll(map, "index", indexes);
        putAll(map, "check", checks);
        return map;
    }

    private static void putAll(Tree.Growing map, String key, Tree.Growing inside) {
        if (!inside.isEmpty()) {
            map.put(key, inside.branch());
        }
    }

    private static void putAll(Tree.Growing map, String key, List<Tree> inside) {
        if (!inside.isEmpty()) {
            map.put(key, Tree.list(inside));
        }
    }

    /** A map of one line is that line's word alone. */
    private static Tree shortened(Tree.Growing map, String key) {
        Branch branch = map.branch();
        return branch.entries().size() == 1
                        && branch.entries().get(0).key().text().equals(key)
                ? branch.entries().get(0).value()
                : branch;
    }

    private static Tree rule(List<String> fields, @Nullable String name, boolean deferrable) {
        Tree words = Tree.words(fields);
        if (name == null && !deferrable) {
            return words;
        }
        Tree.Growing map = Tree.map().put("of", words);
        return map.putIf(name != null, "name", String.valueOf(name))
                .putIf(deferrable, "deferrable", true)
                .branch();
    }

    Sheet read(Lines lines, Sheet.Kind kind, String name) {
        String table = lines.word("table");
        Tree keyTree = lines.need("key");
        List<String> key = Lines.words(keyTree, "'key'");
        Tree keys = lines.find("keys");
        String primaryKey = lines.word("primary key");
        Map<String, Field> fields = new LinkedHashMap<>();
        Map<String, String> given = new LinkedHashMap<>();
        Sheet self = readFields(lines, kind, name, key, keyTree, fields, given);
        Sheet sheet = new Sheet(
                kind,
                name,
                table == null ? Convention.table(name) : table,
                self.fields(),
                self.keyFields(),
                keys == null ? KeySource.ASSIGNED : KeyWords.read(keys),
                "",
                List.of(),
                List.of(),
                List.of());
        return named(rules(lines, sheet), given, primaryKey);
    }

    /** The fields, those of the key first; links may lead to the sheet itself. */
    private Sheet readFields(
            Lines lines,
            Sheet.Kind kind,
            String name,
            List<String> key,
            Tree keyTree,
            Map<String, Field> fields,
            Map<String, String> given) {
        List<Entry> links = lines.entries("links");
        for (Entry entry : lines.entries("attributes")) {
            Lines attribute = entry.value() instanceof Leaf
                    ? new Lines(
                            Tree.map().put("type", entry.value()).branch(),
                            entry.key().text())
                    : Lines.of(entry.value(), "'" + entry.key().text() + "'");
            put(
                    fields,
                    entry,
                    FieldWords.readColumn(
                            entry.key().text(),
                            attribute,
                            key.contains(entry.key().text())));
            attribute.end();
        }
        for (String one : key) {
            boolean known = fields.containsKey(one)
                    || links.stream().anyMatch(entry -> entry.key().text().equals(one));
            if (!known) {
                throw new Misread(
                        keyTree, "the key has '" + one + "', which is neither among the attributes nor the links");
            }
        }
        for (Entry entry : links) {
            Lines link = entry.value() instanceof Leaf
                    ? new Lines(
                            Tree.map().put("to", entry.value()).branch(),
                            entry.key().text())
                    : Lines.of(entry.value(), "'" + entry.key().text() + "'");
            Sheet self = ordered(kind, name, key, fields);
            put(
                    fields,
                    entry,
                    fieldWords.readLink(
                            entry.key().text(),
                            link,
                            self,
                            given,
                            key.contains(entry.key().text())));
            link.end();
        }
        return ordered(kind, name, key, fields);
    }

    private static void put(Map<String, Field> fields, Entry entry, Field field) {
        if (fields.put(field.name(), field) != null) {
            throw new Misread(entry.key(), "there is an attribute and a link '" + field.name() + "'");
        }
    }

    private static Sheet ordered(Sheet.Kind kind, String name, List<String> key, Map<String, Field> fields) {
        List<Field> ordered = new ArrayList<>();
        for (String one : key) {
            Field field = fields.get(one);
            if (field != null) {
                ordered.add(field);
            }
        }
        int size = ordered.size();
        fields.values().stream().filter(field -> !key.contains(field.name())).forEach(ordered::add);
        return new Sheet(
                kind,
                name,
                Convention.table(name),
                ordered,
                size,
                KeySource.ASSIGNED,
                "",
                List.of(),
                List.of(),
                List.of());
    }

    private Sheet rules(Lines lines, Sheet sheet) {
        List<Sheet.Unique> uniques = new ArrayList<>();
        for (Tree one : lines.items("unique")) {
            uniques.add(readUnique(one, sheet));
        }
        List<Sheet.Listed> indexes = new ArrayList<>();
        for (Tree one : lines.items("index")) {
            indexes.add(readIndex(one, sheet));
        }
        List<Sheet.Held> checks = new ArrayList<>();
        for (Tree one : lines.items("check")) {
            Lines check = Lines.of(one, "a check");
            Tree that = check.find("that");
            String name = that == null ? null : check.word("name");
            if (that != null) {
                check.end();
            }
            checks.add(new Sheet.Held(
                    name == null ? "" : name, new ConditionWords(sheet).read(that == null ? one : that)));
        }
        return sheet.withUniques(uniques).withIndexes(indexes).withChecks(checks);
    }

    /** What has no name gets the one that convention gives it. */
    private static Sheet named(Sheet sheet, Map<String, String> given, @Nullable String primaryKey) {
        Sheet convention = sheet.conventional();
        List<Field> fields = new ArrayList<>();
        for (Field field : convention.fields()) {
            fields.add(
                    field instanceof Field.OfLink link
                            ? link.with(
                                    given.getOrDefault(link.name() + " constraint", link.constraint()),
                                    given.getOrDefault(link.name() + " index", link.index()))
                            : field);
        }
        List<Sheet.Unique> uniques = new ArrayList<>();
        for (int i = 0; i < sheet.uniques().size(); i++) {
            Sheet.Unique one = sheet.uniques().get(i);
            uniques.add(one.name().isEmpty() ? convention.uniques().get(i) : one);
        }
        List<Sheet.Listed> indexes = new ArrayList<>();
        for (int i = 0; i < sheet.indexes().size(); i++) {
            Sheet.Listed one = sheet.indexes().get(i);
            indexes.add(one.name().isEmpty() ? convention.indexes().get(i) : one);
        }
        List<Sheet.Held> checks = new ArrayList<>();
        for (int i = 0; i < sheet.checks().size(); i++) {
            Sheet.Held one = sheet.checks().get(i);
            checks.add(one.name().isEmpty() ? convention.checks().get(i) : one);
        }
        Sheet named = convention
                .withFields(fields)
                .withUniques(uniques)
                .withIndexes(indexes)
                .withChecks(checks);
        return primaryKey == null ? named : named.withPrimaryKey(primaryKey);
    }

    // ---- rules

    Sheet.Unique readUnique(Tree tree, Sheet sheet) {
        if (tree instanceof Items || tree instanceof Leaf) {
            return new Sheet.Unique("", FieldWords.fields(tree, sheet), false);
        }
        Lines lines = Lines.of(tree, "a unique constraint");
        Tree of = lines.need("of");
        String name = lines.word("name");
        boolean deferrable = lines.isTrue("deferrable");
        lines.end();
        return new Sheet.Unique(name == null ? "" : name, FieldWords.fields(of, sheet), deferrable);
    }

    Sheet.Listed readIndex(Tree tree, Sheet sheet) {
        if (tree instanceof Items || tree instanceof Leaf) {
            return new Sheet.Listed("", FieldWords.fields(tree, sheet));
        }
        Lines lines = Lines.of(tree, "an index");
        Tree of = lines.need("of");
        String name = lines.word("name");
        lines.end();
        return new Sheet.Listed(name == null ? "" : name, FieldWords.fields(of, sheet));
    }
}
