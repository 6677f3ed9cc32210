package io.bathra.model;

import io.bathra.attr.Accessor;
import io.bathra.model.Entity.ColumnLine;
import io.bathra.model.Entity.KeyLine;
import io.bathra.model.Entity.Line;
import io.bathra.model.Entity.LinkLine;
import io.bathra.model.Entity.LinksLine;
import java.lang.invoke.MethodHandles.Lookup;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Makes one entity of a model from its declaration and its fields, and reports what does not fit. */
final class EntityAssembly<E> {
    private static final Set<ColumnType.Kind> KEY_KINDS = Set.of(
            ColumnType.Kind.SHORT,
            ColumnType.Kind.INTEGER,
            ColumnType.Kind.LONG,
            ColumnType.Kind.STRING,
            ColumnType.Kind.ENUM,
            ColumnType.Kind.DATE,
            ColumnType.Kind.UUID);

    private final Entity<E> declaration;
    private final ModelEntity<E> entity;
    private final @Nullable Lookup lookup;
    private final List<String> faults;
    private final Map<String, PersistentField> fields = new LinkedHashMap<>();
    private final Map<String, Line> lines = new LinkedHashMap<>();
    private final Map<String, String> columns = new HashMap<>();

    EntityAssembly(Entity<E> declaration, ModelEntity<E> entity, @Nullable Lookup lookup, List<String> faults) {
        this.declaration = declaration;
        this.entity = entity;
        this.lookup = lookup;
        this.faults = faults;
    }

    void buildAttributes() {
        if (declaration.type().isRecord()
                || declaration.type().isInterface()
                || declaration.type().isEnum()) {
            fault("is not a class with fields that can be written; an entity is a plain class");
            return;
        }
        collectFields();
        collectLines();
        PersistentField key = findKey();
        if (key == null) {
            return;
        }
        List<PersistentField> ordered = new ArrayList<>(fields.values());
        ordered.remove(key);
        ordered.add(0, key);
        List<Attribute> attributes = new ArrayList<>();
        KeySource source = KeySource.ASSIGNED;
        int slot = 0;
        for (PersistentField field : ordered) {
            FieldAccess access = open(field);
            if (access == null || field.isLinks()) {
                continue;
            }
            StoredAttribute attribute = field == key
                    ? key(field, access)
                    : field.isLink() ? link(field, access, slot) : column(field, access, slot);
            if (attribute != null) {
                claimColumn(attribute);
                attributes.add(attribute);
                slot++;
            }
            if (field == key && attribute != null) {
                source = keySource(field, attribute.type());
            }
        }
        if (attributes.isEmpty() || !attributes.get(0).name().equals(key.name())) {
            return; // the fault of the key is reported already
        }
        for (PersistentField field : ordered) {
            FieldAccess access = field.isLinks() ? open(field) : null;
            if (access != null) {
                attributes.add(new LinksAttribute(entity, field.name(), access, slot++));
            }
        }
        entity.complete(source, attributes);
    }

    private void collectFields() {
        for (PersistentField field : PersistentField.of(declaration.type())) {
            if (fields.putIfAbsent(field.name(), field) != null) {
                fault(
                        field.name(),
                        "is a field of the class and of a superclass too; rename one, or make it transient");
            }
            if (field.isHolder() && !field.isFinal()) {
                fault(
                        field.name(),
                        "holds an association, so it must be final: `private final "
                                + field.type().getSimpleName() + "<...> " + field.name() + " = "
                                + field.type().getSimpleName() + ".empty();`");
            } else if (!field.isHolder() && field.isFinal()) {
                fault(
                        field.name(),
                        "is final, but is written when a row is read; remove `final`, or make it transient");
            }
        }
    }

    private void collectLines() {
        for (Line line : declaration.lines()) {
            PersistentField field = field(line.accessor());
            if (field == null) {
                fault(
                        line.accessor().method() + "()",
                        "is no accessor of a persistent field; name the field '"
                                + line.accessor().beanProperty() + "' like it, or declare the accessor of a field: "
                                + fields.keySet());
                continue;
            }
            if (lines.putIfAbsent(field.name(), line) != null) {
                fault(field.name(), "is declared twice; put all its options into one call");
            }
            if (field.isHolder() && (line instanceof KeyLine || line instanceof ColumnLine)) {
                String word = field.isLink() ? ".link(...)" : ".links(..., other end)";
                fault(field.name(), "holds an association, so declare it with " + word);
            }
        }
        for (PersistentField field : fields.values()) {
            if (field.isLinks() && !(lines.get(field.name()) instanceof LinksLine)) {
                fault(
                        field.name(),
                        "needs its other end; declare .links(" + entity.name() + "::" + field.name() + ", "
                                + (field.element() == null
                                        ? "Other"
                                        : field.element().getSimpleName()) + "::...)");
            }
        }
    }

    private @Nullable PersistentField field(Accessor accessor) {
        PersistentField exact = fields.get(accessor.property());
        return exact != null ? exact : fields.get(accessor.beanProperty());
    }

    private @Nullable PersistentField findKey() {
        List<PersistentField> keys = lines.entrySet().stream()
                .filter(line -> line.getValue() instanceof KeyLine)
                .map(line -> fields.get(line.getKey()))
                .toList();
        if (keys.size() > 1) {
            fault("has several keys: "
                    + keys.stream().map(PersistentField::name).toList() + "; declare one");
            return null;
        }
        PersistentField key = keys.isEmpty() ? fields.get("id") : keys.get(0);
        if (key == null || key.isHolder()) {
            fault("has no key; declare one with .key(" + entity.name() + "::...), or add a field `Long id`");
            return null;
        }
        return key;
    }

    private @Nullable FieldAccess open(PersistentField field) {
        try {
            return FieldAccess.to(field.field(), lookup);
        } catch (IllegalAccessException e) {
            fault(field.name(), "cannot be reached: " + e.getMessage());
            return null;
        }
    }

    private @Nullable ColumnAttribute key(PersistentField field, FieldAccess access) {
        Optional<ColumnType> type = ColumnType.of(field.type());
        if (type.isEmpty() || !KEY_KINDS.contains(type.get().kind())) {
            fault(
                    field.name(),
                    "cannot be a key, since it is a " + field.type().getSimpleName()
                            + "; take a whole number, a String, an enum, a LocalDate or a UUID");
            return null;
        }
        List<KeyOption> options = lines.get(field.name()) instanceof KeyLine line ? line.options() : List.of();
        return new ColumnAttribute(
                entity,
                field.name(),
                access,
                0,
                columnName(field.name(), options),
                true,
                true,
                type.get(),
                field.type().isPrimitive());
    }

    private KeySource keySource(PersistentField field, ColumnType type) {
        boolean drawable = type.kind() == ColumnType.Kind.LONG || type.kind() == ColumnType.Kind.INTEGER;
        if (lines.get(field.name()) instanceof KeyLine line) {
            for (KeyOption option : line.options()) {
                if (option instanceof Options.Source declared) {
                    if (declared.source() == KeySource.GENERATED && !drawable) {
                        fault(
                                field.name(),
                                "is a " + field.type().getSimpleName()
                                        + ", which the database cannot draw; make it a Long, or declare it assigned()");
                    }
                    return declared.source();
                }
            }
        }
        return drawable ? KeySource.GENERATED : KeySource.ASSIGNED;
    }

    private @Nullable ColumnAttribute column(PersistentField field, FieldAccess access, int slot) {
        Optional<ColumnType> found = ColumnType.of(field.type());
        if (found.isEmpty()) {
            fault(
                    field.name(),
                    "is a " + field.type().getSimpleName() + ", for which there is no column type;"
                            + " make it a number, text, enum, date or time, UUID or byte[], or mark the field transient");
            return null;
        }
        ColumnType type = found.get();
        List<ColumnOption> options = lines.get(field.name()) instanceof ColumnLine line ? line.options() : List.of();
        for (ColumnOption option : options) {
            if (option instanceof Options.Length length) {
                if (type.kind() != ColumnType.Kind.STRING) {
                    fault(
                            field.name(),
                            "is a " + field.type().getSimpleName() + ", so length(" + length.length()
                                    + ") has no meaning; only texts have a length");
                }
                type = type.withLength(length.length());
            } else if (option instanceof Options.Digits digits) {
                if (type.kind() != ColumnType.Kind.DECIMAL) {
                    fault(
                            field.name(),
                            "is a " + field.type().getSimpleName()
                                    + ", so digits(...) has no meaning; only a BigDecimal has digits");
                }
                type = type.withDigits(digits.precision(), digits.scale());
            }
        }
        return new ColumnAttribute(
                entity,
                field.name(),
                access,
                slot,
                columnName(field.name(), options),
                field.type().isPrimitive() || has(options, Options.Required.class),
                has(options, Options.Unique.class),
                type,
                field.type().isPrimitive());
    }

    private LinkAttribute link(PersistentField field, FieldAccess access, int slot) {
        List<LinkOption> options = lines.get(field.name()) instanceof LinkLine line ? line.options() : List.of();
        return new LinkAttribute(
                entity,
                field.name(),
                access,
                slot,
                columnName(field.name() + "_id", options),
                has(options, Options.Required.class),
                has(options, Options.Unique.class));
    }

    private static boolean has(List<?> options, Class<?> kind) {
        return options.stream().anyMatch(kind::isInstance);
    }

    private static String columnName(String field, List<?> options) {
        return options.stream()
                .filter(Options.Name.class::isInstance)
                .map(option -> ((Options.Name) option).column())
                .findFirst()
                .orElseGet(() -> Naming.snakeCase(field));
    }

    private void claimColumn(StoredAttribute attribute) {
        String other = columns.putIfAbsent(attribute.column().toLowerCase(Locale.ROOT), attribute.name());
        if (other != null) {
            fault(
                    attribute.name(),
                    "has the column '" + attribute.column() + "', which '" + other
                            + "' has too; give one of them another with name(...)");
        }
    }

    /** Gives each link its target. */
    void connectLinks(Map<Class<?>, ModelEntity<?>> entities) {
        for (LinkAttribute link : entity.links()) {
            Class<?> target = fields.get(link.name()).element();
            ModelEntity<?> found = target == null ? null : entities.get(target);
            if (found == null || found.stored().isEmpty()) {
                if (found == null) {
                    fault(
                            link.name(),
                            "leads to " + (target == null ? "an unknown class" : target.getSimpleName())
                                    + ", which is not in this model; name its declaration in Model.of");
                }
                continue;
            }
            link.connect(found);
        }
    }

    /** Gives each to-many association the link at its other end. */
    void connectToManys(Map<Class<?>, ModelEntity<?>> entities) {
        for (LinksAttribute many : entity.toManys()) {
            if (!(lines.get(many.name()) instanceof LinksLine line)) {
                continue; // reported with the fields
            }
            Class<?> element = fields.get(many.name()).element();
            ModelEntity<?> other = element == null ? null : entities.get(element);
            if (other == null) {
                fault(
                        many.name(),
                        "leads to " + (element == null ? "an unknown class" : element.getSimpleName())
                                + ", which is not in this model; name its declaration in Model.of");
                continue;
            }
            Optional<LinkAttribute> end = other.links().stream()
                    .filter(link -> link.name().equals(line.otherEnd().property())
                            || link.name().equals(line.otherEnd().beanProperty()))
                    .findFirst();
            if (end.isEmpty()) {
                fault(
                        many.name(),
                        "names " + line.otherEnd() + " as its other end, but " + other.name()
                                + " has no such link; it has "
                                + other.links().stream().map(Attribute::name).toList());
            } else if (end.get().otherEnd() != null) {
                fault(
                        many.name(),
                        "names " + line.otherEnd() + " as its other end, which is that of "
                                + end.get().otherEnd() + " already; a link has one other side");
            } else {
                end.get().connect(many);
                many.connect(end.get());
            }
        }
    }

    /** An object is made once, so that a constructor that fails or leaves a holder null is found now. */
    void tryConstructor() {
        try {
            E object = entity.instantiate();
            if (object.getClass() != entity.type()) {
                fault("its constructor makes a " + object.getClass().getName() + "; give the one of this very class");
                return;
            }
            entity.links().forEach(link -> link.holder(object));
            entity.toManys().forEach(many -> many.holder(object));
        } catch (RuntimeException e) {
            fault("its constructor cannot make an empty object (" + e + "); give one that needs nothing");
        }
    }

    private void fault(String attribute, String text) {
        faults.add(entity.name() + "." + attribute + ": " + text);
    }

    private void fault(String text) {
        faults.add(entity.name() + ": " + text);
    }
}
