package io.bathra.cli.session;

import io.bathra.error.BathraException;
import io.bathra.form.EndField;
import io.bathra.form.EntityForm;
import io.bathra.form.FormField;
import io.bathra.form.GroupField;
import io.bathra.form.LinkField;
import io.bathra.form.PartsField;
import io.bathra.form.ValueField;
import io.bathra.model.EntityOutline;
import io.bathra.model.Model;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** How the objects of one entity look. Looking at them reads nothing, and calls no method of theirs but accessors. */
final class EntityFace {
    private static final String SECRET = "***";

    private final EntityOutline outline;
    private final EntityForm<?> form;
    private final List<Column> columns = new ArrayList<>();
    private final List<EndField> ends = new ArrayList<>();

    private interface Look {
        String of(Object owner);
    }

    private record Column(String head, Look look) {}

    EntityFace(Model model, EntityOutline outline) {
        this.outline = outline;
        form = EntityForm.of(model, outline.type());
        form.fields().forEach(field -> column(field, owner -> owner, ""));
    }

    private interface Way {
        @Nullable
        Object from(Object entity);
    }

    private void column(FormField field, Way way, String before) {
        String head = before + field.name();
        if (field instanceof GroupField group) {
            Way inside = entity -> {
                Object owner = way.from(entity);
                return owner == null ? null : group.in(owner);
            };
            group.members().forEach(member -> column(member, inside, head + "."));
        } else if (field instanceof EndField end) {
            ends.add(end);
        } else {
            columns.add(new Column(head, entity -> {
                Object owner = way.from(entity);
                return owner == null ? Face.NONE : look(field, owner);
            }));
        }
    }

    private static String look(FormField field, Object owner) {
        if (field instanceof ValueField value) {
            if (!value.isRead(owner)) {
                return "(not read)";
            }
            return text(value, owner);
        } else if (field instanceof LinkField link) {
            return key(link, owner);
        }
        PartsField parts = (PartsField) field;
        return "[" + parts.in(owner).size() + "]";
    }

    private static String text(ValueField field, Object owner) {
        Object value;
        try {
            value = field.in(owner);
        } catch (BathraException e) {
            return "(" + e.getMessage() + ")";
        }
        return value == null ? Face.NONE : field.isSecret() ? SECRET : field.text(value);
    }

    private static String key(LinkField link, Object owner) {
        Object holder;
        try {
            holder = link.in(owner);
        } catch (BathraException e) {
            return "#new";
        }
        if (holder == null) {
            return Face.NONE;
        }
        return link.isSecret() ? SECRET : "#" + key(link.key(), holder);
    }

    /** A key of one value or several; the holder is what the link gives. */
    private static String key(FormField field, Object holder) {
        if (field instanceof GroupField group) {
            List<String> members = new ArrayList<>();
            for (FormField member : group.members()) {
                Object inside = Objects.requireNonNullElse(group.in(holder), holder);
                members.add(key(member, inside));
            }
            return "(" + String.join(", ", members) + ")";
        } else if (field instanceof LinkField link) {
            return key(link, holder).substring(1);
        }
        Object value = ((ValueField) field).in(holder);
        return value == null ? Face.NONE : ((ValueField) field).text(value);
    }

    /** Heads for a table: what is inside of a value by its own name, where no other column has that. */
    List<String> heads() {
        return columns.stream().map(column -> shortest(column.head())).toList();
    }

    private String shortest(String head) {
        String last = head.substring(head.lastIndexOf('.') + 1);
        long same = columns.stream()
                .filter(one -> one.head().equals(last) || one.head().endsWith("." + last))
                .count();
        return same == 1 ? last : head;
    }

    List<String> cells(Object entity) {
        return columns.stream().map(column -> column.look().of(entity)).toList();
    }

    /** Name and key: {@code Vessel 7}. */
    String name(Object entity) {
        List<String> keys = new ArrayList<>();
        for (Column column : columns) {
            String head = column.head();
            int dot = head.indexOf('.');
            if (outline.key().contains(dot < 0 ? head : head.substring(0, dot))) {
                keys.add(column.look().of(entity));
            }
        }
        if (keys.isEmpty() || keys.contains(Face.NONE)) {
            return outline.name() + " (new)";
        }
        return outline.name() + " " + (keys.size() == 1 ? keys.get(0) : "(" + String.join(", ", keys) + ")");
    }

    /** Name and key, and all that is known below. */
    Printed whole(Object entity, int width) {
        List<String> heads = new ArrayList<>(columns.stream().map(Column::head).toList());
        List<String> cells = new ArrayList<>(cells(entity));
        for (EndField end : ends) {
            heads.add(end.name());
            cells.add(end(end, entity));
        }
        int wide = heads.stream().mapToInt(Cells::width).max().orElse(0);
        Printed printed = Printed.of(Printed.Look.HEAD, Cells.safe(name(entity)));
        for (int i = 0; i < heads.size(); i++) {
            String line = "  " + Cells.filled(heads.get(i), wide, false) + "  " + Cells.safe(cells.get(i));
            printed = printed.and(Printed.plain(Cells.cut(line, width)));
        }
        return printed;
    }

    private static String end(EndField end, Object entity) {
        if (!end.isRead(entity)) {
            return "(not read)";
        }
        int size = end.in(entity).size();
        return end.isToMany() ? "[" + size + "]" : size == 0 ? Face.NONE : "(read)";
    }

    @Override
    public String toString() {
        return outline.name();
    }
}
