package io.bathra.json;

import io.bathra.error.BathraException;
import io.bathra.form.EndField;
import io.bathra.form.FormField;
import io.bathra.form.GroupField;
import io.bathra.form.LinkField;
import io.bathra.form.PartsField;
import io.bathra.form.ValueField;
import io.bathra.json.ShapePlan.Item;
import io.bathra.json.format.JsonSink;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Writes entities as their shapes say. Reads nothing from a database. */
final class EntityWriter {
    private final JsonSink sink;

    EntityWriter(JsonSink sink) {
        this.sink = sink;
    }

    void entity(ShapePlan<?> plan, Object entity) {
        if (!plan.form().type().isInstance(entity)) {
            throw new BathraException("an object of " + entity.getClass().getName() + " is no " + plan.form()
                    + ", of which the shape is; write it in one of its own");
        }
        sink.beginObject();
        for (Item item : plan.written()) {
            sink.name(item.name());
            item(plan, item, entity);
        }
        sink.endObject();
    }

    private void item(ShapePlan<?> plan, Item item, Object entity) {
        ShapePlan<?> nested = item.nested();
        if (nested == null) {
            field(plan, item.field(), entity);
        } else if (item.field() instanceof LinkField link) {
            refuseUnread(plan, item.field(), link.isRead(entity));
            one(nested, link.target(entity));
        } else {
            EndField end = (EndField) item.field();
            refuseUnread(plan, item.field(), end.isRead(entity));
            List<Object> there = end.in(entity);
            if (end.isToMany()) {
                sink.beginList();
                for (Object element : there) {
                    entity(nested, element);
                }
                sink.endList();
            } else {
                one(nested, there.isEmpty() ? null : there.get(0));
            }
        }
    }

    private void one(ShapePlan<?> nested, @Nullable Object target) {
        if (target == null) {
            sink.nothing();
        } else {
            entity(nested, target);
        }
    }

    private static void refuseUnread(ShapePlan<?> plan, FormField field, boolean read) {
        if (!read) {
            throw new BathraException(plan.form() + "." + field.name()
                    + " is asked for by the shape, but was not read, and to write JSON reads nothing; read it up front"
                    + (field instanceof ValueField
                            ? ", by visiting it in the unit of work"
                            : " with .alongWith(" + field + ")"));
        }
    }

    private void field(ShapePlan<?> plan, FormField field, Object owner) {
        if (field instanceof ValueField value) {
            if (!value.isWithRow()) {
                refuseUnread(plan, field, value.isRead(owner));
            }
            value(value, owner);
        } else {
            content(field, owner);
        }
    }

    private void content(FormField field, Object owner) {
        if (field instanceof ValueField value) {
            value(value, owner);
        } else if (field instanceof GroupField group) {
            group(group, owner);
        } else if (field instanceof LinkField link) {
            Object key = link.in(owner);
            if (key == null) {
                sink.nothing();
            } else {
                content(link.key(), key);
            }
        } else {
            parts((PartsField) field, owner);
        }
    }

    private void group(GroupField group, Object owner) {
        Object content = group.in(owner);
        if (content == null) {
            sink.nothing();
            return;
        }
        sink.beginObject();
        for (FormField member : group.members()) {
            if (!member.isSecret()) {
                sink.name(member.name());
                content(member, content);
            }
        }
        sink.endObject();
    }

    private void parts(PartsField field, Object owner) {
        ValueField key = field.key();
        if (key == null) {
            sink.beginList();
        } else {
            sink.beginObject();
        }
        for (Object row : field.in(owner)) {
            if (key != null) {
                Object name = key.in(row);
                sink.name(name == null ? "" : key.text(name));
            }
            if (field.isThere(row)) {
                content(field.element(), row);
            } else {
                sink.nothing();
            }
        }
        if (key == null) {
            sink.endList();
        } else {
            sink.endObject();
        }
    }

    private void value(ValueField field, Object owner) {
        Object value = field.in(owner);
        if (value == null) {
            sink.nothing();
            return;
        }
        switch (field.sort()) {
            case TRUTH -> sink.truth((Boolean) value);
            case NUMBER -> number(field, value);
            case JSON -> sink.json((String) value);
            case TEXT -> sink.text(value instanceof String text ? text : field.text(value));
        }
    }

    private void number(ValueField field, Object value) {
        if (value instanceof Long || value instanceof Integer || value instanceof Short || value instanceof Byte) {
            sink.whole(((Number) value).longValue());
            return;
        }
        boolean finite =
                !(value instanceof Double || value instanceof Float) || Double.isFinite(((Number) value).doubleValue());
        if (!finite) {
            throw new BathraException(field + " is " + value + ", which JSON has no number for; set another one");
        }
        sink.number(field.text(value));
    }
}
