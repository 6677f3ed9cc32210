package io.bathra.form;

import io.bathra.mapping.Attribute;
import io.bathra.mapping.ColumnAttribute;
import io.bathra.mapping.LinkAttribute;
import io.bathra.mapping.ModelEntity;
import io.bathra.mapping.PartsAttribute;
import io.bathra.mapping.Shape;
import io.bathra.mapping.StoredAttribute;
import io.bathra.mapping.StoredColumn;
import java.lang.reflect.Field;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Makes the fields of an entity out of its attributes. */
final class Fields {
    private final ModelEntity<?> entity;

    Fields(ModelEntity<?> entity) {
        this.entity = entity;
    }

    /** The model puts keys first; people think of a class as it is written. */
    List<Attribute> inOrderOfTheClass() {
        List<Class<?>> lineage = new ArrayList<>();
        for (Class<?> c = entity.type(); c != null && c != Object.class; c = c.getSuperclass()) {
            lineage.add(0, c);
        }
        Set<Attribute> ordered = new LinkedHashSet<>();
        for (Class<?> c : lineage) {
            for (Field field : c.getDeclaredFields()) {
                entity.attributeIfAny(field.getName()).ifPresent(ordered::add);
            }
        }
        ordered.addAll(entity.attributes());
        return List.copyOf(ordered);
    }

    FormField field(Attribute attribute) {
        boolean settable = !entity.isView();
        if (attribute instanceof ColumnAttribute column) {
            return column(column, settable && isSetByPrograms(column));
        } else if (attribute instanceof LinkAttribute link) {
            return link(link, settable);
        } else if (attribute instanceof PartsAttribute parts) {
            return parts(parts, settable);
        }
        return new EndField(attribute, settable);
    }

    private boolean isSetByPrograms(ColumnAttribute column) {
        boolean drawn = column.isKey() && entity.keySource().isDrawn();
        boolean stamp =
                entity.insertStamps().contains(column) || entity.updateStamps().contains(column);
        return !drawn && !stamp && !column.isManaged();
    }

    private static FormField column(ColumnAttribute column, boolean settable) {
        Shape shape = column.shape();
        if (column.isOneValue()) {
            return new ValueField(
                    column.name(),
                    column.columns().get(0).gate(),
                    column::get,
                    settable,
                    column.isLater() ? column : null);
        } else if (column.isInline()) {
            List<FormField> members = members(column, List.of());
            return new GroupField(
                    column.name(),
                    members,
                    owner -> parts(column, owner),
                    values -> shape.kept(flat(members, values)),
                    settable);
        }
        List<FormField> components = new ArrayList<>();
        for (StoredColumn one : column.columns()) {
            components.add(new ValueField(one.path(), one.gate(), value -> shape.part(value, one.part()), true, null));
        }
        return new GroupField(
                column.name(), components, column::get, values -> shape.kept(shape.assemble(values)), settable);
    }

    private static @Nullable Members parts(ColumnAttribute column, Object owner) {
        Object parts = column.get(owner);
        return parts == null ? null : new Members((List<?>) parts, owner);
    }

    // ---- inlined values

    /** The fields in an inlined value: its columns by the first steps of their ways, and the links of a part. */
    private static List<FormField> members(ColumnAttribute column, List<LinkAttribute> links) {
        List<FormField> members = new ArrayList<>(inside(column.columns(), 0));
        links.forEach(link -> members.add(link(link, true)));
        return members;
    }

    private static List<FormField> inside(List<StoredColumn> columns, int from) {
        Map<String, List<StoredColumn>> byStep = new LinkedHashMap<>();
        for (StoredColumn column : columns) {
            int end = column.path().indexOf('.', from);
            String step =
                    end < 0 ? column.path().substring(from) : column.path().substring(from, end);
            byStep.computeIfAbsent(step, s -> new ArrayList<>()).add(column);
        }
        List<FormField> fields = new ArrayList<>();
        byStep.forEach((step, own) -> fields.add(
                own.get(0).path().length() == from + step.length()
                        ? member(step, own.get(0))
                        : nested(step, own, from + step.length() + 1)));
        return fields;
    }

    private static ValueField member(String name, StoredColumn column) {
        return new ValueField(
                name, column.gate(), owner -> ((Members) owner).parts().get(column.part()), true, null);
    }

    private static GroupField nested(String name, List<StoredColumn> columns, int from) {
        List<FormField> members = inside(columns, from);
        return new GroupField(
                name,
                members,
                owner -> columns.stream()
                                .allMatch(column -> ((Members) owner).parts().get(column.part()) == null)
                        ? null
                        : owner,
                values -> new Nested(flat(members, values)),
                true);
    }

    /** The parts of a value inside of a value, until that is made. */
    private record Nested(List<@Nullable Object> parts) {}

    /** What the columns keep of the values of members; a value that is missing leaves all of its columns empty. */
    private static List<@Nullable Object> flat(List<FormField> members, List<@Nullable Object> values) {
        List<@Nullable Object> flat = new ArrayList<>();
        for (int i = 0; i < members.size(); i++) {
            if (values.get(i) instanceof Nested nested) {
                flat.addAll(nested.parts());
            } else if (members.get(i) instanceof GroupField group) {
                flat.addAll(flat(
                        group.members(), Collections.nCopies(group.members().size(), null)));
            } else if (members.get(i) instanceof ValueField) {
                flat.add(values.get(i));
            }
        }
        return flat;
    }

    // ---- links and their keys

    private static LinkField link(LinkAttribute link, boolean settable) {
        return new LinkField(link, key(link.target(), link.name(), key -> key), settable);
    }

    /**
     * The key of an entity.
     *
     * @param reader takes the key out of what it is a part of
     */
    private static FormField key(ModelEntity<?> target, String name, Function<Object, @Nullable Object> reader) {
        List<StoredAttribute> attributes = target.keyAttributes();
        if (attributes.size() == 1) {
            return keyPart(attributes.get(0), name, reader);
        }
        List<FormField> members = new ArrayList<>();
        for (int i = 0; i < attributes.size(); i++) {
            int index = i;
            members.add(keyPart(attributes.get(i), attributes.get(i).name(), key -> ((List<?>) key).get(index)));
        }
        return new GroupField(name, members, reader, Fields::tuple, true);
    }

    private static @Nullable Object tuple(List<@Nullable Object> values) {
        return values.stream().anyMatch(Objects::isNull) ? null : Collections.unmodifiableList(new ArrayList<>(values));
    }

    private static FormField keyPart(
            StoredAttribute attribute, String name, Function<Object, @Nullable Object> reader) {
        if (attribute instanceof LinkAttribute link) {
            return key(link.target(), name, reader);
        }
        Shape shape = attribute.shape();
        if (attribute.isOneValue()) {
            return new ValueField(name, attribute.columns().get(0).gate(), reader, true, null);
        }
        List<FormField> members = new ArrayList<>();
        for (StoredColumn column : attribute.columns()) {
            members.add(
                    new ValueField(column.path(), column.gate(), key -> shape.part(key, column.part()), true, null));
        }
        return new GroupField(name, members, reader, values -> shape.kept(shape.assemble(values)), true);
    }

    // ---- parts

    private static PartsField parts(PartsAttribute attribute, boolean settable) {
        PartsAttribute.Parts parts = attribute.parts();
        ColumnAttribute key = parts.key();
        ColumnAttribute element = parts.element();
        List<LinkAttribute> links = parts.memberLinks();
        FormField field = column(element, true);
        if (element.isInline()) {
            List<FormField> members = members(element, links);
            field = new GroupField(
                    "", members, row -> parts(element, row), values -> part(element, members, values), true);
        }
        return new PartsField(attribute, key == null ? null : (ValueField) column(key, true), field, settable);
    }

    private static PartValue part(ColumnAttribute element, List<FormField> members, List<@Nullable Object> values) {
        Map<LinkAttribute, @Nullable Object> keys = new LinkedHashMap<>();
        for (int i = 0; i < members.size(); i++) {
            if (members.get(i) instanceof LinkField link) {
                keys.put(link.attribute(), values.get(i));
            }
        }
        Shape shape = element.shape();
        return new PartValue(shape.kept(flat(members, values)), keys);
    }
}
