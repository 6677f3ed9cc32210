package io.bathra.evolve;

import io.bathra.DatabaseProduct;
import io.bathra.error.BathraException;
import io.bathra.history.Draft;
import io.bathra.history.FieldStep;
import io.bathra.history.Fill;
import io.bathra.history.Nearest;
import io.bathra.history.SameLayout;
import io.bathra.history.SchemaStep;
import io.bathra.history.SheetStep;
import io.bathra.jdbc.Database;
import io.bathra.mapping.Mapping;
import io.bathra.model.Model;
import io.bathra.schema.Field;
import io.bathra.schema.Layout;
import io.bathra.schema.Sheet;
import io.bathra.sql.Alterations;
import io.bathra.sql.StepSql;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * The changes of a schema from its beginning on, replayed: each file fits what the files before it have made. Immutable;
 * no database is needed.
 */
public final class History {
    private final List<Played> files;

    private History(List<Played> files) {
        this.files = List.copyOf(files);
    }

    /**
     * Puts files in order, and replays them.
     *
     * @param changes the changes
     * @return the files in order
     * @throws FaultyChange when one comes after none of the others, two come after the same one, or a step does not fit
     */
    public static History of(Collection<Change> changes) {
        List<Played> files = new ArrayList<>();
        Layout layout = Layout.EMPTY;
        for (Change change : Chain.of(changes)) {
            Played played = Played.of(change, layout);
            files.add(played);
            layout = played.after();
        }
        return new History(files);
    }

    /** {@return the files, in order} */
    public List<Change> changes() {
        return files.stream().map(Played::change).toList();
    }

    List<Played> played() {
        return files;
    }

    private Layout layout() {
        return files.isEmpty() ? Layout.EMPTY : files.get(files.size() - 1).after();
    }

    /**
     * {@return whether the files lead to what a model asks for}
     *
     * @param model the model
     */
    public boolean leadsTo(Model model) {
        return SameLayout.is(layout(), Layout.of(Mapping.of(model)));
    }

    // ---- drafts

    /** How a draft is to be made. */
    public record Wish(Map<String, String> renamed, Map<String, Tree> fills, boolean inTwoSteps) {
        /** Nothing in particular. */
        public static final Wish NONE = new Wish(Map.of(), Map.of(), false);

        /**
         * Checks what it is made of, and copies what could be changed.
         *
         * @param renamed new names, by the old ones
         * @param fills what rows that are there get, by attribute
         * @param inTwoSteps whether the release before has to survive
         */
        public Wish {
            renamed = Collections.unmodifiableMap(new LinkedHashMap<>(renamed));
            fills = Collections.unmodifiableMap(new LinkedHashMap<>(fills));
        }
    }

    /**
     * Drafts the file that leads to what a model asks for.
     *
     * @param name the file's name
     * @param nextName the name of the second one of two
     * @param wish what was renamed, by names before with those after; what rows get in attributes that must have a
     *     value
     *     from now on, as {@code { value: … }}, {@code { term: … }} or {@code { sql: … }}
     * @param model the model
     * @return the file, as far as one could be made
     * @throws BathraException when something that was wished for is not there
     */
    public Drafted draft(String name, String nextName, Model model, Wish wish) {
        Layout from = layout();
        Layout target = Layout.of(Mapping.of(model));
        int entities = model.entities().size();
        String lookedAt = entities + (entities == 1 ? " entity" : " entities") + " of '" + model.name()
                + "' compared with " + files.size() + (files.size() == 1 ? " file" : " files");
        String after =
                files.isEmpty() ? null : files.get(files.size() - 1).change().name();
        Map<String, Fill> fills = fills(target, wish.fills());
        Draft draft = Draft.of(from, target, wish.renamed(), fills);
        List<Drafted.Possible> possible = possible(draft.steps());
        List<Change> changes = new ArrayList<>();
        List<String> wanting = draft.wanting();
        if (!draft.steps().isEmpty() && wish.inTwoSteps()) {
            wish.renamed().keySet().stream()
                    .filter(from.sheets()::containsKey)
                    .findFirst()
                    .ifPresent(one -> {
                        throw new BathraException(
                                one + " cannot be renamed in two steps, since both releases work with its rows; keep"
                                        + " its table with table(\""
                                        + Objects.requireNonNull(from.sheets().get(one))
                                                .table() + "\"), and rename the table later");
                    });
            TwoSteps two = new TwoSteps(from, target, wish.renamed());
            List<SchemaStep> first = two.first();
            Draft second = two.second(fills);
            List<SchemaStep> last = new ArrayList<>(second.steps().isEmpty() ? List.of() : two.copies());
            last.addAll(second.steps());
            wanting = second.wanting().stream()
                    .filter(one ->
                            two.copies().stream().noneMatch(copy -> copy.title().equals("backfill " + one)))
                    .toList();
            add(changes, name, after, from, first, possible);
            add(changes, nextName, changes.isEmpty() ? after : name, two.wide(), last, List.of());
        } else {
            add(changes, name, after, from, draft.steps(), possible);
        }
        return new Drafted(changes, possible, wanting, lookedAt);
    }

    private static void add(
            List<Change> changes,
            String name,
            @Nullable String after,
            Layout from,
            List<SchemaStep> steps,
            List<Drafted.Possible> possible) {
        if (steps.isEmpty()) {
            return;
        }
        List<Tree> trees = new ArrayList<>();
        Map<Integer, String> notes = new HashMap<>();
        Layout layout = from;
        for (SchemaStep step : steps) {
            for (Drafted.Possible one : possible) {
                if (step.isLosing() && step.title().endsWith(" " + one.name())) {
                    notes.merge(
                            trees.size(),
                            one.name() + " goes and " + one.newName()
                                    + " comes; if it only has another name, draft with" + " --renamed " + one,
                            (a, b) -> a + "\n" + b);
                }
            }
            trees.add(new StepWriter(layout).write(step));
            layout = step.after(layout);
        }
        changes.add(Change.of(name, after, trees, notes));
    }

    private static Map<String, Fill> fills(Layout target, Map<String, Tree> wished) {
        Map<String, Fill> fills = new LinkedHashMap<>();
        wished.forEach((name, tree) -> {
            int dot = name.lastIndexOf('.');
            Sheet sheet = dot < 0 ? null : target.owner(name).orElse(null);
            Field field = sheet == null
                    ? null
                    : sheet.field(name.substring(sheet.name().length() + 1)).orElse(null);
            if (sheet == null || field == null) {
                throw new BathraException("the model has no '" + name + "' to fill; name an attribute that is new or"
                        + " required from now on, such as Operator.country");
            }
            try {
                fills.put(name, FieldStepReader.fill(tree, sheet));
            } catch (Misread e) {
                throw new BathraException("what " + name + " is filled with: " + e.words());
            }
        });
        return fills;
    }

    /** What goes beside something of the same kind that comes may only have another name. */
    private static List<Drafted.Possible> possible(List<SchemaStep> steps) {
        List<Drafted.Possible> possible = new ArrayList<>();
        for (SchemaStep gone : steps) {
            for (SchemaStep come : steps) {
                if (gone instanceof SheetStep.Drop drop
                        && come instanceof SheetStep.Create create
                        && drop.kind() == create.sheet().kind()) {
                    addIfSibling(possible, drop.name(), create.sheet().name());
                } else if (gone instanceof FieldStep.Drop drop
                        && come instanceof FieldStep.Add add
                        && drop.sheet().equals(add.sheet())
                        && !drop.name().equals(add.field().name())
                        && drop.link() == add.field() instanceof Field.OfLink) {
                    possible.add(new Drafted.Possible(
                            drop.sheet() + "." + drop.name(), add.field().name()));
                }
            }
        }
        return possible;
    }

    /** Parts and pivots move with their entity, so they are only looked at within one. */
    private static void addIfSibling(List<Drafted.Possible> possible, String name, String newName) {
        int dot = name.lastIndexOf('.');
        int newDot = newName.lastIndexOf('.');
        if (dot < 0 || (newDot == dot && name.substring(0, dot).equals(newName.substring(0, newDot)))) {
            possible.add(new Drafted.Possible(name, newName.substring(newDot + 1)));
        }
    }

    // ---- one file

    /**
     * {@return what is executed for a file on a product}
     *
     * @param schema the database schema of the tables; null for the one that a connection is in
     * @param file the file
     * @param product the database
     * @throws BathraException when there is no such file
     */
    public List<Shown> show(String file, DatabaseProduct product, @Nullable String schema) {
        Played played = file(file);
        Alterations alterations =
                Database.named(product.toString(), schema).dialect().alterations();
        List<Shown> shown = new ArrayList<>();
        for (int i = 0; i < played.steps().size(); i++) {
            SchemaStep step = played.steps().get(i);
            List<Shown.Statement> statements = new ArrayList<>();
            for (StepSql one : alterations.statements(step, played.before().get(i), played.afterStep(i))) {
                statements.add(new Shown.Statement(
                        one.sql(),
                        one.options(),
                        one.lock(),
                        work(one.work()),
                        one.reversible(),
                        one.isAlone(),
                        one.isRepeated()));
            }
            shown.add(new Shown(step.title(), statements));
        }
        return shown;
    }

    private static Shown.Work work(StepSql.Work work) {
        return switch (work) {
            case NOTHING -> Shown.Work.CATALOGUE;
            case SCAN -> Shown.Work.SCAN;
            case REWRITE -> Shown.Work.REWRITE;
        };
    }

    /**
     * {@return what each step of a file means for a program of the release before, which is still running}
     *
     * @param file the file
     * @throws BathraException when there is no such file
     */
    public List<Verdict> check(String file) {
        return file(file).steps().stream().map(Survival::of).toList();
    }

    private Played file(String name) {
        return files.stream()
                .filter(one -> one.change().name().equals(name))
                .findFirst()
                .orElseThrow(() -> {
                    List<String> names =
                            files.stream().map(one -> one.change().name()).toList();
                    return new BathraException("there is no file '" + name + "'"
                            + Nearest.to(name, names)
                                    .map(one -> "; did you mean '" + one + "'?")
                                    .orElse(
                                            names.isEmpty()
                                                    ? "; there is none at all"
                                                    : "; there is " + String.join(", ", names)));
                });
    }

    /**
     * Puts a file behind another one that comes after the same one, if they do not touch the same thing.
     *
     * @param changes all files
     * @param file the one that is to come later
     * @return it, behind the others
     * @throws BathraException when it comes after no file that another one comes after, or when both touch the same
     */
    public static Change reorder(Collection<Change> changes, String file) {
        Change later = changes.stream()
                .filter(one -> one.name().equals(file))
                .findFirst()
                .orElseThrow(() -> new BathraException("there is no file '" + file + "'; there is "
                        + String.join(", ", changes.stream().map(Change::name).toList())));
        List<Change> others = new ArrayList<>(changes);
        others.remove(later);
        History first = of(others);
        Layout base = Layout.EMPTY;
        Set<String> touched = new LinkedHashSet<>();
        boolean behind = later.after().isEmpty();
        String place = later.after().orElse("");
        for (Played one : first.files) {
            if (behind) {
                touched.addAll(one.touched());
            } else {
                base = one.after();
            }
            behind |= one.change().name().equals(place);
        }
        if (touched.isEmpty()) {
            throw new BathraException("'" + file + "' comes after '" + place
                    + "', and no other file does; there is nothing" + " to put in order");
        }
        List<String> both = Played.of(later, base).touched().stream()
                .filter(one -> touched.stream().anyMatch(other -> isSame(one, other)))
                .toList();
        if (!both.isEmpty()) {
            throw new BathraException("'" + file + "' and what came meanwhile both touch " + String.join(", ", both)
                    + "; delete the file, bring the model up to date, and draft it again");
        }
        Change moved =
                later.behind(first.files.get(first.files.size() - 1).change().name());
        Played.of(moved, first.layout());
        return moved;
    }

    private static boolean isSame(String one, String other) {
        return one.equals(other) || one.startsWith(other + ".") || other.startsWith(one + ".");
    }
}
