package io.bathra.history;

import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * The steps that lead from one layout to another. What is new is made first, and what goes goes last, so that values can
 * be taken over in between; what stands in the way of something new goes before it.
 */
public final class Draft {
    private final Layout target;
    private final Map<String, Fill> fills;
    private final List<SchemaStep> steps = new ArrayList<>();
    private final Set<String> created = new LinkedHashSet<>();
    private final List<String> wanting = new ArrayList<>();
    private Layout state;

    private Draft(Layout from, Layout target, Map<String, Fill> fills) {
        this.state = from;
        this.target = target;
        this.fills = fills;
    }

    /**
     * Steps from one layout to another.
     *
     * @param renamed what has another name in the target: entities, parts and pivots, and attributes and links, as {@code
     *     Pilot} or {@code Pilot.phone}, with the new name alone
     * @param fills what rows that are there get in new attributes, by their names: {@code Pilot.badge}
     * @throws StepMisfit when something that is renamed is not there, or no steps lead to the target
     */
    public static Draft of(Layout from, Layout target, Map<String, String> renamed, Map<String, Fill> fills) {
        Draft draft = new Draft(from, target, fills);
        renamed.forEach(draft::rename);
        draft.tables();
        draft.dropRules();
        draft.clearTheWay();
        draft.create();
        draft.fields();
        draft.keys();
        draft.dropFields();
        draft.dropSheets();
        draft.addRules();
        draft.tokens();
        if (!SameLayout.is(draft.state, target)) {
            throw new IllegalStateException(
                    "the steps " + draft.steps + " lead to " + draft.state + ", not to " + target);
        }
        return draft;
    }

    /** The steps, in order; none where nothing is to be done. */
    public List<SchemaStep> steps() {
        return List.copyOf(steps);
    }

    /** New attributes that must have a value, and for which rows that are there get none. */
    public List<String> wanting() {
        return List.copyOf(wanting);
    }

    private void add(SchemaStep step) {
        state = step.after(state);
        steps.add(step);
    }

    private void rename(String name, String newName) {
        Optional<Sheet> sheet = state.sheet(name);
        int dot = name.lastIndexOf('.');
        if (sheet.isPresent()) {
            String full = dot < 0 || newName.contains(".") ? newName : name.substring(0, dot + 1) + newName;
            Sheet wanted = target.sheet(full)
                    .orElseThrow(() ->
                            new StepMisfit("the model has no '" + full + "' that " + name + " could have become"));
            add(new SheetStep.Rename(sheet.get().kind(), name, full, wanted.table()));
            return;
        }
        String owner = dot < 0 ? name : state.owner(name).map(Sheet::name).orElseGet(() -> name.substring(0, dot));
        Sheet of = Look.sheet(state, owner);
        Field field = Look.field(of, name.substring(owner.length() + 1));
        Field wanted = target.sheet(owner)
                .flatMap(one -> one.field(newName))
                .orElseThrow(() -> new StepMisfit(
                        "the model has no '" + owner + "." + newName + "' that " + name + " could have become"));
        if (isAnother(field, wanted)) {
            throw new StepMisfit(name + " cannot have become " + owner + "." + newName + ": it is "
                    + Convention.words(field) + ", and that is " + Convention.words(wanted)
                    + "; leave it out, and the one is dropped and the other added");
        }
        add(new FieldStep.Rename(owner, field.name(), newName, wanted.columns()));
    }

    private void tables() {
        for (Sheet sheet : List.copyOf(state.sheets().values())) {
            Sheet wanted = target.sheets().get(sheet.name());
            if (wanted != null && !wanted.table().equals(sheet.table())) {
                add(new SheetStep.Rename(sheet.kind(), sheet.name(), sheet.name(), wanted.table()));
            }
        }
    }

    // ---- what goes

    /** Whether a field cannot become the one that is wanted, so that another one takes its place. */
    private static boolean isReplaced(Field field, @Nullable Field wanted) {
        return wanted != null && isAnother(field, wanted);
    }

    /** Whether no field can become another one, however it is changed. */
    public static boolean isAnother(Field field, Field wanted) {
        if (field instanceof Field.OfLink one && wanted instanceof Field.OfLink other) {
            return !one.to().equals(other.to())
                    || one.columns().size() != other.columns().size();
        }
        return (field instanceof Field.OfColumn one && wanted instanceof Field.OfColumn other)
                ? !Objects.equals(one.computed(), other.computed()) || !Conversion.isPossible(one.type(), other.type())
                : true;
    }

    private static @Nullable Field wanted(Sheet target, Field field) {
        return target.field(field.name()).orElse(null);
    }

    private void dropRules() {
        for (Sheet sheet : List.copyOf(state.sheets().values())) {
            Sheet wanted = target.sheets().get(sheet.name());
            if (wanted == null) {
                continue;
            }
            Set<String> replaced = new LinkedHashSet<>();
            for (Field field : sheet.fields()) {
                if (isReplaced(field, wanted(wanted, field))) {
                    replaced.add(field.name());
                }
            }
            sheet.checks().stream()
                    .filter(one -> !wanted.checks().contains(one)
                            || Sheet.fieldsOf(one.condition()).stream().anyMatch(replaced::contains))
                    .forEach(one -> add(new RuleStep.DropCheck(sheet.name(), one.name())));
            sheet.uniques().stream()
                    .filter(one -> !wanted.uniques().contains(one)
                            || one.fields().stream().anyMatch(replaced::contains))
                    .forEach(one -> add(new RuleStep.DropUnique(sheet.name(), one.fields())));
            sheet.indexes().stream()
                    .filter(one -> !wanted.indexes().contains(one)
                            || one.fields().stream().anyMatch(replaced::contains))
                    .forEach(one -> add(new RuleStep.DropIndex(sheet.name(), one.fields())));
        }
    }

    /** What has the place of something new, and cannot become it, goes before. */
    private void clearTheWay() {
        boolean tableInTheWay = target.sheets().values().stream()
                .filter(one -> state.sheet(one.name()).isEmpty())
                .anyMatch(
                        one -> doomed().stream().anyMatch(other -> other.table().equalsIgnoreCase(one.table())));
        if (tableInTheWay) {
            dropSheets();
        }
        for (Sheet sheet : List.copyOf(state.sheets().values())) {
            Sheet wanted = target.sheets().get(sheet.name());
            if (wanted == null) {
                continue;
            }
            for (Field field : sheet.fields()) {
                Field next = wanted(wanted, field);
                boolean inTheWay = next == null
                        && wanted.fields().stream()
                                .filter(one -> sheet.field(one.name()).isEmpty()
                                        || !sheet.field(one.name())
                                                .get()
                                                .columns()
                                                .equals(one.columns()))
                                .flatMap(one -> one.columns().stream())
                                .anyMatch(column -> field.columns().stream().anyMatch(column::equalsIgnoreCase));
                if (inTheWay || isReplaced(field, next)) {
                    drop(sheet, field);
                }
            }
        }
    }

    private void drop(Sheet sheet, Field field) {
        add(new FieldStep.Drop(sheet.name(), field.name(), field instanceof Field.OfLink));
    }

    private void dropFields() {
        for (Sheet sheet : List.copyOf(state.sheets().values())) {
            Sheet wanted = target.sheets().get(sheet.name());
            if (wanted == null) {
                continue;
            }
            for (Field field : sheet.fields()) {
                if (wanted.field(field.name()).isEmpty()) {
                    drop(sheet, field);
                }
            }
        }
    }

    private List<Sheet> doomed() {
        return state.sheets().values().stream()
                .filter(one -> target.sheet(one.name()).isEmpty())
                .toList();
    }

    /** Sheets go when none that stays longer leads to them; where they form a ring, a link goes first. */
    private void dropSheets() {
        for (List<Sheet> doomed = doomed(); !doomed.isEmpty(); doomed = doomed()) {
            Set<String> names = new LinkedHashSet<>();
            doomed.forEach(one -> names.add(one.name()));
            for (Sheet sheet : List.copyOf(state.sheets().values())) {
                for (Field field : names.contains(sheet.name()) ? List.<Field>of() : sheet.fields()) {
                    if (field instanceof Field.OfLink link && names.contains(link.to())) {
                        drop(sheet, field);
                    }
                }
            }
            Optional<Sheet> free = doomed.stream()
                    .filter(one -> doomedLinks(one.name()).isEmpty())
                    .findFirst();
            if (free.isPresent()) {
                add(new SheetStep.Drop(free.get().kind(), free.get().name()));
            } else {
                Sheet any = doomed.get(0);
                FieldStep.Drop link = doomedLinks(any.name()).get(0);
                dropRulesOf(link.sheet(), link.name());
                add(link);
            }
        }
    }

    /** The links of other sheets that lead to one, those of keys last. */
    private List<FieldStep.Drop> doomedLinks(String name) {
        List<FieldStep.Drop> links = new ArrayList<>();
        for (Sheet other : state.sheets().values()) {
            for (Field field : other.fields()) {
                if (!other.name().equals(name)
                        && field instanceof Field.OfLink link
                        && link.to().equals(name)) {
                    links.add(
                            other.key().contains(field) ? links.size() : 0,
                            new FieldStep.Drop(other.name(), field.name(), true));
                }
            }
        }
        return links;
    }

    private void dropRulesOf(String name, String field) {
        Sheet sheet = Look.sheet(state, name);
        sheet.checks().stream()
                .filter(one -> Sheet.fieldsOf(one.condition()).contains(field))
                .forEach(one -> add(new RuleStep.DropCheck(name, one.name())));
        sheet.uniques().stream()
                .filter(one -> one.fields().contains(field))
                .forEach(one -> add(new RuleStep.DropUnique(name, one.fields())));
        sheet.indexes().stream()
                .filter(one -> one.fields().contains(field))
                .forEach(one -> add(new RuleStep.DropIndex(name, one.fields())));
    }

    // ---- what comes

    /** Sheets come when those are there that they lead to; where they form a ring, a link is added later. */
    private void create() {
        List<Sheet> waiting = new ArrayList<>(target.sheets().values());
        waiting.removeIf(one -> state.sheet(one.name()).isPresent());
        while (!waiting.isEmpty()) {
            Sheet next = waiting.stream()
                    .filter(one -> missing(one).isEmpty())
                    .findFirst()
                    .orElseGet(() -> waiting.stream()
                            .filter(one -> one.key().stream().noneMatch(missing(one)::contains))
                            .findFirst()
                            .orElseThrow());
            List<Field> later = missing(next);
            waiting.remove(next);
            created.add(next.name());
            add(new SheetStep.Create(without(next, later)));
        }
    }

    /** The links that do not lead anywhere yet. */
    private List<Field> missing(Sheet sheet) {
        return sheet.fields().stream()
                .filter(field -> field instanceof Field.OfLink link
                        && !link.to().equals(sheet.name())
                        && state.sheet(link.to()).isEmpty())
                .toList();
    }

    private static Sheet without(Sheet sheet, List<Field> later) {
        List<String> names = later.stream().map(Field::name).toList();
        return sheet.withFields(sheet.fields().stream()
                        .filter(one -> !later.contains(one))
                        .toList())
                .withUniques(sheet.uniques().stream()
                        .filter(one -> one.fields().stream().noneMatch(names::contains))
                        .toList())
                .withIndexes(sheet.indexes().stream()
                        .filter(one -> one.fields().stream().noneMatch(names::contains))
                        .toList())
                .withChecks(sheet.checks().stream()
                        .filter(one -> Sheet.fieldsOf(one.condition()).stream().noneMatch(names::contains))
                        .toList());
    }

    private void fields() {
        for (Sheet wanted : target.sheets().values()) {
            for (Field field : wanted.fields()) {
                Field there =
                        Look.sheet(state, wanted.name()).field(field.name()).orElse(null);
                if (there == null) {
                    add(new FieldStep.Add(wanted.name(), field, fill(wanted, null, field)));
                    continue;
                }
                if (!there.columns().equals(field.columns())) {
                    add(new FieldStep.Rename(wanted.name(), field.name(), field.name(), field.columns()));
                    there = Look.field(Look.sheet(state, wanted.name()), field.name());
                }
                if (!there.equals(field)) {
                    add(new FieldStep.Change(wanted.name(), there, field, fill(wanted, there, field)));
                }
            }
        }
    }

    /** What rows that are there get in a field that must have a value from now on. */
    private @Nullable Fill fill(Sheet sheet, @Nullable Field before, Field field) {
        boolean made =
                field instanceof Field.OfColumn column && (column.byDefault() != null || column.computed() != null);
        boolean wants = field.required() && (before == null || !before.required()) && !made;
        String name = sheet.name() + "." + field.name();
        Fill fill = fills.get(name);
        if (wants && fill == null && !created.contains(sheet.name())) {
            wanting.add(name);
        }
        return wants ? fill : null;
    }

    private void keys() {
        for (Sheet wanted : target.sheets().values()) {
            Sheet sheet = Look.sheet(state, wanted.name());
            List<String> key = sheet.key().stream().map(Field::name).toList();
            List<String> wantedKey = wanted.key().stream().map(Field::name).toList();
            if (!key.equals(wantedKey) || !sheet.keySource().equals(wanted.keySource())) {
                add(new SheetStep.ChangeKey(wanted.name(), key, wantedKey, sheet.keySource(), wanted.keySource()));
            }
        }
    }

    private void addRules() {
        for (Sheet wanted : target.sheets().values()) {
            Sheet sheet = Look.sheet(state, wanted.name());
            wanted.uniques().stream()
                    .filter(one -> !sheet.uniques().contains(one))
                    .forEach(one -> add(new RuleStep.AddUnique(wanted.name(), one)));
            wanted.indexes().stream()
                    .filter(one -> !sheet.indexes().contains(one))
                    .forEach(one -> add(new RuleStep.AddIndex(wanted.name(), one)));
            wanted.checks().stream()
                    .filter(one -> !sheet.checks().contains(one))
                    .forEach(one -> add(new RuleStep.AddCheck(wanted.name(), one)));
        }
    }

    private void tokens() {
        if (!Objects.equals(state.commitTokens(), target.commitTokens())) {
            add(new SheetStep.Tokens(state.commitTokens(), target.commitTokens()));
        }
    }
}
