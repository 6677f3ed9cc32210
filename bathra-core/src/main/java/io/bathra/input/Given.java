package io.bathra.input;

import io.bathra.attr.Secret;
import io.bathra.error.BathraException;
import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.error.Problem;
import io.bathra.link.Link;
import io.bathra.mapping.Attribute;
import io.bathra.mapping.CheckRule;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.HiddenRow;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.Years;
import java.time.Year;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** What is given from outside for the attributes of an entity: looked at as a whole, then set as a whole. */
public final class Given {
    /** All that there are; which of them a database keeps, it tells itself. */
    private static final Years ALL_YEARS = new Years(Year.MIN_VALUE, Year.MAX_VALUE);

    /** So much of a text is shown. */
    private static final int MOST_SHOWN = 100;

    private final ModelEntity<?> entity;
    private final String name;
    private final Set<Attribute> settable;
    private final String path;
    private final List<Problem> problems;

    /** In stored form. */
    private final Map<StoredAttribute, @Nullable Object> values = new LinkedHashMap<>();

    private final Map<PartsAttribute, List<HiddenRow>> parts = new LinkedHashMap<>();

    /** What an association leads to, so that nobody has to miss its key. */
    private final Set<Attribute> led = new HashSet<>();

    private final Set<Attribute> flawed = new HashSet<>();
    private final List<Runnable> settings = new ArrayList<>();

    private Given(
            ModelEntity<?> entity,
            String name,
            Collection<? extends Attribute> settable,
            String path,
            List<Problem> problems) {
        this.entity = entity;
        this.name = name;
        this.settable = new LinkedHashSet<>(settable);
        this.path = path;
        this.problems = problems;
    }

    /**
     * Nothing yet.
     *
     * @param name what problems call the entity
     * @param settable the attributes that may be set
     */
    public static Given of(ModelEntity<?> entity, String name, Collection<? extends Attribute> settable) {
        return new Given(entity, name, settable, "", new ArrayList<>());
    }

    /** What is given for another entity on the way; its problems are told here, behind the path. */
    public Given inside(String step, ModelEntity<?> other, Collection<? extends Attribute> othersSettable) {
        return new Given(other, name, othersSettable, path + step + ".", problems);
    }

    public ModelEntity<?> entity() {
        return entity;
    }

    /** Whether an attribute may be set. */
    public boolean maySet(Attribute attribute) {
        return settable.contains(attribute);
    }

    /** Takes a value, in stored form; of a link, the key that it is to lead to. */
    public void value(StoredAttribute attribute, @Nullable Object stored) {
        values.put(attribute, stored);
    }

    /** Takes the parts of a collection. */
    public void parts(PartsAttribute attribute, List<HiddenRow> rows) {
        parts.put(attribute, rows);
    }

    /** Takes what sets an association to an entity that is given along; done when everything is set. */
    public void leads(Attribute attribute, Runnable setting) {
        led.add(attribute);
        settings.add(setting);
    }

    /** Whether something is given for an attribute already. */
    public boolean has(Attribute attribute) {
        return attribute instanceof PartsAttribute ? parts.containsKey(attribute) : values.containsKey(attribute);
    }

    /**
     * Tells what is wrong.
     *
     * @param attribute whose value it is about; null where it is no attribute's
     * @param label the attribute, and the way into it
     * @param shown the value as it may be shown
     */
    public void flaw(@Nullable Attribute attribute, String label, @Nullable Object shown, Flaw flaw) {
        if (attribute != null) {
            flawed.add(attribute);
        }
        Object open = shown instanceof Secret secret ? secret.toString() : shown;
        boolean cut = open instanceof String text && text.length() > MOST_SHOWN;
        problems.add(new Problem(
                name, path + label, cut ? ((String) open).substring(0, MOST_SHOWN) + "\u2026" : open, flaw));
    }

    /** Everything that is wrong so far, here and in what is inside. */
    public List<Problem> problems() {
        return problems;
    }

    /**
     * Looks at everything that is given: that values fit, that what is required is there, that checks hold which can be
     * decided here; and makes the user's values.
     *
     * @param object what it will be set in
     * @param isStored whether that has a row already, so that its key stays
     */
    public void look(Object object, boolean isStored) {
        values.forEach((attribute, value) -> {
            if (!flawed.contains(attribute)) {
                look(attribute, value, object, isStored);
            }
        });
        parts.forEach((attribute, rows) -> {
            for (int i = 0; i < rows.size(); i++) {
                part(attribute, attribute.name() + "[" + i + "]", rows.get(i));
            }
            settings.add(() -> attribute.fill(object, rows));
        });
        for (Attribute attribute : settable) {
            boolean open = attribute instanceof StoredAttribute stored
                    && stored.required()
                    && stored.databaseMade() == null
                    && !values.containsKey(stored)
                    && !led.contains(stored)
                    && !flawed.contains(stored)
                    && isMissing(stored, object);
            if (open) {
                flaw(attribute, attribute.name(), null, ValueCheck.MISSING);
            }
        }
        entity.checks().forEach(rule -> look(rule, object));
    }

    /** Sets what was looked at. */
    public void set() {
        settings.forEach(Runnable::run);
    }

    private void look(StoredAttribute attribute, @Nullable Object value, Object object, boolean isStored) {
        if (isStored && attribute.isKey() && !Objects.equals(value, attribute.storedOf(object))) {
            flaw(
                    attribute,
                    attribute.name(),
                    attribute.shown(value),
                    Flaw.of(Code.NOT_TO_BE_SET, "is the key of a row, which stays as it is; leave it out"));
        } else if (value == null) {
            if (attribute.required() && attribute.databaseMade() == null) {
                flaw(attribute, attribute.name(), null, ValueCheck.MISSING);
            } else if (attribute instanceof LinkAttribute link) {
                settings.add(((Link<?>) link.holder(object))::clear);
            } else {
                settings.add(() -> ((ColumnAttribute) attribute).assign(object, null));
            }
        } else if (attribute instanceof LinkAttribute link) {
            Link<?> holder = (Link<?>) link.holder(object);
            settings.add(() -> {
                if (!value.equals(link.storedOf(object))) {
                    holder.toKey(value);
                }
            });
        } else {
            ValueCheck.check(attribute, value, ALL_YEARS, (label, shown, flaw) -> flaw(attribute, label, shown, flaw));
            userValue(attribute, attribute.name(), value, user -> ((ColumnAttribute) attribute).assign(object, user));
        }
    }

    private interface Setting {
        void set(Object user);
    }

    private void userValue(StoredAttribute attribute, String label, Object value, Setting setting) {
        if (flawed.contains(attribute)) {
            return;
        }
        try {
            Object user = ((ColumnAttribute) attribute).user(value);
            settings.add(() -> setting.set(user));
        } catch (BathraException e) {
            flaw(attribute, label, attribute.shown(value), Flaw.other("cannot be taken: " + e.getMessage()));
        }
    }

    /** A part that was made already; its values may still not fit. */
    private void part(PartsAttribute attribute, String label, HiddenRow row) {
        for (StoredAttribute stored : attribute.parts().rows().stored()) {
            Object value = stored instanceof ColumnAttribute && !stored.isKey() ? stored.get(row) : null;
            if (value != null) {
                ValueCheck.check(
                        stored,
                        value,
                        ALL_YEARS,
                        (inside, shown, flaw) -> flaw(attribute, label + within(inside, stored), shown, flaw));
            }
        }
    }

    private static String within(String label, StoredAttribute stored) {
        return label.substring(Math.min(label.length(), stored.name().length()));
    }

    private static boolean isMissing(StoredAttribute attribute, Object object) {
        return attribute.storedOf(object) == null
                && (!(attribute instanceof LinkAttribute link)
                        || link.present(object).isEmpty());
    }

    /** A check is told of where anything that it speaks of is given, and nothing of that is wrong already. */
    private void look(CheckRule rule, Object object) {
        Set<StoredAttribute> spoken = spokenOf(rule, entity);
        boolean ours =
                spoken.stream().anyMatch(values::containsKey) && spoken.stream().noneMatch(flawed::contains);
        if (ours && Decision.of(rule.condition(), entity, attribute -> now(attribute, object)) == Decision.FAILS) {
            flaw(null, names(spoken), shown(spoken, object), brokenCheck(rule));
        }
    }

    /** The attributes that a check speaks of. */
    public static Set<StoredAttribute> spokenOf(CheckRule rule, ModelEntity<?> entity) {
        Set<StoredAttribute> spoken = new LinkedHashSet<>();
        rule.condition()
                .paths()
                .forEach(way -> spoken.add(
                        (StoredAttribute) entity.attribute(way.steps().get(0))));
        return spoken;
    }

    /** What a problem of several attributes calls them. */
    public static String names(Collection<? extends Attribute> attributes) {
        return attributes.stream().map(Attribute::name).collect(Collectors.joining("+"));
    }

    /** What is wrong where a declared check does not hold. */
    public static Flaw brokenCheck(CheckRule rule) {
        return Flaw.of(
                Code.CHECK,
                "does not fulfil the check " + rule.condition() + "; give values that do",
                Objects.requireNonNullElse(rule.name(), rule.condition().toString()));
    }

    private @Nullable Object now(StoredAttribute attribute, Object object) {
        return values.containsKey(attribute) ? values.get(attribute) : attribute.storedOf(object);
    }

    private @Nullable Object shown(Set<StoredAttribute> attributes, Object object) {
        List<@Nullable Object> shown = new ArrayList<>();
        for (StoredAttribute attribute : attributes) {
            shown.add(attribute.shown(now(attribute, object)));
        }
        return shown.size() == 1 ? shown.get(0) : shown;
    }
}
