package io.bathra.evolve;

import io.bathra.history.Convention;
import io.bathra.history.DataStep;
import io.bathra.history.FieldStep;
import io.bathra.history.Fill;
import io.bathra.history.RuleStep;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Steps as trees of words. */
final class StepWriter {
    static final String NONE = "none";

    private final Layout before;
    private final SheetWords sheets;
    private final FieldWords fields;

    /**
     * @param before the layout before the step
     */
    StepWriter(Layout before) {
        this.before = before;
        this.sheets = new SheetWords(before);
        this.fields = new FieldWords(before);
    }

    Tree write(SchemaStep step) {
        if (step instanceof SheetStep one) {
            return write(one);
        } else if (step instanceof FieldStep one) {
            return write(one);
        } else if (step instanceof RuleStep one) {
            return write(one);
        }
        return write((DataStep) step);
    }

    private Tree write(SheetStep step) {
        if (step instanceof SheetStep.Create create) {
            return sheets.write(create.sheet()).branch();
        } else if (step instanceof SheetStep.Drop drop) {
            return begin("drop " + SheetWords.words(drop.kind()), drop.name())
                    .put("rows", Tree.word("lost"))
                    .branch();
        } else if (step instanceof SheetStep.Rename rename) {
            return write(rename);
        } else if (step instanceof SheetStep.ChangeKey change) {
            Tree.Growing map = begin("change key", change.sheet());
            if (!change.fields().equals(change.newFields())) {
                map.put("fields", fromTo(Tree.words(change.fields()), Tree.words(change.newFields())));
            }
            if (!change.source().equals(change.newSource())) {
                map.put("keys", fromTo(KeyWords.write(change.source()), KeyWords.write(change.newSource())));
            }
            return map.branch();
        }
        SheetStep.Tokens tokens = (SheetStep.Tokens) step;
        if (tokens.table() == null) {
            return begin("create commit tokens", String.valueOf(tokens.newTable()))
                    .branch();
        }
        return tokens.newTable() == null
                ? begin("drop commit tokens", tokens.table()).branch()
                : begin("rename commit tokens", tokens.table())
                        .put("to", Tree.word(tokens.newTable()))
                        .branch();
    }

    private Tree write(SheetStep.Rename step) {
        Tree.Growing map = begin("rename " + SheetWords.words(step.kind()), step.name());
        boolean named = !step.name().equals(step.newName());
        int dot = step.newName().lastIndexOf('.');
        map.putIf(named, "to", step.newName().substring(dot + 1));
        boolean follows = before.sheet(step.name())
                .filter(sheet -> step.newTable().equals(renamedTable(sheet, step.newName())))
                .isPresent();
        return map.putIf(!follows, "table", step.newTable()).branch();
    }

    /** A table whose name was made of the old one has a name that is made of the new one. */
    static String renamedTable(Sheet sheet, String newName) {
        return sheet.table().equals(Convention.table(sheet.name())) ? Convention.table(newName) : sheet.table();
    }

    private Tree write(FieldStep step) {
        if (step instanceof FieldStep.Add add) {
            Sheet owner = before.sheet(add.sheet()).orElseThrow();
            String place = add.sheet() + "." + add.field().name();
            Tree.Growing map = begin("add " + FieldStep.word(add.field()), place);
            Tree.Growing spec = add.field() instanceof Field.OfLink link
                    ? fields.write(owner, link, conventional(owner, link), false)
                    : FieldWords.write((Field.OfColumn) add.field(), false);
            spec.branch().entries().forEach(entry -> map.put(entry.key().text(), entry.value()));
            return fill(map, add.fill()).branch();
        } else if (step instanceof FieldStep.Drop drop) {
            return begin("drop " + (drop.link() ? "link" : "attribute"), drop.sheet() + "." + drop.name())
                    .put("values", Tree.word("lost"))
                    .branch();
        } else if (step instanceof FieldStep.Rename rename) {
            return write(rename);
        }
        FieldStep.Change change = (FieldStep.Change) step;
        Tree.Growing map = begin(
                "change " + FieldStep.word(change.field()),
                change.sheet() + "." + change.field().name());
        if (change.field() instanceof Field.OfColumn old && change.newField() instanceof Field.OfColumn now) {
            differing(map, "type", TypeWords.of(old.type()), TypeWords.of(now.type()));
            differing(map, "required", old.required(), now.required());
            if (!Objects.equals(old.byDefault(), now.byDefault())) {
                map.put("default", fromTo(orNone(old.byDefault()), orNone(now.byDefault())));
            }
        } else if (change.field() instanceof Field.OfLink old && change.newField() instanceof Field.OfLink now) {
            differing(map, "required", old.required(), now.required());
            differing(map, "on delete", SheetWords.words(old.onDelete()), SheetWords.words(now.onDelete()));
            differing(map, "deferrable", old.deferrable(), now.deferrable());
            differing(map, "constraint", old.constraint(), now.constraint());
            differing(map, "index", old.index(), now.index());
        }
        return fill(map, change.fill()).branch();
    }

    private static Tree orNone(@Nullable String text) {
        return text == null ? Tree.word(NONE) : Tree.text(text);
    }

    private Tree write(FieldStep.Rename step) {
        Sheet owner = before.sheet(step.sheet()).orElseThrow();
        Field field = owner.field(step.name()).orElseThrow();
        boolean link = field instanceof Field.OfLink;
        Tree.Growing map = begin("rename " + (link ? "link" : "attribute"), step.sheet() + "." + step.name());
        map.putIf(!step.name().equals(step.newName()), "to", step.newName());
        if (!step.newColumns().equals(renamedColumns(field, step.newName()))) {
            map.put(
                    link ? "columns" : "column",
                    link
                            ? Tree.words(step.newColumns())
                            : Tree.word(step.newColumns().get(0)));
        }
        return map.branch();
    }

    /** Columns whose names were made of the old one have names that are made of the new one. */
    static List<String> renamedColumns(Field field, String newName) {
        return field instanceof Field.OfLink
                ? Convention.renamedColumns(field, newName)
                : field.columns().get(0).equals(Convention.column(field.name()))
                        ? List.of(Convention.column(newName))
                        : field.columns();
    }

    private Tree write(RuleStep step) {
        if (step instanceof RuleStep.AddUnique add) {
            Sheet owner = before.sheet(add.sheet()).orElseThrow();
            String convention = owner.withUniques(List.of(add.unique()))
                    .conventional()
                    .uniques()
                    .get(0)
                    .name();
            return begin("add unique", fields(add.sheet(), add.unique().fields()))
                    .putIf(
                            !convention.equals(add.unique().name()),
                            "name",
                            add.unique().name())
                    .putIf(add.unique().deferrable(), "deferrable", true)
                    .branch();
        } else if (step instanceof RuleStep.DropUnique drop) {
            return begin("drop unique", fields(drop.sheet(), drop.fields())).branch();
        } else if (step instanceof RuleStep.AddIndex add) {
            Sheet owner = before.sheet(add.sheet()).orElseThrow();
            String convention = owner.withIndexes(List.of(add.index()))
                    .conventional()
                    .indexes()
                    .get(0)
                    .name();
            return begin("add index", fields(add.sheet(), add.index().fields()))
                    .putIf(
                            !convention.equals(add.index().name()),
                            "name",
                            add.index().name())
                    .branch();
        } else if (step instanceof RuleStep.DropIndex drop) {
            return begin("drop index", fields(drop.sheet(), drop.fields())).branch();
        } else if (step instanceof RuleStep.AddCheck add) {
            Sheet owner = before.sheet(add.sheet()).orElseThrow();
            String convention = owner.withChecks(List.of(add.check()))
                    .conventional()
                    .checks()
                    .get(0)
                    .name();
            return begin("add check", add.sheet())
                    .put("that", ConditionWords.write(add.check().condition()))
                    .putIf(
                            !convention.equals(add.check().name()),
                            "name",
                            add.check().name())
                    .branch();
        }
        RuleStep.DropCheck drop = (RuleStep.DropCheck) step;
        return begin("drop check", drop.sheet())
                .put("name", Tree.word(drop.name()))
                .branch();
    }

    /** {@code Seal.[container, number]}. */
    static String fields(String sheet, List<String> fields) {
        return sheet + ".[" + String.join(", ", fields) + "]";
    }

    private static Tree write(DataStep step) {
        if (step instanceof DataStep.Backfill backfill) {
            Tree.Growing map = begin("backfill", backfill.sheet() + "." + backfill.field());
            if (backfill.term() == null) {
                map.put("sql", texts(backfill.sql()));
            } else {
                map.put("term", ConditionWords.term(backfill.term()));
            }
            return map.putIf(backfill.portions() > 0, "portions", backfill.portions())
                    .branch();
        }
        if (step instanceof DataStep.Move move) {
            Tree.Growing fields = Tree.map();
            move.fields().forEach((field, other) -> fields.put(field, Tree.word(other)));
            return begin(move.out() ? "move values out of" : "move values into", move.sheet())
                    .put("by", Tree.word(move.link()))
                    .put("attributes", fields.branch())
                    .branch();
        }
        return begin("sql", ((DataStep.Sql) step).words())
                .put("of", texts(step.sql()))
                .branch();
    }

    private static Tree texts(Map<String, String> sql) {
        Tree.Growing map = Tree.map();
        new TreeMap<>(sql).forEach((product, text) -> map.put(product, Tree.text(text)));
        return map.branch();
    }

    static Tree.Growing fill(Tree.Growing map, @Nullable Fill fill) {
        if (fill instanceof Fill.OfValue value) {
            map.put(
                    "fill",
                    Tree.map()
                            .put("value", ConditionWords.literal(value.literal()))
                            .branch());
        } else if (fill instanceof Fill.OfTerm term) {
            map.put(
                    "fill",
                    Tree.map().put("term", ConditionWords.term(term.term())).branch());
        } else if (fill instanceof Fill.OfSql sql) {
            map.put("fill", Tree.map().put("sql", texts(sql.expressions())).branch());
        }
        return map;
    }

    private static Tree.Growing begin(String what, String name) {
        return Tree.map().put(what, Tree.word(name));
    }

    private static Tree fromTo(Tree from, Tree to) {
        return Tree.map().put("from", from).put("to", to).branch();
    }

    private static void differing(Tree.Growing map, String key, Object from, Object to) {
        if (!from.equals(to)) {
            map.put(key, fromTo(Tree.word(from), Tree.word(to)));
        }
    }

    /** The same link with the names that convention gives. */
    static Field.OfLink conventional(Sheet owner, Field.OfLink link) {
        List<Field> fields = owner.withFields(List.of(link), 0)
                .withUniques(List.of())
                .withIndexes(List.of())
                .withChecks(List.of())
                .conventional()
                .fields();
        return (Field.OfLink) fields.get(0);
    }
}
