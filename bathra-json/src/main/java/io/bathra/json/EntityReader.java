package io.bathra.json;

import io.bathra.error.BathraException;
import io.bathra.error.Flaw;
import io.bathra.error.Flaw.Code;
import io.bathra.error.Problem;
import io.bathra.form.EndField;
import io.bathra.form.EntityForm;
import io.bathra.form.Filling;
import io.bathra.form.FormField;
import io.bathra.form.LinkField;
import io.bathra.form.PartsField;
import io.bathra.form.ValueField;
import io.bathra.json.ShapePlan.Item;
import io.bathra.json.format.JsonSource;
import io.bathra.json.format.JsonSource.Token;
import io.bathra.json.format.MalformedJson;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Takes entities out of a text, as their shapes let them be taken, and tells everything that is wrong with it. */
final class EntityReader {
    /** What the path of a problem is where it is about the text as a whole. */
    private static final String WHOLE = "*";

    private final JsonSource source;
    private final ValueReader values;

    /** Whether what is there already is to be changed, so that what the text does not name stays. */
    private final boolean patch;

    EntityReader(JsonSource source, boolean patch) {
        this.source = source;
        this.values = new ValueReader(source, patch);
        this.patch = patch;
    }

    /** Sets what a text gives in an entity, or nothing where anything is wrong. */
    List<Problem> into(ShapePlan<?> plan, Object entity) {
        Filling filling = plan.open().filling();
        if (whole(plan, filling, entity)) {
            filling.look(entity, patch);
            if (filling.problems().isEmpty()) {
                filling.set(entity);
            }
        }
        return filling.problems();
    }

    /** Whether the text could be read to its end. */
    private boolean whole(ShapePlan<?> plan, Filling filling, Object entity) {
        try {
            Token first = source.next();
            if (first == Token.OBJECT) {
                object(plan, filling, entity);
            } else {
                filling.flaw(null, WHOLE, values.shown(first), ValueReader.OBJECT_WANTED);
                values.skip(first);
            }
            if (source.next() != Token.END) {
                filling.flaw(
                        null,
                        WHOLE,
                        null,
                        Flaw.of(
                                Code.UNREADABLE,
                                "goes on behind its end, at " + source.place() + "; give one value",
                                "json"));
            }
            return true;
        } catch (MalformedJson e) {
            filling.flaw(
                    null, WHOLE, null, Flaw.of(Code.UNREADABLE, "cannot be read as JSON: " + e.getMessage(), "json"));
        } catch (TooManyProblems e) {
            filling.flaw(null, WHOLE, null, Flaw.other("has more problems than these; mend them first"));
        }
        return false;
    }

    private void object(ShapePlan<?> plan, Filling filling, Object entity) {
        boolean[] seen = new boolean[plan.size()];
        while (source.next() == Token.NAME) {
            TooManyProblems.check(filling);
            String name = source.text();
            Item item = plan.taken(name);
            Token token = source.next();
            if (item == null) {
                filling.flaw(null, ValueReader.label(name), values.shown(token), notTaken(plan.form(), name));
                values.skip(token);
            } else if (seen[item.index()]) {
                filling.flaw(item.field(), name, values.shown(token), ValueReader.GIVEN_TWICE);
                values.skip(token);
            } else {
                seen[item.index()] = true;
                item(item, token, filling, entity);
            }
        }
    }

    private static Flaw notTaken(EntityForm<?> form, String name) {
        FormField field = form.field(name);
        if (field == null) {
            return Flaw.of(Code.UNKNOWN_NAME, "is no attribute of " + form + "; leave it out, or mend the name");
        }
        return Flaw.of(
                Code.NOT_TO_BE_SET,
                field.isSettable()
                        ? "is not among what the shape lets be set; leave it out"
                        : "is set by the database or the library, and by nobody else; leave it out");
    }

    private void item(Item item, Token token, Filling filling, Object entity) {
        ShapePlan<?> nested = item.nested();
        FormField field = item.field();
        if (field instanceof PartsField parts) {
            parts(parts, token, filling);
        } else if (nested == null) {
            Object value = values.read(field, token, entity, field.name(), filling, field);
            filling.value(field, value);
        } else if (field instanceof LinkField link) {
            if (token == Token.OBJECT) {
                Object there = patch ? target(link, entity) : null;
                Object target = there == null ? nested.form().make() : there;
                filling.leads(link, entity, inside(nested, filling, link.name(), target, there != null), target);
            } else {
                Object key = values.read(link, token, entity, link.name(), filling, link);
                filling.value(link, key);
            }
        } else {
            end((EndField) field, nested, token, filling, entity);
        }
    }

    /** What a patch finds behind a link. */
    private static @Nullable Object target(LinkField link, Object entity) {
        if (!link.isRead(entity)) {
            throw new BathraException(link + " is to be patched inside, but was not read; read it up front with"
                    + " .alongWith(" + link + ")");
        }
        return link.target(entity);
    }

    /** An entity inside of another one. */
    private Filling inside(ShapePlan<?> nested, Filling around, String step, Object target, boolean isStored) {
        Filling inside = around.inside(step, nested.open());
        object(nested, inside, target);
        inside.look(target, isStored);
        return inside;
    }

    private void end(EndField end, ShapePlan<?> nested, Token token, Filling filling, Object entity) {
        if (patch) {
            filling.flaw(
                    end,
                    end.name(),
                    values.shown(token),
                    Flaw.of(
                            Code.NOT_TO_BE_SET,
                            "is held by other entities, which a patch of this one does not replace; change them"));
            values.skip(token);
        } else if (token != (end.isToMany() ? Token.LIST : Token.OBJECT)) {
            if (token != Token.NOTHING || end.isToMany()) {
                filling.flaw(
                        end,
                        end.name(),
                        values.shown(token),
                        end.isToMany() ? ValueReader.LIST_WANTED : ValueReader.OBJECT_WANTED);
            }
            values.skip(token);
        } else if (end.isToMany()) {
            elements(end, nested, filling, entity);
        } else {
            Object target = nested.form().make();
            filling.leads(end, entity, inside(nested, filling, end.name(), target, false), target);
        }
    }

    private void elements(EndField end, ShapePlan<?> nested, Filling filling, Object entity) {
        int index = 0;
        for (Token token = source.next(); token != Token.END_OF_LIST; token = source.next()) {
            TooManyProblems.check(filling);
            String step = end.name() + "[" + index++ + "]";
            if (token == Token.OBJECT) {
                Object target = nested.form().make();
                filling.leads(end, entity, inside(nested, filling, step, target, false), target);
            } else {
                filling.flaw(end, step, values.shown(token), ValueReader.OBJECT_WANTED);
                values.skip(token);
            }
        }
    }

    private void parts(PartsField field, Token token, Filling filling) {
        boolean map = field.key() != null;
        if (token == Token.NOTHING) {
            filling.parts(field, List.of(), List.of());
            return;
        } else if (token != (map ? Token.OBJECT : Token.LIST)) {
            filling.flaw(
                    field,
                    field.name(),
                    values.shown(token),
                    map ? ValueReader.OBJECT_WANTED : ValueReader.LIST_WANTED);
            values.skip(token);
            return;
        }
        List<@Nullable Object> keys = new ArrayList<>();
        List<@Nullable Object> elements = new ArrayList<>();
        int before = filling.problems().size();
        for (Token next = source.next(); next != Token.END_OF_LIST && next != Token.END_OF_OBJECT; ) {
            TooManyProblems.check(filling);
            String label = field.name() + "[" + elements.size() + "]";
            if (map) {
                label = key(field, source.text(), keys, filling);
                next = source.next();
            }
            Object element =
                    next == Token.NOTHING ? null : values.read(field.element(), next, null, label, filling, field);
            if (next == Token.NOTHING) {
                filling.flaw(field, label, null, ValueReader.MISSING);
            }
            elements.add(element);
            next = source.next();
        }
        if (filling.problems().size() == before) {
            filling.parts(field, keys, elements);
        }
    }

    /** Takes the key of a map's entry; gives the path to its value. */
    private static String key(PartsField field, String name, List<@Nullable Object> keys, Filling filling) {
        String label = field.name() + "[" + ValueReader.label(name) + "]";
        ValueField ofKeys = field.key();
        Object key = ofKeys == null ? null : ofKeys.value(name);
        if (ofKeys != null && key == null) {
            filling.flaw(field, label, ValueReader.label(name), ofKeys.flaw(name));
        } else if (key != null && keys.contains(key)) {
            filling.flaw(field, label, null, ValueReader.GIVEN_TWICE);
        }
        keys.add(key);
        return label;
    }
}
