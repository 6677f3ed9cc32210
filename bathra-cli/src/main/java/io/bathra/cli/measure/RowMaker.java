package io.bathra.cli.measure;

import io.bathra.Store;
import io.bathra.error.BathraException;
import io.bathra.error.Problem;
import io.bathra.form.EndField;
import io.bathra.form.EntityForm;
import io.bathra.form.Filling;
import io.bathra.form.FormField;
import io.bathra.form.GroupField;
import io.bathra.form.LinkField;
import io.bathra.form.OpenFields;
import io.bathra.form.PartsField;
import io.bathra.form.ValueField;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Objects of an entity with values that are made up: within lengths and digits, distinct where they have to be, with
 * links to rows that are made up as well.
 */
final class RowMaker {
    private static final int USUAL_TARGETS = 100;
    private static final int DEEPEST = 4;
    private static final int TRIALS = 8;
    private static final int PARTS = 3;

    private final Model model;
    private final EntityOutline entity;
    private final EntityForm<?> form;
    private final OpenFields open;
    private final ValueMaker values;
    private final Set<String> distinct = new HashSet<>();
    private final Map<String, Target> targets = new LinkedHashMap<>();

    /**
     * Rows that a link leads to.
     *
     * @param divisor how many rows of this entity lead to one before the next one's turn; a link may be a part of what
     *     is unique, and then each pair comes once
     */
    private record Target(LinkField link, RowMaker maker, int count, long divisor, List<Object> keys) {
        Object key(long number) {
            return keys.get((int) (number / divisor % count));
        }
    }

    /**
     * @param rows how many will be made at the most
     * @throws BathraException when the model asks for what cannot be made up
     */
    RowMaker(Model model, EntityOutline entity, long rows) {
        this(model, entity, rows, null, List.of());
    }

    /**
     * For rows that are made along with a parent.
     *
     * @param toParent the link to that, which its parent fills
     */
    static RowMaker ofChildren(Model model, EntityOutline entity, long rows, String toParent) {
        return new RowMaker(model, entity, rows, toParent, List.of());
    }

    private RowMaker(Model model, EntityOutline entity, long rows, @Nullable String toParent, List<EntityOutline> way) {
        this.model = model;
        this.entity = entity;
        this.form = EntityForm.of(model, entity.type());
        this.open = form.open(form.fields().stream()
                .filter(field -> field.isSettable()
                        && !(field instanceof EndField)
                        && !field.name().equals(toParent))
                .toList());
        this.values = new ValueMaker(entity);
        Map<String, long[]> pairs = new HashMap<>();
        List<List<String>> unique = new ArrayList<>(entity.unique());
        if (entity.key().stream().allMatch(name -> field(name).isSettable())) {
            unique.add(0, entity.key());
        }
        unique.forEach(names -> tellApart(names, rows, toParent, pairs));
        for (FormField field : form.fields()) {
            if (field instanceof LinkField link
                    && link.isSettable()
                    && !link.name().equals(toParent)) {
                target(link, rows, way, pairs.get(link.name()));
            }
        }
    }

    private FormField field(String name) {
        FormField field = form.field(name);
        if (field == null) {
            throw new BathraException(entity.name() + "." + name + " is no field that could be filled");
        }
        return field;
    }

    /** Of the attributes that are unique together one is made distinct, or links are paired. */
    private void tellApart(List<String> names, long rows, @Nullable String toParent, Map<String, long[]> pairs) {
        if (names.stream().anyMatch(distinct::contains)) {
            return;
        }
        for (String name : names) {
            if (field(name) instanceof ValueField && values.room(name) > rows) {
                distinct.add(name);
                return;
            }
        }
        List<String> links = names.stream()
                .filter(name -> field(name) instanceof LinkField && !name.equals(toParent))
                .toList();
        if (links.isEmpty()) {
            throw new BathraException("there are not as many distinct values as rows for " + entity.name() + "."
                    + String.join(", ", names) + "; measure fewer rows, or another entity");
        }
        long each = (long) Math.ceil(Math.pow((double) rows, 1.0 / links.size()));
        long divisor = 1;
        for (String link : links) {
            pairs.put(link, new long[] {each, divisor});
            divisor *= each;
        }
    }

    private void target(LinkField link, long rows, List<EntityOutline> way, long @Nullable [] pair) {
        EntityOutline to = model.entity(link.target());
        boolean required =
                entity.link(link.name()).map(EntityOutline.LinkTo::required).orElse(false) || pair != null;
        boolean around = to.equals(entity) || way.contains(to) || way.size() >= DEEPEST;
        if (around && !required) {
            return;
        } else if (around) {
            throw new BathraException("each " + entity.name() + " leads to a " + to.name()
                    + ", and that back again, so no first row can be made up; measure another entity");
        }
        int count = (int) (pair == null ? Math.max(1, Math.min(USUAL_TARGETS, rows / 10)) : pair[0]);
        List<EntityOutline> further = new ArrayList<>(way);
        further.add(entity);
        targets.put(
                link.name(),
                new Target(
                        link,
                        new RowMaker(model, to, count, null, further),
                        count,
                        pair == null ? 1 : pair[1],
                        new ArrayList<>()));
    }

    // ---- making

    /** Stores the rows that links lead to. */
    void prepare(Store store) {
        for (Target target : targets.values()) {
            target.maker().prepare(store);
            List<Object> made = new ArrayList<>();
            for (int i = 0; i < target.count(); i++) {
                made.add(target.maker().make(i, 0));
            }
            store.run(work -> made.forEach(work::add));
            target.keys().clear();
            made.forEach(one -> target.keys().add(target.maker().key(target.link(), one)));
        }
    }

    /** The key of a stored object as a link to it holds it. */
    private Object key(LinkField link, Object object) {
        if (link.key() instanceof GroupField group) {
            List<@Nullable Object> values = new ArrayList<>();
            for (String name : entity.key()) {
                FormField own = field(name);
                if (own instanceof GroupField several && entity.key().size() == 1) {
                    Object content = several.in(object);
                    several.members()
                            .forEach(member -> values.add(content == null ? null : ((ValueField) member).in(content)));
                } else {
                    values.add(own instanceof LinkField further ? further.in(object) : ((ValueField) own).in(object));
                }
            }
            return known(group.of(values));
        }
        FormField own = field(entity.key().get(0));
        return known(own instanceof LinkField further ? further.in(object) : ((ValueField) own).in(object));
    }

    private Object known(@Nullable Object key) {
        if (key == null) {
            throw new BathraException("a row of " + entity.name() + " that was stored has no key");
        }
        return key;
    }

    /**
     * An object that is not stored.
     *
     * @param number which one; what has to be distinct comes from it
     * @param variant where it differs, everything else has other values
     */
    Object make(long number, int variant) {
        List<Problem> problems = List.of();
        for (int trial = 0; trial < TRIALS; trial++) {
            Object object = form.make();
            Filling filling = open.filling();
            fill(filling, number, variant, trial);
            filling.look(object, false);
            problems = filling.problems();
            if (problems.isEmpty()) {
                filling.set(object);
                return object;
            }
        }
        throw new BathraException("no row of " + entity.name() + " can be made up that fits: " + problems.get(0)
                + "; measure another entity");
    }

    /** Gives values for what is to be filled. */
    private void fill(Filling filling, long number, int variant, int trial) {
        long other = number * 31 + variant * 17L + trial * 1_009L;
        for (FormField field : form.fields()) {
            if (!field.isSettable() || !filling.maySet(field)) {
                continue;
            }
            if (field instanceof LinkField link) {
                Target target = targets.get(link.name());
                if (target != null) {
                    filling.value(link, target.key(number));
                }
            } else if (field instanceof PartsField parts) {
                filling.parts(parts, List.of(), List.of());
            } else {
                boolean apart = distinct.contains(field.name());
                filling.value(field, values.value(field, field.name(), apart ? number : other, apart));
            }
        }
    }

    /**
     * Makes children for a parent that is not stored.
     *
     * @param parent makes those
     * @param end where the parent has its children
     * @param each how many
     */
    void addChildren(RowMaker parent, EndField end, Object object, long number, int each) {
        Filling filling = parent.form.open(List.of(end)).filling();
        for (int i = 0; i < each; i++) {
            Filling inside = filling.inside(end.name() + "[" + i + "]", open);
            fill(inside, number * each + i, 0, 0);
            Object child = form.make();
            inside.look(child, false);
            filling.leads(end, object, inside, child);
        }
        if (!filling.problems().isEmpty()) {
            throw new BathraException("no " + entity.name() + " can be made up that fits: "
                    + filling.problems().get(0));
        }
        filling.set(object);
    }

    /** Gives a stored object other values, where that changes nothing that is unique or a key. */
    boolean change(Object object, long number, int variant) {
        for (FormField field : form.fields()) {
            if (field instanceof ValueField value
                    && value.isSettable()
                    && !distinct.contains(value.name())
                    && entity.key().stream().noneMatch(value.name()::equals)
                    && entity.unique().stream().noneMatch(names -> names.contains(value.name()))) {
                Filling filling = form.open(List.of(value)).filling();
                filling.value(value, values.value(value, value.name(), number * 31 + variant * 17L, false));
                filling.look(object, true);
                if (filling.problems().isEmpty()) {
                    filling.set(object);
                    return true;
                }
            }
        }
        return false;
    }

    /** Gives an object parts, as far as it has any that can be made up; says how many. */
    int addParts(Object object, long number) {
        int added = 0;
        for (FormField field : form.fields()) {
            if (field instanceof PartsField parts && parts.isSettable()) {
                ValueMaker values = new ValueMaker(table(parts));
                List<@Nullable Object> keys = new ArrayList<>();
                List<@Nullable Object> elements = new ArrayList<>();
                for (int i = 0; i < PARTS; i++) {
                    long n = number * PARTS + i;
                    keys.add(parts.key() == null ? null : values.value(parts.key(), "key", n, true));
                    elements.add(values.value(parts.element(), "element", n, parts.isSet()));
                }
                Filling filling = form.open(List.of(parts)).filling();
                filling.parts(parts, parts.key() == null ? List.of() : keys, elements);
                filling.look(object, false);
                if (filling.problems().isEmpty()) {
                    filling.set(object);
                    added += PARTS;
                }
            }
        }
        return added;
    }

    private EntityOutline table(PartsField parts) {
        return model.tables().stream()
                .filter(one -> one.name().equals(entity.name() + "." + parts.name()))
                .findFirst()
                .orElseThrow();
    }

    // ---- what the ways ask

    EntityOutline entity() {
        return entity;
    }

    EntityForm<?> form() {
        return form;
    }

    /** What tells a row besides a key that was drawn; empty for nothing. */
    List<String> telling() {
        return entity.unique().stream()
                .filter(names -> names.stream().allMatch(name -> field(name).isSettable()))
                .findFirst()
                .orElseGet(() ->
                        entity.key().stream().allMatch(name -> field(name).isSettable()) ? entity.key() : List.of());
    }

    /** The first link that is filled. */
    @Nullable
    LinkField link() {
        return targets.values().stream().map(Target::link).findFirst().orElse(null);
    }
}
