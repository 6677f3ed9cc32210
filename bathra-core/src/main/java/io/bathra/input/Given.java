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
import io.bathra.question.Words;
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

    private final Settable settable;
    private final ModelEntity<?> entity;
    private final String name;
    private final String path;
    private final List<Problem> problems;

    /** In stored form, by slot. */
    private final @Nullable Object[] values;

    /** What the user has in their place; made by the look at them. */
    private final @Nullable Object[] users;

    private final boolean[] given;

    /** What else is to be set; made when there is something. */
    private List<Runnable> settings = List.of();

    private Map<PartsAttribute, List<HiddenRow>> parts = Map.of();

    /** Associations that are given entities, so that nobody has to miss their keys. */
    private Set<Attribute> led = Set.of();

    private Set<Attribute> flawed = Set.of();

    private Given(Settable settable, String name, String path, List<Problem> problems) {
        this.settable = settable;
        this.entity = settable.entity();
        this.name = name;
        this.path = path;
        this.problems = problems;
        this.values = new Object[entity.stored().size()];
        this.users = new Object[values.length];
        this.given = new boolean[values.length];
    }

    /**
     * Nothing yet.
     *
     * @param name what problems call the entity
     */
    public static Given of(Settable settable, String name) {
        return new Given(settable, name, "", new ArrayList<>(0));
    }

    /** What is given for another entity on the way; its problems are told here, behind the path. */
    public Given inside(String step, Settable others) {
        return new Given(others, name, path + step + ".", problems);
    }

    /** Whether an attribute may be set. */
    public boolean maySet(Attribute attribute) {
        return settable.all().contains(attribute);
    }

    /** Takes a value, in stored form; of a link, the key that it is to lead to. */
    public void value(StoredAttribute attribute, @Nullable Object stored) {
        values[attribute.slot()] = stored;
        given[attribute.slot()] = true;
    }

    /** Takes the parts of a collection. */
    public void parts(PartsAttribute attribute, List<HiddenRow> rows) {
        parts = parts.isEmpty() ? new LinkedHashMap<>() : parts;
        parts.put(attribute, rows);
    }

    /** Takes what sets an association to an entity that is given along; done when everything is set. */
    public void leads(Attribute attribute, Runnable setting) {
        led = led.isEmpty() ? new HashSet<>() : led;
        led.add(attribute);
        later(setting);
    }

    private void later(Runnable setting) {
        settings = settings.isEmpty() ? new ArrayList<>() : settings;
        settings.add(setting);
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
            flawed = flawed.isEmpty() ? new HashSet<>() : flawed;
            flawed.add(attribute);
        }
        Object open = shown instanceof Secret secret ? secret.toString() : shown;
        if (open instanceof String text && text.length() > MOST_SHOWN) {
            open = text.substring(0, MOST_SHOWN) + "\u2026";
        }
        problems.add(new Problem(name, path + label, open, flaw));
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
        List<StoredAttribute> stored = settable.stored();
        for (int i = 0; i < stored.size(); i++) {
            StoredAttribute attribute = stored.get(i);
            boolean told = isFlawed(attribute);
            if (!told && given[attribute.slot()]) {
                look(attribute, values[attribute.slot()], object, isStored);
            } else if (!told
                    && attribute.required()
                    && attribute.databaseMade() == null
                    && !led.contains(attribute)
                    && !(isStored && attribute.isLater()) // it may be unread
                    && isMissing(attribute, object)) {
                flaw(attribute, attribute.name(), null, ValueCheck.MISSING);
            }
        }
        parts.forEach((attribute, rows) -> {
            for (int i = 0; i < rows.size(); i++) {
                part(attribute, attribute.name() + "[" + i + "]", rows.get(i));
            }
            later(() -> attribute.fill(object, rows));
        });
        List<CheckRule> checks = entity.checks();
        for (int i = 0; i < checks.size(); i++) {
            look(checks.get(i), object);
        }
    }

    /** Sets what was looked at. */
    public void set(Object object) {
        List<StoredAttribute> stored = settable.stored();
        for (int i = 0; i < stored.size(); i++) {
            StoredAttribute attribute = stored.get(i);
            if (given[attribute.slot()]) {
                set(attribute, object);
            }
        }
        settings.forEach(Runnable::run);
    }

    private void set(StoredAttribute attribute, Object object) {
        if (attribute instanceof ColumnAttribute column) {
            column.assign(object, users[column.slot()]);
            return;
        }
        LinkAttribute link = (LinkAttribute) attribute;
        Object value = values[link.slot()];
        if (value == null) {
            ((Link<?>) link.holder(object)).clear();
        } else if (!value.equals(link.storedOf(object))) {
            ((Link<?>) link.holder(object)).toKey(value);
        }
    }

    private boolean isFlawed(Attribute attribute) {
        return !flawed.isEmpty() && flawed.contains(attribute);
    }

    private void look(StoredAttribute attribute, @Nullable Object value, Object object, boolean isStored) {
        if (isStored && attribute.isKey() && !Objects.equals(value, attribute.storedOf(object))) {
            flaw(
                    attribute,
                    attribute.name(),
                    attribute.shown(value),
                    Flaw.of(Code.NOT_TO_BE_SET, "is the key of a row, which stays as it is; leave it out"));
        } else if (value == null) {
            boolean primitive = attribute instanceof ColumnAttribute column && column.primitive();
            if (primitive || (attribute.required() && attribute.databaseMade() == null)) {
                flaw(attribute, attribute.name(), null, ValueCheck.MISSING);
            }
        } else if (attribute instanceof ColumnAttribute column) {
            ValueCheck.check(column, value, ALL_YEARS, (label, shown, flaw) -> flaw(attribute, label, shown, flaw));
            if (!isFlawed(column)) {
                users[column.slot()] = user(column, value);
            }
        }
    }

    private @Nullable Object user(ColumnAttribute column, Object value) {
        try {
            return column.user(value);
        } catch (BathraException e) {
            flaw(column, column.name(), column.shown(value), Flaw.other("cannot be taken: " + e.getMessage()));
            return null;
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
        boolean ours = spoken.stream().anyMatch(attribute -> given[attribute.slot()])
                && spoken.stream().noneMatch(this::isFlawed);
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
        String condition = Words.WITH_VALUES.of(rule.condition());
        return Flaw.of(
                Code.CHECK,
                "breaks the check " + condition + "; mend the values that it compares",
                Objects.requireNonNullElse(rule.name(), condition));
    }

    private @Nullable Object now(StoredAttribute attribute, Object object) {
        return given[attribute.slot()] ? values[attribute.slot()] : attribute.storedOf(object);
    }

    private @Nullable Object shown(Set<StoredAttribute> attributes, Object object) {
        List<@Nullable Object> shown = new ArrayList<>();
        for (StoredAttribute attribute : attributes) {
            shown.add(attribute.shown(now(attribute, object)));
        }
        return shown.size() == 1 ? shown.get(0) : shown;
    }
}
